"""The surround at a size that is tried, on the table; its corner is dragged."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.borders import smallest, surround
from rushweed.core.project.rules import Filter
from rushweed.core.project.sheet import Borders
from rushweed.core.values import Size
from rushweed.core.words import say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_checker, draw_lozenge
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, CAPTION, font


class Stretched(QWidget):
    """The surround at the size that is tried; its corner is dragged."""

    def __init__(self) -> None:
        super().__init__()
        self.size_tried = Size(64, 40)
        self.resized: list[Any] = []
        self._picture: Any = None
        self._borders: Borders | None = None
        self._filter: Filter = "nearest"
        self._dragging = False
        self.setMinimumWidth(120)
        self.setAccessibleName(say("The surround at another size"))

    def show_surround(self, picture: Any, borders: Borders | None, filtering: Filter) -> None:
        """Show another surround, or nothing."""
        self._picture, self._borders, self._filter = picture, borders, filtering
        self.update()

    def try_size(self, size: Size) -> None:
        """Draw it at another size, in its own pixels."""
        self.size_tried = size
        for tell in self.resized:
            tell(size)
        self.update()

    @property
    def _scale(self) -> float:
        """Pixels for one of the picture, chosen for what fits the widget whole."""
        room = min(
            (self.width() - 40) / max(self.size_tried.width, 64),
            (self.height() - 90) / max(self.size_tried.height, 40),
        )
        return even_scale(max(1, min(6, room)), ratio_of(self))

    def _place(self) -> QRectF:
        scale = self._scale
        return QRectF(20, 44, self.size_tried.width * scale, self.size_tried.height * scale)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.wall)
        painter.setPen(colours.ink)
        painter.setFont(font(BODY, 600))
        painter.drawText(20, 26, say("Drawn at {size} px", size=str(self.size_tried)))
        if self._picture is not None and self._borders is not None:
            self._paint_surround(painter)
        else:
            painter.setFont(font(CAPTION))
            painter.setPen(colours.soft_ink)
            text = say("With borders set, it stretches here.")
            painter.drawText(20, 60, text)
        painter.end()

    def drawn(self) -> Picture | None:
        """The surround's pixels at the size that is tried, or None without borders."""
        if self._picture is None or self._borders is None:
            return None
        return surround(self._picture, self._borders, self.size_tried, self._filter)

    def _paint_surround(self, painter: QPainter) -> None:
        shown = self.drawn()
        assert shown is not None
        image = to_image(shown)
        place = self._place()
        drawn = QRectF(
            place.left(), place.top(), image.width() * self._scale, image.height() * self._scale
        )
        draw_checker(painter, drawn)
        painter.drawImage(drawn, image)
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(drawn.adjusted(-0.5, -0.5, 0.5, 0.5))
        draw_lozenge(painter, drawn.right(), drawn.bottom(), 6, look.colours.tide, MARKS.paper)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        corner = self._place().bottomRight()
        apart = event.position() - corner
        self._dragging = max(abs(apart.x()), abs(apart.y())) < 16

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._dragging:
            scale, place = self._scale, self._place()
            wide = int((event.position().x() - place.left()) / scale)
            tall = int((event.position().y() - place.top()) / scale)
            least = smallest(self._borders or Borders())
            self.try_size(Size(max(wide, least.width), max(tall, least.height)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragging = False
