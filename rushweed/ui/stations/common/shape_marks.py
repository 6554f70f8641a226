"""How shapes are marked on the canvas and told in the slip."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from rushweed.core.bound.editing import gripped
from rushweed.core.gauge.units import figure
from rushweed.core.project.shape import Form, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Rect
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_lozenge, draw_tag
from rushweed.ui.look.colours import MARKS, look

MOST_CORNERS_LISTED = 8
TAGGED_FROM = 12
"""From this scale on corners are told in numbers."""


def draw_corners(painter: QPainter, canvas: Canvas, piece: Piece) -> None:
    """Mark the corners of a piece's shapes, with their places when there is room."""
    number = 0
    for shape in piece.shapes or ():
        corners = gripped(shape.form)
        for corner in corners:
            number += 1
            place = canvas.view.to_screen(piece.rect.x + corner.x, piece.rect.y + corner.y)
            draw_lozenge(painter, place.x, place.y, 6, MARKS.paper, MARKS.rust)
            if len(corners) <= MOST_CORNERS_LISTED and canvas.view.scale >= TAGGED_FROM:
                text = say("{number}  at {x}, {y}").format(
                    number=number, x=figure(corner.x), y=figure(corner.y)
                )
                right = corner.x > piece.rect.width / 2
                x = place.x - 12 if right else place.x + 12
                y = place.y - 26 if corner.y > piece.rect.height / 2 else place.y + 10
                draw_tag(painter, x, y, text, MARKS.rust, align="right" if right else "left")


def draw_open_polygon(painter: QPainter, canvas: Canvas, rect: Rect, corners: list[Point]) -> None:
    """A polygon that is being drawn on a piece, through corners in pixels of the piece."""
    view = canvas.view
    points = [QPointF(*view.to_screen(rect.x + c.x, rect.y + c.y)) for c in corners]
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((MARKS.paper, 4), (MARKS.rust, 2)):
        painter.setPen(QPen(colour, width))
        painter.drawPolyline(QPolygonF(points))
    painter.restore()
    for point in points:
        draw_lozenge(painter, point.x(), point.y(), 6, MARKS.paper, MARKS.rust)


def draw_crossing(painter: QPainter, canvas: Canvas, rect: Rect, place: Point) -> None:
    """A cross where a shape crosses itself."""
    spot = canvas.view.to_screen(rect.x + place.x, rect.y + place.y)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, width in ((MARKS.paper, 6), (look.colours.red, 3)):
        painter.setPen(QPen(colour, width))
        painter.drawLine(QPointF(spot.x - 8, spot.y - 8), QPointF(spot.x + 8, spot.y + 8))
        painter.drawLine(QPointF(spot.x - 8, spot.y + 8), QPointF(spot.x + 8, spot.y - 8))
    painter.restore()
    draw_tag(painter, spot.x + 12, spot.y - 24, say("crosses itself"), look.colours.red)


def list_corners(shapes: tuple[Shape, ...] | None) -> str:
    """Shapes in words, with their first corners."""
    if shapes is None:
        return say("undecided")
    if not shapes:
        return say("nothing solid")
    lines = []
    for shape in shapes:
        lines.append(_describe(shape.form))
        corners = gripped(shape.form)
        for index, corner in enumerate(corners[:MOST_CORNERS_LISTED], 1):
            lines.append(f"   {index}    {figure(corner.x)}, {figure(corner.y)}")
        if len(corners) > MOST_CORNERS_LISTED:
            lines.append(say("   and {n} more", n=len(corners) - MOST_CORNERS_LISTED))
    return "\n".join(lines[:20])


def _describe(form: Form) -> str:
    if form.kind == "box":
        return say("box, {w} × {h} px", w=figure(form.width), h=figure(form.height))
    if form.kind == "circle":
        return say("circle, {r} px about its middle", r=figure(form.radius))
    return say("polygon, {n} corners", n=len(form.corners))
