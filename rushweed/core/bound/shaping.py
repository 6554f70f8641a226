"""Giving pieces their collision shapes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.bound.geometry import contains, tidy
from rushweed.core.project.facts import Side
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Circle, Polygon, Shape, Stops
from rushweed.core.values import Point, Refusal, Size


def box(first: Point, second: Point) -> Box:
    """The box with these two opposite corners. Raises Refusal when it has no area."""
    left, right = sorted((first.x, second.x))
    top, bottom = sorted((first.y, second.y))
    if left == right or top == bottom:
        raise Refusal("That box has no area. Drag it at least one pixel wide and high.")
    return Box(left, top, right - left, bottom - top)


def polygon(corners: Sequence[Point], holes: Sequence[Sequence[Point]] = ()) -> Polygon:
    """The polygon through these corners, whatever their direction; see `geometry.tidy`. Raises
    Refusal when a hole is not inside of it."""
    outer = tidy(corners)
    inner = tuple(tidy(hole)[::-1] for hole in holes)
    if not all(contains(outer, *corner) for hole in inner for corner in hole):
        raise Refusal("A hole must lie inside of its shape. Draw it anew, within the outline.")
    return Polygon(outer, inner)


def circle(middle: Point, rim: Point) -> Circle:
    """The circle about a point that goes through another, in half pixels. Raises Refusal when it
    has no area."""
    radius = round(2 * math.hypot(rim.x - middle.x, rim.y - middle.y)) / 2
    if radius <= 0:
        raise Refusal("That circle has no area. Drag from its middle to its rim.")
    return Circle(middle.x, middle.y, radius)


def circle_within(first: Point, second: Point) -> Circle:
    """The largest circle in the box that is dragged from one corner to another, at the first, in
    half pixels. Raises Refusal when it has no area."""
    across, down = second.x - first.x, second.y - first.y
    radius = math.floor(min(abs(across), abs(down))) / 2
    if radius <= 0:
        raise Refusal("That circle has no area. Drag it at least one pixel wide and high.")
    return Circle(
        first.x + math.copysign(radius, across), first.y + math.copysign(radius, down), radius
    )


def full_box(size: Size) -> Box:
    """The box as large as a piece."""
    return Box(0, 0, size.width, size.height)


def add_shape(project: Project, numbers: frozenset[int], shape: Shape) -> Project:
    """Add a shape to each of the pieces."""
    return with_pieces(
        project, numbers, lambda piece: replace(piece, shapes=(*(piece.shapes or ()), shape))
    )


def set_shapes(
    project: Project, numbers: frozenset[int], shapes: tuple[Shape, ...] | None
) -> Project:
    """Give pieces exactly these shapes; an empty tuple decides that nothing is solid, None
    takes the decision back."""
    return with_pieces(project, numbers, lambda piece: replace(piece, shapes=shapes))


def set_side(project: Project, numbers: frozenset[int], side: Side) -> Project:
    """Say from which side the one-way shapes of pieces stop somebody."""

    def edit(shape: Shape) -> Shape:
        return replace(shape, side=side) if shape.stops == "one-way" else shape

    return with_pieces(
        project,
        numbers,
        lambda piece: replace(piece, shapes=piece.shapes and tuple(map(edit, piece.shapes))),
    )


def set_stops(project: Project, numbers: frozenset[int], stops: Stops) -> Project:
    """Say whom all shapes of the pieces stop."""
    return with_pieces(
        project,
        numbers,
        lambda piece: replace(
            piece,
            shapes=piece.shapes and tuple(replace(shape, stops=stops) for shape in piece.shapes),
        ),
    )
