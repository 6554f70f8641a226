"""The strip: the pieces of the selected sheets in reading order, by animation or row."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import replace
from operator import attrgetter

from PyQt6.QtCore import QRect, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.words import say
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.canvas.hatching import SMALL, draw_shape
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_nick
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.strip_cells import CELL_HEIGHT, Cell, CellGroup, StripCells
from rushweed.ui.soon import soon

MOST_AT_ONCE, PAUSE = 400, 150
"""So many pieces are laid out at once; with more the strip waits so many ms for a pause before it
follows an edit."""
HEIGHT = 104
TOP = 25
LARGEST = 300
X = attrgetter("x")


class Strip(QWidget):
    """Click selects, Ctrl adds, Shift extends, a title selects its group; the wheel moves along."""

    activated = pyqtSignal(int)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self.shows_shapes = False
        self._laid = self._next = StripCells((), CELL_HEIGHT)
        self._offset = 0
        self._anchor = 0
        self._hovered = -1
        self.setMinimumHeight(HEIGHT)
        self.setMaximumHeight(LARGEST)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(say("Strip of pieces"))
        self._soon = soon(self, PAUSE, self.refresh)
        self._further = QTimer(self)
        self._further.timeout.connect(self._lay_further)
        desk.changed.connect(self._change)
        desk.selected.connect(self._reselect)
        self.refresh()

    def refresh(self) -> None:
        """Lay the pieces out anew: as many as are seen now, the others little by little."""
        sheets = self._desk.selection.chosen(self._desk.project)
        self._next = StripCells(sheets, self._tall, ratio_of(self))
        self._further.start()
        self._lay_further()

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        self.refresh()

    def _lay_further(self) -> None:
        """Lay some more pieces out; they are shown once all is there that is in sight."""
        self._next.lay(MOST_AT_ONCE)
        if self._next.is_whole:
            self._further.stop()
        if self._next.is_whole or self._next.length >= self._offset + self.width():
            self._laid = self._next
            self._offset = max(0, min(self._offset, self._length - self.width()))
            self.update()

    @property
    def _cells(self) -> list[Cell]:
        return self._laid.cells

    @property
    def _length(self) -> int:
        return self._laid.length

    def rect_of(self, number: int) -> QRect:
        """Where a piece is shown now."""
        cell = self._cell_of(number)
        assert cell is not None
        return QRect(cell.x - self._offset, TOP, cell.width, self._tall)

    def _cell_of(self, number: int) -> Cell | None:
        """The cell of a piece, laid out now if it was not yet."""
        while not self._next.is_whole:
            self._lay_further()
        return next((cell for cell in self._cells if cell.piece.number == number), None)

    @property
    def _tall(self) -> int:
        """How high cells are."""
        return CELL_HEIGHT + max(0, self.height() - HEIGHT)

    def _change(self, before: Project, after: Project) -> None:
        if before.sheets is after.sheets:
            return
        if len(self._cells) > MOST_AT_ONCE:
            self._soon.start()
        else:
            self.refresh()

    def _reselect(self, before, after) -> None:  # type: ignore[no-untyped-def]
        if before.sheets != after.sheets:
            self._offset = 0
            self.refresh()
        if len(after.pieces) == 1:
            self._reveal(next(iter(after.pieces)))
        self.update()

    def _reveal(self, number: int) -> None:
        cell = self._cell_of(number)
        if cell is None:
            return
        if cell.x < self._offset or cell.x + cell.width > self._offset + self.width():
            self._offset = max(0, min(cell.x - 60, self._length - self.width()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.paper)
        painter.fillRect(0, 0, self.width(), 1, colours.strong_line)
        if not self._cells:
            self._paint_empty(painter)
        for group in self._seen(self._laid.groups):
            self._paint_group(painter, self._laid.groups[group])
        selected = self._desk.selection.pieces
        for place in self._seen(self._cells):
            cell = self._cells[place]
            x = cell.x - self._offset
            chosen = cell.piece.number in selected
            self._paint_cell(painter, cell, x, chosen, place == self._hovered)
        self._paint_bar(painter)
        if self.hasFocus():
            painter.setPen(QPen(colours.tide, 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.end()

    def _seen(self, parts: Sequence[Cell] | Sequence[CellGroup]) -> range:
        """The places of those cells or groups that are in sight."""
        first = bisect_right(parts, self._offset, key=X) - 1
        end = bisect_left(parts, self._offset + self.width(), key=X)
        return range(max(0, first), end)

    def _paint_empty(self, painter: QPainter) -> None:
        painter.setFont(font(BODY))
        painter.setPen(look.colours.soft_ink)
        text = say("No pieces yet. Cut the sheet, and its frames and tiles lie here.")
        if not self._desk.project.sheets:
            text = say("The pieces of your sheets will lie here.")
        painter.drawText(self.rect().adjusted(12, 0, -12, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_group(self, painter: QPainter, group: CellGroup) -> None:
        painter.setFont(font(BODY, 600))
        painter.setPen(look.colours.ink)
        x = group.x - self._offset
        painter.drawText(x, 19, group.title)
        width = painter.fontMetrics().horizontalAdvance(group.title)
        painter.setFont(font(CAPTION))
        painter.setPen(look.colours.soft_ink)
        painter.drawText(x + width + 5, 19, str(len(group.numbers)))

    def _paint_cell(
        self, painter: QPainter, cell: Cell, x: int, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        rect = QRectF(x, TOP, cell.width, self._tall)
        draw_checker(painter, rect, 6)
        image = self._images.piece(cell.sheet, cell.piece)
        width, height = image.width() * cell.factor, image.height() * cell.factor
        left, top = x + (cell.width - width) // 2, TOP + (self._tall - height) // 2
        painter.save()
        painter.setClipRect(rect)
        painter.drawImage(QRectF(left, top, width, height), image, QRectF(image.rect()))
        if self.shows_shapes:
            for shape in cell.piece.shapes or ():
                draw_shape(painter, shape, left, top, cell.factor, SMALL)
        painter.restore()
        if cell.piece.by_hand:
            draw_nick(painter, rect.right(), rect.top())
        if selected:
            draw_brackets(painter, rect.adjusted(0, 0, 0, 0), 8, colours.tide)
        elif hovered:
            painter.setPen(QPen(colours.soft_ink, 1))
            painter.drawRect(rect)
        painter.setFont(font(CAPTION, 600 if selected else 400))
        painter.setPen(colours.tide if selected else colours.soft_ink)
        number = QRectF(x - 6, TOP + self._tall + 2, cell.width + 12, 15)
        painter.drawText(number, Qt.AlignmentFlag.AlignCenter, str(cell.place + 1))

    def _paint_bar(self, painter: QPainter) -> None:
        if self._length <= self.width():
            return
        track = self.width() - 24
        top = self.height() - 7
        painter.fillRect(12, top, track, 4, look.colours.inner_line)
        share = self.width() / self._length
        start = self._offset / self._length
        painter.fillRect(
            12 + int(track * start), top, int(track * share), 4, look.colours.strong_line
        )

    def _at(self, x: float) -> int:
        place = x + self._offset
        at = bisect_right(self._cells, place, key=X) - 1
        return at if at >= 0 and place <= self._cells[at].x + self._cells[at].width else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.position().y() < TOP:
            self._pick_group(event)
            return
        at = self._at(event.position().x())
        if at < 0:
            return
        selection = self._desk.selection
        number = self._cells[at].piece.number
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            pieces = selection.pieces ^ {number}
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            low, high = sorted((self._anchor, at))
            pieces = frozenset(cell.piece.number for cell in self._cells[low : high + 1])
        else:
            pieces = frozenset({number})
        if not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._anchor = at
        self._desk.select(replace(selection, pieces=pieces))

    def _pick_group(self, event: QMouseEvent) -> None:
        """Select a whole row or animation by its title; Ctrl adds it."""
        place = event.position().x() + self._offset
        group = next((group for group in reversed(self._laid.groups) if group.x <= place), None)
        if group is not None and place < self._length:
            selection = self._desk.selection
            adds = event.modifiers() & Qt.KeyboardModifier.ControlModifier
            kept = selection.pieces if adds else frozenset()
            self._desk.select(replace(selection, pieces=kept | group.numbers))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = self._at(event.position().x())
        if at >= 0:
            self.activated.emit(self._cells[at].piece.number)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hovered = self._at(event.position().x())
        if hovered != self._hovered:
            self._hovered = hovered
            name = ""
            if hovered >= 0:
                cell = self._cells[hovered]
                name = f"{shown_name(cell.sheet, cell.piece)}, {cell.piece.rect.size} px"
            self.setToolTip(name)
            self.update()

    def leaveEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._hovered = -1
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        turned = event.angleDelta().x() or event.angleDelta().y()
        self._offset = max(0, min(self._offset - turned, self._length - self.width()))
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if event is not None and event.size().height() != event.oldSize().height():
            self.refresh()
        self._offset = max(0, min(self._offset, self._length - self.width()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if not step or not self._cells:
            super().keyPressEvent(event)
            return
        self._anchor = max(0, min(self._anchor + step, len(self._cells) - 1))
        number = self._cells[self._anchor].piece.number
        self._desk.select(replace(self._desk.selection, pieces=frozenset({number})))
