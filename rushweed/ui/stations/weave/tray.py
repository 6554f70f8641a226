"""The tray: what is cut of a tileset as it was drawn, to pick a tile or a block of tiles from."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Rect
from rushweed.core.weave.painting import Brush
from rushweed.core.words import say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_brackets, draw_checker
from rushweed.ui.canvas.scrolling import Notches
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.view import next_step
from rushweed.ui.look.colours import MARKS, look

SIZE = 284
PAD = 3
LEAST_TILE = 22
"""A tile is at least so many screen pixels wide at first; where not all fit then, one scrolls."""
LARGEST, LARGEST_AT_FIRST = 6.0, 4.0


class Tray(QWidget):
    """Tells `picked` with a brush; drag to pick a block. Ctrl and the wheel zoom."""

    picked = pyqtSignal(object)

    def __init__(self, images: Images) -> None:
        super().__init__()
        self._images = images
        self._sheet: Sheet | None = None
        self._numbers: frozenset[int] = frozenset()
        self._start: Piece | None = None
        self._area = Rect(0, 0, 1, 1)
        self._scale = 1.0
        self._notches = Notches()
        self.setFixedSize(SIZE, SIZE)
        self.setMouseTracking(True)
        self.setAccessibleName(say("Tray of tiles"))

    def show_sheet(self, sheet: Sheet | None, numbers: frozenset[int]) -> None:
        """Show a sheet, with the pieces of the brush in brackets."""
        before, self._sheet, self._numbers = self._sheet, sheet, numbers
        if sheet is not None and (before is None or before.name != sheet.name):
            self._area = _used(sheet)
            self._zoom_to(_first_scale(self._area, sheet, ratio_of(self)))
        elif sheet is not None and sheet is not before:
            self._area = _used(sheet)
            self._zoom_to(self._scale)
        self.update()

    def zoom(self, steps: int) -> None:
        """Show it larger, or smaller for a negative number."""
        whole = (SIZE - 2 * PAD) / max(self._area.width, 1)
        scale, ratio = self._scale, ratio_of(self)
        for _ in range(abs(steps)):
            scale = next_step(scale, steps, ratio)
        least, most = even_scale(min(whole, 1.0), ratio), even_scale(max(LARGEST, whole), ratio)
        self._zoom_to(min(max(scale, least), most))

    def _zoom_to(self, scale: float) -> None:
        self._scale = scale
        self.setFixedSize(
            max(1, round(self._area.width * scale)) + 2 * PAD,
            max(1, round(self._area.height * scale)) + 2 * PAD,
        )
        self.update()

    def suit_screen(self) -> None:
        """Show it anew on a screen of another ratio."""
        self._zoom_to(even_scale(self._scale, ratio_of(self)))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            notches = self._notches.add(event.angleDelta().y())
            if notches:
                self.zoom(notches)
            event.accept()
        else:
            event.ignore()

    def place_of(self, number: int) -> QRectF:
        """Where a piece lies in the tray."""
        assert self._sheet is not None
        piece = next(p for p in self._sheet.pieces if p.number == number)
        return self._on_screen(piece.rect)

    def _on_screen(self, rect: Rect) -> QRectF:
        scale = self._scale
        x, y = rect.x - self._area.x, rect.y - self._area.y
        return QRectF(PAD + x * scale, PAD + y * scale, rect.width * scale, rect.height * scale)

    def _piece_at(self, x: float, y: float) -> Piece | None:
        if self._sheet is None:
            return None
        scale = self._scale
        place = Point((x - PAD) / scale + self._area.x, (y - PAD) / scale + self._area.y)
        return next((p for p in self._sheet.pieces if p.rect.contains(*place)), None)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._sheet is None:
            painter.setPen(look.colours.soft_ink)
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, say("Cut a tileset first"))
            painter.end()
            return
        whole = self._on_screen(self._area)
        draw_checker(painter, whole)
        image = self._images.sheet(self._sheet)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self._scale < 1)
        painter.drawImage(whole, image, QRectF(*self._area))
        line = QColor(MARKS.paper)
        line.setAlpha(120)
        painter.setPen(QPen(line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for piece in self._sheet.pieces:
            painter.drawRect(self._on_screen(piece.rect))
        chosen = [p.rect for p in self._sheet.pieces if p.number in self._numbers]
        if chosen:
            around = chosen[0]
            for rect in chosen:
                around = around.union(rect)
            draw_brackets(painter, self._on_screen(around), 9)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._start = self._piece_at(event.position().x(), event.position().y())
        self._pick(self._start)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        here = self._piece_at(event.position().x(), event.position().y())
        if self._start is not None and event.buttons():
            self._pick(here)
        elif self._sheet is not None:
            self.setToolTip(shown_name(self._sheet, here) if here else "")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._start = None

    def _pick(self, end: Piece | None) -> None:
        """Make a brush of the block between where the drag began and here."""
        if self._start is None or end is None or self._sheet is None:
            return
        block = self._start.rect.union(end.rect)
        inside = [p for p in self._sheet.pieces if block.intersection(p.rect) == p.rect]
        rows = sorted({p.row for p in inside})
        columns = sorted({p.column for p in inside})
        by_cell = {(p.column, p.row): p.number for p in inside}
        if len(by_cell) != len(inside):
            return
        self.picked.emit(
            Brush(
                tuple(
                    tuple((by_cell.get((column, row), 0), 0) for column in columns) for row in rows
                )
            )
        )


def _used(sheet: Sheet) -> Rect:
    """The part of a sheet's picture that is cut into pieces."""
    area = Rect(0, 0, 0, 0)
    for piece in sheet.pieces:
        area = area.union(piece.rect)
    return area if area.area else Rect(0, 0, *sheet.size)


def _first_scale(area: Rect, sheet: Sheet, ratio: float) -> float:
    """All of it in the tray, unless its tiles were too small to be told apart then."""
    room = SIZE - 2 * PAD
    wanted = room / max(area.width, area.height, 1)
    narrowest = sorted(piece.rect.width for piece in sheet.pieces)[len(sheet.pieces) // 2]
    least = LEAST_TILE / max(narrowest, 1)
    return even_scale(min(max(wanted, min(least, 1.0)), LARGEST_AT_FIRST), ratio)
