"""A few icons, drawn by us in one weight on a field of 14 × 14, as SVG path data."""

from __future__ import annotations

from functools import cache

from PyQt6.QtCore import QPointF, QRect, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QIconEngine, QPainter, QPainterPath, QPen, QPixmap

from rushweed.ui.look.colours import look

PATHS = {
    "play": "M 4 2.5 L 4 11.5 L 11 7 Z",
    "pause": "M 4.5 3 L 4.5 11 M 9.5 3 L 9.5 11",
    "open": "M 1.5 11.5 L 1.5 3.5 L 5.5 3.5 L 6.7 5 L 12.5 5 L 12.5 11.5 Z",
    "box": "M 2.5 3.5 L 11.5 3.5 L 11.5 10.5 L 2.5 10.5 Z",
    "polygon": "M 2 11.5 L 4 3.5 L 9 2.5 L 12 7.5 L 9 11.5 Z",
    "circle": "M 11.5 7 L 10.9 9.2 L 9.2 10.9 L 7 11.5 L 4.8 10.9 L 3.1 9.2 L 2.5 7 L 3.1 4.8 "
    "L 4.8 3.1 L 7 2.5 L 9.2 3.1 L 10.9 4.8 Z",
    "down": "M 4 5.5 L 7 8.5 L 10 5.5",
    "right": "M 2.5 7 L 11 7 M 8 4 L 11 7 L 8 10",
}
FIELD = 14
FILLED = frozenset({"play"})


@cache
def path(name: str) -> QPainterPath:
    """The outline of an icon, on a field of 14 × 14."""
    result = QPainterPath()
    words = PATHS[name].split()
    index = 0
    while index < len(words):
        if words[index] == "Z":
            result.closeSubpath()
            index += 1
            continue
        point = QPointF(float(words[index + 1]), float(words[index + 2]))
        if words[index] == "M":
            result.moveTo(point)
        else:
            result.lineTo(point)
        index += 3
    return result


def draw_icon(painter: QPainter, name: str, x: float, y: float, colour: QColor) -> None:
    """Paint an icon with its upper left corner at x, y."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(x, y)
    width = 2.0 if name == "pause" else 1.5
    painter.setPen(QPen(colour, width, cap=Qt.PenCapStyle.RoundCap, join=Qt.PenJoinStyle.RoundJoin))
    painter.setBrush(colour if name in FILLED else Qt.BrushStyle.NoBrush)
    painter.drawPath(path(name))
    painter.restore()


class _Engine(QIconEngine):
    """Draws an icon in a colour of the theme as it is by then, at any density."""

    def __init__(self, name: str, colour: str) -> None:
        super().__init__()
        self._name, self._colour = name, colour

    def paint(
        self, painter: QPainter | None, rect: QRect, mode: QIcon.Mode, state: QIcon.State
    ) -> None:
        assert painter is not None
        painter.save()
        painter.translate(QPointF(rect.topLeft()))
        painter.scale(rect.width() / FIELD, rect.height() / FIELD)
        draw_icon(painter, self._name, 0, 0, getattr(look.colours, self._colour))
        painter.restore()

    def pixmap(self, size: QSize, mode: QIcon.Mode, state: QIcon.State) -> QPixmap:
        result = QPixmap(size)
        result.fill(Qt.GlobalColor.transparent)
        painter = QPainter(result)
        self.paint(painter, QRect(0, 0, size.width(), size.height()), mode, state)
        painter.end()
        return result

    def clone(self) -> QIconEngine:
        return _Engine(self._name, self._colour)


def icon(name: str, colour: str) -> QIcon:
    """The icon for a button, in a colour of the theme by its name, whatever the theme becomes."""
    return QIcon(_Engine(name, colour))
