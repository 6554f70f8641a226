"""A small square of a colour."""

from __future__ import annotations

from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.values import Colour
from rushweed.ui.look.colours import look


class Swatch(QWidget):
    """A square of a colour; crossed out when there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(24, 24)
        self._colour: Colour | None = None

    def show_colour(self, colour: Colour | None) -> None:
        self._colour = colour
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(look.colours.ink, 1))
        painter.setBrush(QColor(*self._colour[:3]) if self._colour else look.colours.field)
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 3, 3)
        if self._colour is None:
            painter.drawLine(4, 19, 19, 4)
        painter.end()
