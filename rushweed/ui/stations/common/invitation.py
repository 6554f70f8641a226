"""What an empty station shows."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import READ_OUT, font
from rushweed.ui.shell.controls import button, label

TEXT_WIDTH = 400
"""A longer text has several lines."""


class Invitation(QWidget):
    """An empty station: one sentence, and the button that comes next, perhaps with another way to
    begin below it."""

    def __init__(self, title: str, text: str, *acts: tuple[str, Callable[[], object]]) -> None:
        super().__init__()
        heading = label(title, "heading")
        heading.setFont(font(READ_OUT, 600))
        layout = QVBoxLayout(self)
        layout.setSpacing(8)
        layout.addStretch(1)
        told = label(text, "caption")
        told.setWordWrap(True)
        told.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        told.setFixedWidth(min(TEXT_WIDTH, told.fontMetrics().horizontalAdvance(text) + 8))
        told.setMinimumHeight(told.heightForWidth(told.width()))
        for part in (heading, told):
            layout.addWidget(part, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addSpacing(8)
        for place, (words, run) in enumerate(acts):
            begin = button(words, run, "" if place else "main")
            layout.addWidget(begin, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addStretch(1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        pen = QPen(colours.strong_line, 1, Qt.PenStyle.CustomDashLine)
        pen.setDashPattern([6, 5])
        painter.setPen(pen)
        painter.drawRoundedRect(self.rect().adjusted(24, 24, -25, -25), 6, 6)
        painter.end()
