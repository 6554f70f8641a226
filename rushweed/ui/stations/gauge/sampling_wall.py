"""The selected piece in all ways a game may come to draw it, sampled as graphics hardware does."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QRectF, Qt, QTimer
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.viewing import WAYS, Way, side_by_side, view
from rushweed.core.project.rules import Treatment
from rushweed.core.values import Size
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font

COLUMNS = 5
CAPTION_HEIGHT, GAP, MARGIN = 20, 10, 14
PERIOD = 40
SEAM_SCALE, SEAM_SHIFT = 3.3, 0.37
"""Neighbours are drawn at this size and place, which no pixel of the screen falls in with."""


class SamplingWall(QWidget):
    """Shows one piece; those that move do so while the wall is seen."""

    def __init__(self) -> None:
        super().__init__()
        self._piece: Picture | None = None
        self._neighbours: list[Picture] = []
        self._treatment = Treatment("")
        self._kept: dict[object, QImage] = {}
        self._clock = QElapsedTimer()
        self._clock.start()
        self._timer = QTimer(self)
        self._timer.setInterval(PERIOD)
        self._timer.timeout.connect(self._tick)
        self.setAccessibleName(say("The piece as the game may draw it"))

    def show_piece(
        self, piece: Picture | None, neighbours: list[Picture], treatment: Treatment
    ) -> None:
        """Show another piece, what stands beside it in the game, and how it is drawn."""
        self._piece, self._neighbours, self._treatment = piece, neighbours, treatment
        self._kept.clear()
        self.update()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._timer.start()

    def hideEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._timer.stop()

    def cell_of(self, index: int) -> QRectF:
        """Where the picture of a way lies; the last two are those of neighbours."""
        width = (self.width() - 2 * MARGIN - (COLUMNS - 1) * GAP) / COLUMNS
        height = (self.height() - 2 * MARGIN) / 3 - CAPTION_HEIGHT
        row, column = divmod(index, COLUMNS)
        x = MARGIN + column * (width + GAP)
        y = MARGIN + row * (height + CAPTION_HEIGHT)
        if row == 2:
            width = (self.width() - 2 * MARGIN - GAP) / 2
            x = MARGIN + column * (width + GAP)
        return QRectF(round(x), round(y), round(width), round(height))

    def _tick(self) -> None:
        for index, way in enumerate(WAYS):
            if way.moving:
                self.update(self.cell_of(index).toAlignedRect())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        painter = QPainter(self)
        painter.fillRect(event.rect(), look.colours.well)
        if self._piece is None:
            painter.setPen(look.colours.soft_ink)
            painter.setFont(font(BODY))
            text = say("Select a piece: it will be drawn here in all ways a game may draw it.")
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)
        else:
            for index, way in enumerate(WAYS):
                if event.rect().intersects(self.cell_of(index).toAlignedRect()):
                    self._paint_way(painter, index, way)
            self._paint_seams(painter)
        painter.end()

    def _paint_way(self, painter: QPainter, index: int, way: Way) -> None:
        cell = self.cell_of(index)
        size = Size(int(cell.width()), int(cell.height()))
        key = (way.name, size)
        if way.moving or key not in self._kept:
            assert self._piece is not None
            seconds = self._clock.elapsed() / 1000 if way.moving else 0
            picture = view(self._piece, way, self._treatment, size, seconds)
            self._kept[key] = to_image(picture)
        self._paint_cell(painter, cell, self._kept[key], say(way.name))

    def _paint_seams(self, painter: QPainter) -> None:
        treatment = self._treatment
        space = say(
            "{gap} px of padding, {edge} px of repeated edges",
            gap=treatment.padding,
            edge=treatment.extrude,
        )
        names = (say("beside its neighbours, without padding on the page"), space)
        for index, (spaced, name) in enumerate(zip((False, True), names, strict=True)):
            cell = self.cell_of(2 * COLUMNS + index)
            if ("seams", spaced) not in self._kept:
                picture = side_by_side(self._neighbours, treatment, spaced, SEAM_SCALE, SEAM_SHIFT)
                self._kept["seams", spaced] = to_image(picture)
            self._paint_cell(painter, cell, self._kept["seams", spaced], name)

    def _paint_cell(self, painter: QPainter, cell: QRectF, image: QImage, name: str) -> None:
        draw_checker(painter, cell)
        painter.save()
        painter.setClipRect(cell)
        middle = cell.center()
        x = round(middle.x() - image.width() / 2)
        y = round(middle.y() - image.height() / 2)
        painter.drawImage(x, y, image)
        painter.restore()
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(cell.adjusted(-0.5, -0.5, 0.5, 0.5))
        painter.setPen(look.colours.ink)
        painter.setFont(font(CAPTION))
        caption = QRectF(cell.left(), cell.bottom() + 2, cell.width(), CAPTION_HEIGHT - 4)
        words = painter.fontMetrics().elidedText(
            name, Qt.TextElideMode.ElideRight, int(cell.width())
        )
        painter.drawText(caption, Qt.AlignmentFlag.AlignVCenter, words)
