"""The cord and its knots, painted strand by strand."""

from __future__ import annotations

import itertools
import math
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from rushweed.ui.look.colours import Colours


class Dye(NamedTuple):
    """The colours of one stretch of cord."""

    edge: QColor
    body: QColor
    strand: QColor
    light: QColor


def dyed(colours: Colours) -> Dye:
    """Cord of work that is done."""
    return Dye(colours.cord_edge, colours.cord_body, colours.cord_strand, colours.cord_light)


def raw(colours: Colours) -> Dye:
    """Cord of work to come."""
    return Dye(colours.raw_edge, colours.raw_body, colours.raw_strand, colours.raw_light)


class _Place(NamedTuple):
    x: float
    y: float
    along_x: float
    along_y: float


class _Course:
    """A polyline by length."""

    def __init__(self, points: Sequence[tuple[float, float]]) -> None:
        self.points = points
        self.lengths = [0.0]
        for (x0, y0), (x1, y1) in itertools.pairwise(points):
            self.lengths.append(self.lengths[-1] + math.hypot(x1 - x0, y1 - y0))
        self.length = self.lengths[-1]

    def at(self, distance: float) -> _Place:
        index = min(max(bisect_left(self.lengths, distance), 1), len(self.lengths) - 1)
        (x0, y0), (x1, y1) = self.points[index - 1], self.points[index]
        span = self.lengths[index] - self.lengths[index - 1] or 1.0
        part = (distance - self.lengths[index - 1]) / span
        return _Place(
            x0 + (x1 - x0) * part, y0 + (y1 - y0) * part, (x1 - x0) / span, (y1 - y0) / span
        )


def draw_cord(
    painter: QPainter,
    points: Sequence[tuple[float, float]],
    width: float,
    dyes: Sequence[tuple[float, Dye]],
    pitch: float = 4.2,
) -> None:
    """A cord along a polyline; each of the dyes reaches to a part of its length, the last to 1."""
    course = _Course(points)
    if not course.length:
        return
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    begins = (0.0, *(part for part, _ in dyes))
    stretches = [
        (course.length * begin, course.length * end, dye)
        for begin, (end, dye) in zip(begins, dyes, strict=False)
        if begin < end
    ]
    for extra, name in ((2.2, "edge"), (0.0, "body")):
        for start, end, dye in stretches:
            painter.setPen(_pen(getattr(dye, name), width + extra, Qt.PenCapStyle.FlatCap))
            painter.drawPath(_part(course, start, end))
    for start, end, dye in stretches:
        _draw_twists(painter, course, (start, end), width, dye, pitch)
    painter.restore()


def _part(course: _Course, start: float, end: float) -> QPainterPath:
    first, last = course.at(start), course.at(end)
    path = QPainterPath(QPointF(first.x, first.y))
    for index in range(bisect_right(course.lengths, start), bisect_left(course.lengths, end)):
        path.lineTo(*course.points[index])
    path.lineTo(last.x, last.y)
    return path


def _draw_twists(
    painter: QPainter,
    course: _Course,
    part: tuple[float, float],
    width: float,
    dye: Dye,
    pitch: float,
) -> None:
    """The strands of a part of the cord, all of one kind in one stroke; they lie as if the cord
    had but one dye."""
    half = width / 2 - 0.2
    paths = QPainterPath(), QPainterPath(), QPainterPath()
    number = math.ceil(part[0] / pitch - 0.5)
    up_to = min(part[1], course.length - pitch / 3)
    while (distance := (number + 0.5) * pitch) < up_to:
        _add_twist(paths, course.at(distance), half, pitch)
        number += 1
    dark = QColor(dye.edge)
    dark.setAlphaF(0.55)
    pens = _pen(dark, 0.9), _pen(dye.strand, width * 0.34), _pen(dye.light, 0.8)
    for path, pen in zip(paths, pens, strict=True):
        painter.strokePath(path, pen)


def _add_twist(
    paths: tuple[QPainterPath, QPainterPath, QPainterPath], place: _Place, half: float, pitch: float
) -> None:
    """One strand with its shadow before and its light on it, square to the cord's course."""
    shadows, strands, lights = paths

    def at(along: float, aside: float) -> tuple[float, float]:
        return (
            place.x + place.along_x * along - place.along_y * aside,
            place.y + place.along_y * along + place.along_x * aside,
        )

    shift, reach = pitch * 0.48, half * 0.62
    shadows.moveTo(*at(-2.6, half))
    shadows.lineTo(*at(2.6, -half))
    strands.moveTo(*at(shift - 1.7, reach))
    strands.lineTo(*at(shift + 1.7, -reach))
    lights.moveTo(*at(shift + 0.3, -half * 0.15))
    lights.lineTo(*at(shift + 1.5, -reach))


def draw_knot(painter: QPainter, x: float, y: float, dye: Dye, scale: float = 1.0) -> None:
    """Three lobes of fibre."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(x, y)
    painter.scale(scale, scale)
    for cx, cy, rx, ry, turn in (
        (-5.6, 1.4, 4.6, 7.6, 0.5),
        (5.6, -1.4, 4.6, 7.6, 0.5),
        (0, 0, 4.3, 9.8, -0.42),
    ):
        _draw_lobe(painter, cx, cy, rx, ry, turn, dye)
    painter.restore()


def _draw_lobe(
    painter: QPainter, cx: float, cy: float, rx: float, ry: float, turn: float, dye: Dye
) -> None:
    painter.save()
    painter.translate(cx, cy)
    painter.rotate(math.degrees(turn))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(dye.edge)
    painter.drawEllipse(QPointF(0, 0), rx + 1.1, ry + 1.1)
    painter.setBrush(dye.body)
    painter.drawEllipse(QPointF(0, 0), rx, ry)
    inside = QPainterPath()
    inside.addEllipse(QPointF(0, 0), rx, ry)
    painter.setClipPath(inside)
    dark = QColor(dye.edge)
    dark.setAlphaF(0.4)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for offset, colour, width in ((0.0, dye.strand, 1.56), (1.5, dark, 0.7)):
        fibres = QPainterPath()
        for index in range(-6, 7):
            y = index * 3 + offset
            fibres.moveTo(-rx - 1, y + 2.2)
            fibres.quadTo(0, y - 0.6, rx + 1, y - 2.2)
        painter.strokePath(fibres, _pen(colour, width))
    painter.restore()


def draw_tassel(painter: QPainter, x: float, y: float, colours: Colours) -> None:
    """The whipped end of the cord, pointing right."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    fibres = [(colours.raw_edge, 2.4)] * 7
    fibres += [(colours.raw_strand if k % 2 else colours.raw_body, 1.4) for k in range(7)]
    for index, (colour, width) in enumerate(fibres):
        k = index % 7 - 3
        path = QPainterPath(QPointF(x + 2, y + k * 0.5))
        path.quadTo(x + 10, y + k * 1.1, x + 17 - abs(k), y + k * 2.1 + 2)
        painter.strokePath(path, _pen(colour, width))
    painter.setPen(Qt.PenStyle.NoPen)
    for dx, width, colour in (
        (-1.5, 4.0, colours.cord_edge),
        (-0.5, 1.0, colours.cord_strand),
        (1.2, 0.9, colours.cord_strand),
    ):
        painter.setBrush(colour)
        painter.drawRect(QRectF(x + dx, y - 4.2, width, 8.4))
    painter.restore()


def _pen(colour: QColor, width: float, cap: Qt.PenCapStyle = Qt.PenCapStyle.RoundCap) -> QPen:
    return QPen(colour, width, Qt.PenStyle.SolidLine, cap, Qt.PenJoinStyle.RoundJoin)
