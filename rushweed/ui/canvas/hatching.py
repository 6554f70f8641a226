"""Collision shapes on art: hatching inside a firm outline, kerbs and chevrons for one-way."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, lru_cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from rushweed.core.project.facts import Side
from rushweed.core.project.shape import Circle, Form, Shape
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.look.colours import MARKS


@dataclass(frozen=True, slots=True)
class Weight:
    """How heavily a shape is drawn, in screen pixels."""

    gap: int
    stroke: float
    under: float
    halo: float
    outline: float


LARGE = Weight(9, 1.5, 3.0, 4.0, 2.0)
SMALL = Weight(8, 1.0, 0.0, 2.4, 1.2)
MOST_STAMPS = 8192
ANGLES: dict[Side, float] = {"above": 0, "right": 90, "below": 180, "left": 270}
"""By how many degrees clockwise each side is from the upper one."""
STAMP_MARGIN = 16
"""Room around a stamp for outlines and chevrons, in screen pixels."""


def draw_shape(
    painter: QPainter, shape: Shape, left: float, top: float, scale: float, weight: Weight
) -> None:
    """A piece's shape, the piece's upper left corner at (left, top) of the screen."""
    path = _path(shape.form, left, top, scale)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrushOrigin(QPointF(round(left), round(top)))
    if shape.stops != "sensor":
        painter.fillPath(path, hatch_brush(weight.gap, weight.stroke, weight.under))
    for colour, width in ((MARKS.paper, weight.halo), (MARKS.rust, weight.outline)):
        pen = QPen(colour, width, join=Qt.PenJoinStyle.RoundJoin)
        if shape.stops == "sensor":
            pen.setDashPattern([3, 2])
        painter.strokePath(path, pen)
    if shape.stops == "one-way":
        box = path.boundingRect()
        thick, reach = (3, 4) if weight is SMALL else (4, 6)
        deep = box.width() if shape.side in ("left", "right") else box.height()
        draw_one_way(painter, box, shape.side, thick, reach, deep + reach * 1.6)
    painter.restore()


class Stamps:
    """Shapes drawn small at the nearest whole pixel: those of a piece are drawn once for a scale,
    and put down like a stamp wherever they are met again."""

    def __init__(self) -> None:
        self._of: tuple[float, float] = (0.0, 0.0)
        self._kept: dict[int, tuple[tuple[Shape, ...], int, int, QPixmap]] = {}

    def begin(self, painter: QPainter, scale: float) -> None:
        """Stamps of another scale are forgotten."""
        wanted = scale, ratio_of(painter.device())
        if wanted != self._of or len(self._kept) > MOST_STAMPS:
            self._kept.clear()
            self._of = wanted

    def draw(self, painter: QPainter, shapes: tuple[Shape, ...], left: float, top: float) -> None:
        """The shapes of a piece, its upper left corner at (left, top) of the screen."""
        stamp = self._kept.get(id(shapes))
        if stamp is None:
            stamp = self._kept[id(shapes)] = (shapes, *_stamp(shapes, *self._of))
        _, across, down, picture = stamp
        painter.drawPixmap(round(left) + across, round(top) + down, picture)


@lru_cache(maxsize=1024)
def _stamp(shapes: tuple[Shape, ...], scale: float, ratio: float) -> tuple[int, int, QPixmap]:
    """Where a stamp's upper left corner lies from that of the piece, and its picture."""
    corners = [corner for shape in shapes for corner in shape.form.corners]
    left = math.floor(min(c.x for c in corners) * scale) - STAMP_MARGIN
    top = math.floor(min(c.y for c in corners) * scale) - STAMP_MARGIN
    right = math.ceil(max(c.x for c in corners) * scale) + STAMP_MARGIN
    bottom = math.ceil(max(c.y for c in corners) * scale) + STAMP_MARGIN
    stamp = QPixmap(round((right - left) * ratio), round((bottom - top) * ratio))
    stamp.setDevicePixelRatio(ratio)
    stamp.fill(Qt.GlobalColor.transparent)
    painter = QPainter(stamp)
    for shape in shapes:
        draw_shape(painter, shape, -left, -top, scale, SMALL)
    painter.end()
    return left, top, stamp


def _path(form: Form, left: float, top: float, scale: float) -> QPainterPath:
    path = QPainterPath()
    if isinstance(form, Circle):
        middle = QPointF(left + form.x * scale, top + form.y * scale)
        path.addEllipse(middle, form.radius * scale, form.radius * scale)
        return path
    for ring in form.rings:
        path.addPolygon(QPolygonF([QPointF(left + c.x * scale, top + c.y * scale) for c in ring]))
        path.closeSubpath()
    return path


def draw_one_way(
    painter: QPainter, box: QRectF, side: Side, thick: float, reach: float, away: float
) -> None:
    """A kerb along the side that stops, and chevrons along the way that lets pass, so many pixels
    from the kerb; none where `reach` is nothing."""
    lying = side in ("left", "right")
    wide, high = (box.height(), box.width()) if lying else (box.width(), box.height())
    painter.save()
    painter.translate(box.center())
    painter.rotate(ANGLES[side])
    kerb = QRectF(-wide / 2, -high / 2, wide, thick)
    painter.fillRect(kerb.adjusted(0, -1, 0, 1), MARKS.paper)
    painter.fillRect(kerb, MARKS.rust)
    if reach:
        draw_chevrons(painter, 0, kerb.top() + away, reach)
    painter.restore()


def draw_chevrons(painter: QPainter, x: float, y: float, reach: float) -> None:
    """Two chevrons pointing up."""
    for colour, width in ((MARKS.paper, reach * 0.85), (MARKS.rust, reach * 0.42)):
        pen = QPen(colour, width, cap=Qt.PenCapStyle.SquareCap, join=Qt.PenJoinStyle.MiterJoin)
        for row in (-0.5, 0.5):
            middle = y + row * reach * 1.4
            path = QPainterPath(QPointF(x - reach, middle + reach / 2))
            path.lineTo(x, middle - reach / 2)
            path.lineTo(x + reach, middle + reach / 2)
            painter.strokePath(path, pen)


@cache
def hatch_brush(gap: int, stroke: float, under: float) -> QBrush:
    """Diagonal strokes `gap` pixels apart, as a tile that meets itself."""
    side = max(4, round(gap * math.sqrt(2)))
    tile = QPixmap(side, side)
    tile.fill(Qt.GlobalColor.transparent)
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    strokes: list[tuple[QColor, float]] = [(MARKS.hatch, stroke)]
    if under:
        strokes.insert(0, (MARKS.hatch_under, under))
    for colour, width in strokes:
        painter.setPen(QPen(colour, width, cap=Qt.PenCapStyle.FlatCap))
        for shift in (-side, 0, side):
            painter.drawLine(QPointF(shift - 2, side + 2), QPointF(shift + side + 2, -2))
    painter.end()
    return QBrush(tile)
