"""Changing cells: strokes, rectangles, fills, picking up, moving parts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from rushweed.core.arrays import Mask, Numbers
from rushweed.core.orientation import FLIPPED, quarter
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Mix
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.chance import chosen

LARGEST_FILL = 16_000_000
ALONE = 8
"""Filling an empty layer paints this many cells each way from where one clicked."""

FillBy = Literal["tile", "ground", "emptiness", "all alike"]
Tile = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Brush:
    """A block of pieces to paint with: rows of (number, orientation), upper left first. With a
    `mix`, one of its tiles at random takes the place of each."""

    rows: tuple[tuple[Tile, ...], ...]
    mix: Mix | None = None

    @property
    def width(self) -> int:
        return len(self.rows[0])

    @property
    def height(self) -> int:
        return len(self.rows)

    def at(self, column: int, row: int) -> Tile:
        """What the brush puts at a cell when repeated over the plane."""
        tile = self.rows[row % self.height][column % self.width]
        return self.mixed(tile, column, row)

    def mixed(self, tile: Tile, column: int, row: int) -> Tile:
        """A tile of the brush as it is put down at a cell."""
        if self.mix is None or not tile[0]:
            return tile
        return chosen(self.mix.tiles, column, row), tile[1]

    def numbers(self) -> set[int]:
        """The pieces it holds."""
        held = {number for row in self.rows for number, _ in row if number}
        return held | {number for number, _ in self.mix.tiles} if self.mix else held


ERASER = Brush((((0, 0),),))


def single(number: int, orientation: int = 0) -> Brush:
    """A brush of one piece."""
    return Brush((((number, orientation),),))


def mirrored(brush: Brush, flip: int) -> Brush:
    """The brush mirrored as a whole and tile by tile; `flip` is FLIPPED or FLIPPED_DOWN."""
    rows = [[(n, o ^ flip if n else 0) for n, o in line] for line in brush.rows]
    rows = [line[::-1] for line in rows] if flip == FLIPPED else rows[::-1]
    return Brush(tuple(map(tuple, rows)), brush.mix)


def quarter_turned(brush: Brush) -> Brush:
    """The brush turned by a quarter, clockwise, as a whole and tile by tile."""
    lines = zip(*brush.rows[::-1], strict=True)
    rows = tuple(tuple((n, quarter(o) if n else 0) for n, o in line) for line in lines)
    return Brush(rows, brush.mix)


def stroke(cells: Cells, brush: Brush, start: Key, end: Key) -> Cells:
    """Paint with the brush along a straight line of cells, both ends included."""
    return dabbed(cells, brush, line(start, end))


def dabbed(cells: Cells, brush: Brush, places: Iterable[Key]) -> Cells:
    """Put the brush down at each of the places, its upper left corner there."""
    changes: dict[Key, Tile] = {}
    for column, row in places:
        for down in range(brush.height):
            for across in range(brush.width):
                value = brush.rows[down][across]
                if value[0] or brush is ERASER:
                    place = column + across, row + down
                    changes[place] = brush.mixed(value, *place)
    return _painted(cells, changes)


def beside(place: Key, first: Key, brush: Brush) -> Key:
    """Where a brush lies that covers a place and is laid edge to edge with itself from `first`."""
    x, y = place[0] - first[0], place[1] - first[1]
    return place[0] - x % brush.width, place[1] - y % brush.height


def line(start: Key, end: Key) -> Iterator[Key]:
    """The cells of a straight line without gaps (J. E. Bresenham, IBM Systems Journal, 1965)."""
    (x, y), (end_x, end_y) = start, end
    across, down = abs(end_x - x), -abs(end_y - y)
    step_x, step_y = (1 if x < end_x else -1), (1 if y < end_y else -1)
    error = across + down
    while True:
        yield x, y
        if (x, y) == end:
            return
        twice = 2 * error
        if twice >= down:
            error += down
            x += step_x
        if twice <= across:
            error += across
            y += step_y


def rectangle(cells: Cells, brush: Brush, area: Rect) -> Cells:
    """Fill a rectangle with the brush, repeated from its upper left corner."""
    if area.area > LARGEST_FILL:
        raise Refusal("That rectangle is too large to fill at once. Draw smaller ones.")
    return laid(cells, brush, area, np.ones((area.height, area.width), bool), (area.x, area.y))


def room(cells: Cells, nine: Brush, area: Rect, walls: int) -> Cells:
    """Draw a room with walls so many cells thick out of the nine tiles of a block of ground: its
    upper side is the room's floor, and so all round; in corners, and farther out, its middle."""
    inside = hollow(area, walls)
    middle = nine.rows[1][1]
    faces: dict[Key, tuple[int, int]] = {}
    for x in range(inside.x, inside.right):
        faces[x, inside.y - 1], faces[x, inside.bottom] = nine.rows[2][1], nine.rows[0][1]
    for y in range(inside.y, inside.bottom):
        faces[inside.x - 1, y], faces[inside.right, y] = nine.rows[1][2], nine.rows[1][0]
    return cells.painted({place: faces.get(place, middle) for place in ring(area, walls)})


def stretched(cells: Cells, nine: Brush, area: Rect) -> Cells:
    """Draw the nine tiles of a block over an area: its corners and sides stay there, its middle
    fills what is between.

        a b c        a b b b c
        d e f   ->   d e e e f
        g h i        g h h h i
    """
    if area.area > LARGEST_FILL:
        raise Refusal("That rectangle is too large to fill at once. Draw smaller ones.")

    def of(place: int, first: int, last: int) -> int:
        return 0 if place == first else 2 if place == last else 1

    return cells.painted(
        {
            (x, y): nine.rows[of(y, area.y, area.bottom - 1)][of(x, area.x, area.right - 1)]
            for y in range(area.y, area.bottom)
            for x in range(area.x, area.right)
        }
    )


def ring(area: Rect, walls: int) -> Iterator[Key]:
    """The cells of walls so many cells thick along the inside of an area's edge."""
    if area.area > LARGEST_FILL:
        raise Refusal("That rectangle is too large to fill at once. Draw smaller ones.")
    inside = hollow(area, walls)
    for y in range(area.y, area.bottom):
        for x in range(area.x, area.right):
            if not inside.contains(x, y):
                yield x, y


def hollow(area: Rect, walls: int) -> Rect:
    """What is inside of walls so many cells thick; empty for none, and where there is no room."""
    if not walls or 2 * walls >= min(area.width, area.height):
        return Rect(area.x, area.y, 0, 0)
    return area.grown(-walls)


def fill_area(
    cells: Cells,
    start: Key,
    by: FillBy = "tile",
    grounds: Mapping[int, int] | None = None,
    within: Rect | None = None,
) -> tuple[Rect, Mask]:
    """The cells that hang together with `start`, by sides, and are like it: hold the same piece,
    ground of the same kind (`grounds` by piece number), or nothing or anything; or all that hold
    the same piece, wherever they are. They are marked in an array of the shape (height, width) of
    the rectangle that is given with it.

    Emptiness is filled within the rectangle around what is painted, or that of `within`. Raises
    Refusal when the area is absurdly large.
    """
    from scipy import ndimage

    around = within or cells.bounds().union(Rect(*start, 1, 1))
    if within is None and cells.at(*start)[0] == 0:
        around = _enclosing(around)
    if not around.contains(*start):
        return Rect(*start, 1, 1), np.zeros((1, 1), np.bool_)
    if around.area > LARGEST_FILL:
        raise Refusal("That area is too large to fill at once. Close it off with tiles first.")
    numbers, _ = cells.window(around)
    same = _alike(numbers, cells.at(*start)[0], by, grounds or {})
    if by == "all alike":
        return around, same
    labels, _ = ndimage.label(same)
    return around, labels == labels[start[1] - around.y, start[0] - around.x]


def fill_under(cells: Cells, brush: Brush, within: Rect | None = None) -> Cells:
    """Fill all that is empty below the uppermost tile of each column, down to the end of what is
    painted, or of a part. Raises Refusal when that is absurdly large."""
    area = within or cells.bounds()
    if area.area > LARGEST_FILL:
        raise Refusal("That area is too large to fill at once. Select a part of it first.")
    numbers, _ = cells.window(area)
    painted = numbers > 0
    below = np.logical_or.accumulate(painted, axis=0) & ~painted
    return laid(cells, brush, area, below, (area.x, area.y))


def pick(cells: Cells, area: Rect) -> Brush:
    """The block of cells painted there, as a brush."""
    numbers, orientations = cells.window(area)
    rows = (
        zip(*pair, strict=True)
        for pair in zip(numbers.tolist(), orientations.tolist(), strict=True)
    )
    return Brush(tuple(tuple(row) for row in rows))  # fmt: skip


def moved(cells: Cells, area: Rect, across: int, down: int, copy: bool = False) -> Cells:
    """Move or copy what is painted in an area by so many cells; empty cells of it lay nothing."""
    if not (across or down):
        return cells
    numbers, orientations = cells.window(area)
    if not copy:
        cells = cells.overlaid(area, np.zeros_like(numbers), orientations)
    there = Rect(area.x + across, area.y + down, area.width, area.height)
    return cells.overlaid(there, numbers, orientations, numbers > 0)


def spread(cells: Cells, at: int, count: int, rows: bool) -> Cells:
    """Put `count` empty rows (or columns) in before row (or column) `at`; take that many away from
    there for a negative count."""
    area = cells.bounds()
    first, last = (area.y, area.bottom) if rows else (area.x, area.right)
    result = Cells()
    for low, high, shift in ((first, at, 0), (at + max(-count, 0), last, count)):
        low, high = max(low, first), min(high, last)
        if high > low:
            part = _band(area, low, high, rows)
            numbers, orientations = cells.window(part)
            there = _band(area, low + shift, high + shift, rows)
            result = result.overlaid(there, numbers, orientations)
    return result


def _band(area: Rect, low: int, high: int, rows: bool) -> Rect:
    """The part of an area between two rows, or columns."""
    if rows:
        return Rect(area.x, low, area.width, high - low)
    return Rect(low, area.y, high - low, area.height)


def cropped(cells: Cells, area: Rect) -> Cells:
    """What is painted inside of an area alone."""
    bounds = cells.bounds()
    if bounds.intersection(area) == bounds:
        return cells
    numbers, orientations = cells.window(area)
    return Cells().overlaid(area, numbers, orientations)


def mirror_places(places: Iterable[Key], axis: float, width: int = 1) -> list[Key]:
    """Where the places of a brush that wide come to lie beyond an upright axis, given in cells."""
    return [(round(2 * axis) - column - width, row) for column, row in places]


def _alike(numbers: Numbers, here: int, by: FillBy, grounds: Mapping[int, int]) -> Mask:
    if by == "emptiness":
        same: Mask = (numbers == 0) == (here == 0)
    elif by == "ground" and here in grounds:
        alike = [number for number, kind in grounds.items() if kind == grounds[here]]
        same = np.isin(numbers, alike)
    else:
        same = numbers == here
    return same


def laid(cells: Cells, brush: Brush, area: Rect, where: Mask, origin: Key) -> Cells:
    """Lay the brush, repeated from an origin, on the marked cells of an area."""
    if not where.any():
        return cells
    if brush.mix is not None:
        marked = np.argwhere(where) + np.array([area.y, area.x])
        return _painted(cells, {(x, y): brush.at(x, y) for y, x in marked.tolist()})
    block = np.array(brush.rows)
    numbers, turns = block[..., 0].astype(np.int32), block[..., 1].astype(np.uint8)
    across = (np.arange(area.x, area.right) - origin[0]) % brush.width
    down = (np.arange(area.y, area.bottom) - origin[1]) % brush.height
    numbers, turns = numbers[np.ix_(down, across)], turns[np.ix_(down, across)]
    if brush.rows != ERASER.rows:
        where = where & (numbers > 0)
    return cells.overlaid(area, numbers, turns, where)


def _enclosing(area: Rect) -> Rect:
    margin = 0 if area.area > 1 else ALONE
    return Rect(area.x - margin, area.y - margin, area.width + 2 * margin, area.height + 2 * margin)


def _painted(cells: Cells, changes: Mapping[Key, Tile]) -> Cells:
    different = {place: value for place, value in changes.items() if cells.at(*place) != value}
    return cells.painted(different) if different else cells
