"""What is attached to a piece, and how it goes along when its rectangle or its picture changes.

This is the one place that moves pivots, offsets, points, shapes, borders and sided facts: whatever
cuts, turns, enlarges or reads anew says where a pixel of the old picture lies on the new one.

      old picture                  new picture
    +-----------------+          +-----------------+
    |  rect           |   move   |     rect        |
    |  +------+       |  ----->  |     +--------+  |
    |  |   x--+-------+----------+-----+-> x    |  |   x: a pivot, a corner of a shape …
    |  +------+       |          |     +--------+  |
    +-----------------+          +-----------------+
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from rushweed.core.orientation import AS_DRAWN
from rushweed.core.project.shape import Box, Circle, Form, Polygon, Shape
from rushweed.core.project.sheet import Borders, Piece
from rushweed.core.project.turning import turned_facts, turned_side
from rushweed.core.values import Point, Rect, Size

Move = Callable[[Point], Point]
"""Where a point of the old picture comes to lie on the new one, both in whole pictures' pixels."""


def still(point: Point) -> Point:
    """The same picture: every point stays where it is."""
    return point


def carried(piece: Piece, rect: Rect, move: Move = still, turn: int = AS_DRAWN) -> Piece:
    """The piece with another rectangle, and all that is attached to it on the pixels where it was.

    `turn` is the turn and flip that `move` does, one of the eight of a square.
    """
    old = piece.rect

    def place(point: Point) -> Point:
        x, y = move(Point(old.x + point.x, old.y + point.y))
        return Point(x - rect.x, y - rect.y)

    zero, offset, corner = (move(point) for point in (Point(0, 0), piece.offset, Point(1, 1)))
    tall = abs(corner.y - zero.y)
    facts = turned_facts(piece.facts, turn)
    if facts.wade:
        facts = replace(facts, wade=round(facts.wade * tall))
    return replace(
        piece,
        rect=rect,
        pivot=place(piece.pivot),
        offset=Point(offset.x - zero.x, offset.y - zero.y),
        shapes=piece.shapes and tuple(moved_shape(shape, place, turn) for shape in piece.shapes),
        points=piece.points_moved(place),
        borders=piece.borders and _carried_borders(piece, rect.size, place, turn),
        facts=facts,
    )


def taken_along(pieces: Iterable[Piece], across: int, down: int) -> tuple[Piece, ...]:
    """The pieces where their pixels were moved to, with the same place of all within them."""
    return tuple(replace(piece, rect=piece.rect.moved(across, down)) for piece in pieces)


def moved_shape(shape: Shape, move: Move, turn: int = AS_DRAWN) -> Shape:
    """A shape with all its corners moved, and its side turned alike."""
    return replace(
        shape, form=moved_form(shape.form, move, turn), side=turned_side(shape.side, turn)
    )


def moved_form(form: Form, move: Move, turn: int = AS_DRAWN) -> Form:
    """A form with all its corners moved; a mirrored polygon still runs counter-clockwise."""
    if isinstance(form, Box):
        left, top, right, bottom = _box(move(form.corners[0]), move(form.corners[2]))
        return Box(left, top, right - left, bottom - top)
    if isinstance(form, Circle):
        middle = move(Point(form.x, form.y))
        rim = move(Point(form.x + form.radius, form.y))
        return Circle(*middle, abs(rim.x - middle.x) + abs(rim.y - middle.y))
    mirrors = turn.bit_count() % 2 == 1
    rings = [tuple(map(move, ring)) for ring in form.rings]
    outer, *holes = [ring[::-1] if mirrors else ring for ring in rings]
    return Polygon(outer, tuple(holes))


def _carried_borders(piece: Piece, size: Size, place: Move, turn: int) -> Borders:
    """Borders whose lines stay on the picture. A side that has none gets none, and lines that would
    cross or lie outside leave a pixel of the middle."""
    old = piece.borders or Borders()
    right, bottom = piece.rect.width - old.right, piece.rect.height - old.bottom
    box = _box(place(Point(old.left, old.top)), place(Point(right, bottom)))
    left, top = (min(max(0, round(at)), side - 1) for at, side in zip(box, size, strict=False))
    right, bottom = (max(0, round(side - at)) for at, side in zip(box[2:], size, strict=True))
    if turn == AS_DRAWN:
        left, top = left if old.left else 0, top if old.top else 0
        right, bottom = right if old.right else 0, bottom if old.bottom else 0
    right, bottom = min(right, size.width - left - 1), min(bottom, size.height - top - 1)
    return replace(old, left=left, top=top, right=right, bottom=bottom)


def _box(first: Point, second: Point) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of the box with these opposite corners."""
    left, right = sorted((first.x, second.x))
    top, bottom = sorted((first.y, second.y))
    return left, top, right, bottom
