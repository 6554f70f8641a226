"""The titles above the columns of a table that somebody paints; they stay while it scrolls."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font

Title = tuple[QRect, Qt.AlignmentFlag, str]
"""Where a title lies in the head, on which side, and what it says."""


class TableHead(QWidget):
    """Titles between two lines; `titles` says where they are in a head of some size."""

    def __init__(self, height: int, titles: Callable[[QRect], Iterable[Title]]) -> None:
        super().__init__()
        self._titles = titles
        self.setFixedHeight(height)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.paper)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        for place, align, title in self._titles(self.rect()):
            painter.drawText(place, align, title)
        for y in (0, self.height() - 1):
            painter.fillRect(0, y, self.width(), 1, colours.line)
        painter.end()
