"""Changing shapes that are there: corners and edges moved, corners added and taken away."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from rushweed.core.bound.geometry import contains
from rushweed.core.bound.shaping import box, polygon
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Form, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Size


@dataclass(frozen=True, slots=True)
class Grip:
    """A part of a shape that one can take hold of: which shape of the piece, and its corner, the
    edge after that corner, or its inside."""

    shape: int
    kind: Literal["corner", "edge", "inside"]
    index: int = 0


def grip_at(shapes: tuple[Shape, ...], place: Point, reach: float) -> Grip | None:
    """What lies under a place in pixels of the piece: the nearest corner within reach, else the
    nearest edge, else the uppermost shape around it."""
    corners, edges = [], []
    for number, shape in enumerate(shapes):
        ring = shape.form.corners
        for index, corner in enumerate(ring):
            after = ring[(index + 1) % len(ring)]
            corners.append((_apart(corner, place), number, index))
            edges.append((_from_edge(corner, after, place), number, index))
    for kind, found in (("corner", corners), ("edge", edges)):
        nearest = min(found, default=(reach + 1, 0, 0))
        if nearest[0] <= reach:
            return Grip(nearest[1], kind, nearest[2])  # type: ignore[arg-type]
    for number in reversed(range(len(shapes))):
        if contains(shapes[number].form.corners, place.x, place.y):
            return Grip(number, "inside")
    return None


def moved_grip(form: Form, grip: Grip, start: Point, to: Point) -> Form:
    """The form with its corner or edge brought to a place, or all of it moved by as much.

    An edge of a box moves as a whole; on an edge of a polygon a new corner is put down. Raises
    Refusal for what has no area or crosses itself.
    """
    if grip.kind == "inside":
        return form.moved(to.x - start.x, to.y - start.y)
    if isinstance(form, Box):
        return _moved_box(form, grip, to)
    corners = list(form.corners)
    if grip.kind == "edge":
        corners.insert(grip.index + 1, to)
    else:
        corners[grip.index] = to
    return polygon(corners)


def without_corner(form: Form, index: int) -> Form | None:
    """The form with one corner less; None where nothing is left."""
    corners = [corner for place, corner in enumerate(form.corners) if place != index]
    return polygon(corners) if len(corners) > 2 else None


def replace_form(
    project: Project, numbers: frozenset[int], index: int, form: Form | None
) -> Project:
    """Give one shape of pieces another form, or take it away."""

    def edit(piece: Piece) -> Piece:
        shapes = list(piece.shapes or ())
        if form is None:
            del shapes[index]
        else:
            shapes[index] = replace(shapes[index], form=form)
        return replace(piece, shapes=tuple(shapes))

    return with_pieces(project, numbers, edit)


def common_forms(size: Size) -> dict[str, Form]:
    """The forms that most tiles have, as large as a tile."""
    width, height = size
    half = height / 2
    left, right = Point(0, height), Point(width, height)
    return {
        "Full": Box(0, 0, width, height),
        "Upper half": Box(0, 0, width, half),
        "Lower half": Box(0, half, width, half),
        "Slope up": polygon([left, right, Point(width, 0)]),
        "Slope down": polygon([left, right, Point(0, 0)]),
        "Low slope up": polygon([left, right, Point(width, half)]),
        "High slope up": polygon([left, right, Point(width, 0), Point(0, half)]),
        "High slope down": polygon([left, right, Point(width, half), Point(0, 0)]),
        "Low slope down": polygon([left, right, Point(0, half)]),
        "Steps up": polygon([left, right, *_steps(size)]),
        "Steps down": polygon([right, left, *(Point(width - x, y) for x, y in _steps(size))]),
    }


def _steps(size: Size, count: int = 4) -> list[Point]:
    """Four steps down from the upper right corner."""
    corners = []
    for step in range(count):
        x = size.width * (count - step) / count
        y = size.height * step / count
        corners += [Point(x, y), Point(x - size.width / count, y)]
    return corners


def _moved_box(form: Box, grip: Grip, to: Point) -> Box:
    corners = form.corners
    if grip.kind == "corner":
        return box(corners[(grip.index + 2) % 4], to)
    upright = grip.index % 2 == 0
    place = corners[grip.index]
    moved = Point(to.x, place.y) if upright else Point(place.x, to.y)
    return box(corners[(grip.index + 2) % 4], moved)


def _apart(one: Point, other: Point) -> float:
    return float(((one.x - other.x) ** 2 + (one.y - other.y) ** 2) ** 0.5)


def _from_edge(start: Point, end: Point, place: Point) -> float:
    dx, dy = end.x - start.x, end.y - start.y
    length = dx * dx + dy * dy
    part = ((place.x - start.x) * dx + (place.y - start.y) * dy) / length if length else 0
    part = min(max(part, 0), 1)
    return _apart(Point(start.x + part * dx, start.y + part * dy), place)
