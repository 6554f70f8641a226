"""Changing shapes that are there: corners and edges moved, corners added and taken away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from rushweed.core.bound.geometry import contains
from rushweed.core.bound.shaping import box, circle, polygon
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Circle, Form, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Size
from rushweed.core.words import say

LARGEST_GAP = 4
"""Tiles with more pixels between them are not neighbours on the sheet."""


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
        for index, corner in enumerate(gripped(shape.form)):
            corners.append((_apart(corner, place), number, index))
        if not isinstance(shape.form, Circle):
            edges += [
                (_from_edge(start, end, place), number, index)
                for index, (start, end) in enumerate(_edges(shape.form))
            ]
    for kind, found in (("corner", corners), ("edge", edges)):
        nearest = min(found, default=(reach + 1, 0, 0))
        if nearest[0] <= reach:
            return Grip(nearest[1], kind, nearest[2])  # type: ignore[arg-type]
    for number in reversed(range(len(shapes))):
        inside = [contains(ring, place.x, place.y) for ring in shapes[number].form.rings]
        if sum(inside) % 2:
            return Grip(number, "inside")
    return None


def gripped(form: Form) -> tuple[Point, ...]:
    """The corners of a form that one can take hold of, holes last; of a circle a point at the
    right of its rim."""
    if isinstance(form, Circle):
        return (Point(form.x + form.radius, form.y),)
    return tuple(corner for ring in form.rings for corner in ring)


def moved_grip(form: Form, grip: Grip, start: Point, to: Point) -> Form:
    """The form with its corner or edge brought to a place, or all of it moved by as much.

    An edge of a box moves as a whole; on an edge of a polygon a new corner is put down. Raises
    Refusal for what has no area or crosses itself.
    """
    if grip.kind == "inside":
        return form.moved(to.x - start.x, to.y - start.y)
    if isinstance(form, Box):
        return _moved_box(form, grip, to)
    if isinstance(form, Circle):
        return circle(Point(form.x, form.y), to)
    number, place = _ring_of(form, grip.index)
    rings = [list(ring) for ring in form.rings]
    if grip.kind == "edge":
        rings[number].insert(place + 1, to)
    else:
        rings[number][place] = to
    return polygon(rings[0], rings[1:])


def moved_both_sides(form: Form, moved: Form) -> Form:
    """A box of which sides were moved, with the sides across from them moved as far the other way;
    other forms as they were moved. Raises Refusal for what has no area."""
    if not isinstance(form, Box) or not isinstance(moved, Box):
        return moved
    left, top = moved.x - form.x, moved.y - form.y
    right = moved.x + moved.width - form.x - form.width
    bottom = moved.y + moved.height - form.y - form.height
    first = Point(moved.x - right, moved.y - bottom)
    return box(first, Point(moved.x + moved.width - left, moved.y + moved.height - top))


def snapped(place: Point, piece: Piece, pieces: Sequence[Piece], reach: float) -> Point:
    """A place in a piece, or the nearest corner that a shape of its neighbours has, within reach.

    Neighbours are the pieces that lie right beside it on the sheet, and the piece itself again on
    all sides.
    """
    width, height = piece.rect.size
    places = []
    for other in pieces:
        rect = other.rect
        across = _beside(rect.x - piece.rect.x, rect.width, width)
        down = _beside(rect.y - piece.rect.y, rect.height, height)
        if across is None or down is None or abs(across) + abs(down) != 1:
            continue
        for shape in other.shapes or ():
            places += [
                Point(corner.x + across * width, corner.y + down * height)
                for corner in gripped(shape.form)
            ]
    for shape in piece.shapes or ():
        for corner in gripped(shape.form):
            places += [Point(corner.x + width * side, corner.y) for side in (-1, 1)]
            places += [Point(corner.x, corner.y + height * side) for side in (-1, 1)]
    within = [corner for corner in places if _apart(corner, place) <= reach]
    return min(within, key=lambda corner: _apart(corner, place), default=place)


def _beside(apart: float, other: int, own: int) -> int | None:
    """Whether something begins at the same place, or right before or behind with a small gap."""
    if apart == 0:
        return 0
    if own <= apart <= own + LARGEST_GAP:
        return 1
    return -1 if other <= -apart <= other + LARGEST_GAP else None


def without_corner(form: Form, index: int) -> Form | None:
    """The form with one corner less; None where nothing is left."""
    if isinstance(form, Circle):
        return None
    number, place = _ring_of(form, index)
    rings = [list(ring) for ring in form.rings]
    del rings[number][place]
    if len(rings[number]) < 3:
        del rings[number]
        if number == 0:
            return None
    return polygon(rings[0], rings[1:])


def with_corner_at(form: Form, index: int, to: Point) -> Form:
    """The form with a corner at a typed place; of a circle, with its middle there."""
    if isinstance(form, Circle):
        return Circle(*to, form.radius)
    return moved_grip(form, Grip(0, "corner", index), to, to)


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


FORMS = (
    "Full",
    "Upper half",
    "Lower half",
    "Slope up",
    "Slope down",
    "Low slope up",
    "High slope up",
    "High slope down",
    "Low slope down",
    "Steps up",
    "Steps down",
)


def common_forms(size: Size) -> dict[str, Form]:
    """The forms that most tiles have, as large as a tile."""
    width, height = size
    half = height / 2
    left, right = Point(0, height), Point(width, height)
    forms = (
        Box(0, 0, width, height),
        Box(0, 0, width, half),
        Box(0, half, width, half),
        polygon([left, right, Point(width, 0)]),
        polygon([left, right, Point(0, 0)]),
        polygon([left, right, Point(width, half)]),
        polygon([left, right, Point(width, 0), Point(0, half)]),
        polygon([left, right, Point(width, half), Point(0, 0)]),
        polygon([left, right, Point(0, half)]),
        polygon([left, right, *_steps(size)]),
        polygon([right, left, *(Point(width - x, y) for x, y in _steps(size))]),
    )
    return dict(zip(FORMS, forms, strict=True))


def form_words(form: str) -> str:
    """One of the common forms in the user's language."""
    return say(form)


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


def _ring_of(form: Form, index: int) -> tuple[int, int]:
    """Which ring a corner belongs to, and its place in it."""
    for number, ring in enumerate(form.rings):
        if index < len(ring):
            return number, index
        index -= len(ring)
    raise IndexError(index)


def _edges(form: Form) -> list[tuple[Point, Point]]:
    return [
        (corner, ring[(place + 1) % len(ring)])
        for ring in form.rings
        for place, corner in enumerate(ring)
    ]


def _apart(one: Point, other: Point) -> float:
    return float(((one.x - other.x) ** 2 + (one.y - other.y) ** 2) ** 0.5)


def _from_edge(start: Point, end: Point, place: Point) -> float:
    dx, dy = end.x - start.x, end.y - start.y
    length = dx * dx + dy * dy
    part = ((place.x - start.x) * dx + (place.y - start.y) * dy) / length if length else 0
    part = min(max(part, 0), 1)
    return _apart(Point(start.x + part * dx, start.y + part * dy), place)
