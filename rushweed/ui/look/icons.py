"""A few icons, drawn by us in one weight on a field of 14 × 14, as SVG path data."""

from __future__ import annotations

from functools import cache

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap

PATHS = {
    "play": "M 4 2.5 L 4 11.5 L 11 7 Z",
    "pause": "M 4.5 3 L 4.5 11 M 9.5 3 L 9.5 11",
    "open": "M 1.5 11.5 L 1.5 3.5 L 5.5 3.5 L 6.7 5 L 12.5 5 L 12.5 11.5 Z",
    "box": "M 2.5 3.5 L 11.5 3.5 L 11.5 10.5 L 2.5 10.5 Z",
    "polygon": "M 2 11.5 L 4 3.5 L 9 2.5 L 12 7.5 L 9 11.5 Z",
    "eye": "M 1 7 L 3.4 4.4 L 7 3.3 L 10.6 4.4 L 13 7 L 10.6 9.6 L 7 10.7 L 3.4 9.6 Z M 5.6 7 L 7 5.6 L 8.4 7 L 7 8.4 Z",
    "closed": "M 1 6.5 L 3.4 9.2 L 7 10.4 L 10.6 9.2 L 13 6.5",
    "lock": "M 3.2 6.5 L 10.8 6.5 L 10.8 11.5 L 3.2 11.5 Z M 4.8 6.5 L 4.8 4.4 L 7 2.6 L 9.2 4.4 L 9.2 6.5",
    "back": "M 9.5 3 L 9.5 11 L 4 7 Z M 3.5 3 L 3.5 11",
    "down": "M 4 5.5 L 7 8.5 L 10 5.5",
    "close": "M 3.5 3.5 L 10.5 10.5 M 10.5 3.5 L 3.5 10.5",
}
FILLED = frozenset({"play", "back"})


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


def icon(name: str, colour: QColor) -> QIcon:
    """The icon for a button, sharp on screens of twice the density."""
    result = QIcon()
    for ratio in (1, 2):
        pixmap = QPixmap(QSize(14, 14) * ratio)
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        draw_icon(painter, name, 0, 0, colour)
        painter.end()
        result.addPixmap(pixmap)
    return result
