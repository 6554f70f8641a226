"""What the walker does, in large figures."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, READ_OUT, font

READ_OUTS = 64


class ReadOuts(QWidget):
    """What the walker does, in large figures."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(READ_OUTS)
        self._values: list[tuple[str, str]] = []
        QHBoxLayout(self)

    def show_values(self, values: list[tuple[str, str]]) -> None:
        if values != self._values:
            self._values = values
            self.setAccessibleName(", ".join(f"{name} {value}" for name, value in values))
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        count = max(len(self._values), 1)
        width = (self.width() - 24) / count
        for index, (name, value) in enumerate(self._values):
            x = 12 + index * width
            if index:
                painter.setPen(QPen(colours.line, 1))
                painter.drawLine(int(x) - 10, 8, int(x) - 10, 50)
            painter.setPen(colours.soft_ink)
            painter.setFont(font(CAPTION))
            painter.drawText(QRectF(x, 8, width - 14, 15), Qt.AlignmentFlag.AlignVCenter, name)
            painter.setPen(colours.ink)
            painter.setFont(font(READ_OUT, 600))
            text = painter.fontMetrics().elidedText(
                value, Qt.TextElideMode.ElideRight, int(width - 16)
            )
            painter.drawText(
                QRect(int(x), 24, int(width) - 14, 24), Qt.AlignmentFlag.AlignVCenter, text
            )
        painter.end()
