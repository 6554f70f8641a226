"""The frames of an animation laid over each other, and a chart of their feet and middles."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.boards import common_board
from rushweed.core.cut.steadying import Stance, nudge
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Rect
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_checker, draw_tag
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font

AROUND = 4
"""Room around the frames, in pixels of the picture."""
FAINT = 0.34


class Onion(Canvas):
    """All frames over each other where they stand; picked ones are drawn firmly. A drag moves the
    picked ones by whole pixels."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__(self._paint_frames)
        self._desk, self._images = desk, images
        self._sheet: Sheet | None = None
        self._pieces: list[Piece] = []
        self.board = Rect(0, 0, 0, 0)
        self.tool = self._drag
        self.setAccessibleName(say("All frames over each other"))

    def show_frames(self, sheet: Sheet | None, pieces: list[Piece], anew: bool) -> None:
        """Show these frames; `anew` fits them into the view."""
        self._sheet, self._pieces = sheet, pieces
        board = common_board(pieces)
        if anew or not board.intersection(self.board).area:
            self.board = board
            room = Rect(0, 0, board.width + 2 * AROUND, board.height + 2 * AROUND)
            self.show_content(room)
            self.fit()
        self.update()

    def _picked(self) -> frozenset[int]:
        chosen = self._desk.selection.pieces
        return frozenset(piece.number for piece in self._pieces if piece.number in chosen)

    def _drag(self, press: Pointer) -> Stroke | None:
        """Move the picked frames along with the pointer."""
        picked = self._picked()
        if not picked:
            return None
        what = counted(len(picked), "frame", "frames")

        def at(event: Pointer) -> Edit:
            across, down = event.place.x - press.place.x, event.place.y - press.place.y
            return partial(nudge, numbers=picked, across=int(across), down=int(down))

        return following(self._desk.drag(say("Nudged {what}", what=what)), at)

    def _paint_frames(self, painter: QPainter, canvas: Canvas) -> None:
        if self._sheet is None or not self._pieces:
            return
        draw_checker(painter, self.to_screen(self.content).intersected(QRectF(self.rect())))
        picked = self._picked()
        for piece in self._pieces:
            painter.setOpacity(FAINT if piece.number not in picked else 0.0)
            self._paint_piece(painter, piece)
        painter.setOpacity(1.0 if len(picked) == 1 else 0.6)
        for piece in self._pieces:
            if piece.number in picked:
                self._paint_piece(painter, piece)
        painter.setOpacity(1.0)
        stand = self.view.to_screen(AROUND - self.board.x, AROUND - self.board.y)
        for x, y, width, height in (
            (0, round(stand.y), self.width(), 1),
            (round(stand.x), 0, 1, self.height()),
        ):
            painter.fillRect(QRectF(x, y, width, height).adjusted(-1, -1, 1, 1), MARKS.paper)
            painter.fillRect(QRectF(x, y, width, height), MARKS.tide)
        draw_tag(painter, 8, 8, say("All frames"), MARKS.paper, MARKS.ink, MARKS.ink)

    def _paint_piece(self, painter: QPainter, piece: Piece) -> None:
        if self._sheet is not None and painter.opacity() > 0:
            x = AROUND - self.board.x - round(piece.standing.x)
            y = AROUND - self.board.y - round(piece.standing.y)
            image = self._images.piece(self._sheet, piece)
            place = self.view.to_screen(x, y)
            size = image.width() * self.view.scale, image.height() * self.view.scale
            painter.drawImage(QRectF(place.x, place.y, *size), image, QRectF(image.rect()))


class StanceChart(QWidget):
    """Two rows of marks, one a frame: how far its foot lies below the common one, and its middle
    to the right of the common one. `picked` tells the place that was clicked."""

    picked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._stances: list[Stance | None] = []
        self._chosen: frozenset[int] = frozenset()
        self.setMinimumWidth(250)
        self.setAccessibleName(say("Feet and middles of the frames"))

    def show_stances(self, stances: list[Stance | None], chosen: frozenset[int]) -> None:
        """Show one stance a frame; `chosen` are the places of those that are picked."""
        self._stances, self._chosen = stances, chosen
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(330, 190)

    def _column(self) -> float:
        return min(34.0, (self.width() - 70) / max(1, len(self._stances)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = int((event.position().x() - 58) // self._column())
        if 0 <= place < len(self._stances):
            self.picked.emit(place)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.raised)
        painter.fillRect(0, 0, 1, self.height(), colours.line)
        known = [stance for stance in self._stances if stance is not None]
        half = self.height() / 2
        if known:
            feet = [None if s is None else float(s.foot) for s in self._stances]
            middles = [None if s is None else s.middle for s in self._stances]
            self._paint_row(painter, say("Feet"), feet, QRectF(0, 0, self.width(), half), False)
            below = QRectF(0, half, self.width(), half)
            self._paint_row(painter, say("Middle"), middles, below, True)
            painter.fillRect(QRectF(12, half, self.width() - 24, 1), colours.inner_line)
        painter.end()

    def _paint_row(
        self,
        painter: QPainter,
        title: str,
        values: list[float | None],
        area: QRectF,
        rounded: bool,
    ) -> None:
        """One row: a line for each whole pixel, a mark for each frame, joined."""
        colours = look.colours
        known = sorted(value for value in values if value is not None)
        common = known[len(known) // 2]
        reach = max(1.0, *(abs(value - common) for value in known))
        spread = round(known[-1] - known[0])
        painter.setFont(font(CAPTION, 600))
        painter.setPen(colours.ink)
        painter.drawText(QPointF(12, area.y() + 20), title)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.ochre_ink if spread else colours.rush_text)
        told = say("by {n} px", n=spread) if spread else say("steady")
        painter.drawText(QPointF(12, area.y() + 36), told)
        middle = area.y() + area.height() / 2
        step = (area.height() / 2 - 14) / reach
        for pixel in range(-int(reach), int(reach) + 1):
            shade = colours.strong_line if pixel == 0 else colours.inner_line
            if pixel == 0 or step >= 5:
                painter.fillRect(
                    QRectF(58, round(middle + pixel * step), self.width() - 70, 1), shade
                )
        column = self._column()
        marks = [
            (place, QPointF(58 + (place + 0.5) * column, middle + (value - common) * step))
            for place, value in enumerate(values)
            if value is not None
        ]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colours.rush, 1.4))
        painter.drawPolyline(QPolygonF([spot for _, spot in marks]))
        for place, spot in marks:
            value = values[place]
            off = value is not None and round(abs(value - common)) > 0
            colour = QColor(colours.ochre if off else colours.rush)
            painter.setPen(QPen(colours.tide if place in self._chosen else colours.raised, 2))
            painter.setBrush(colour)
            painter.drawEllipse(spot, 4.5, 4.5)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
