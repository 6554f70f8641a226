"""Changing cells: strokes, fills, picking up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rushweed.core.orientation import FLIPPED, quarter
from rushweed.core.project.cells import Cells, Key
from rushweed.core.values import Rect, Refusal

LARGEST_FILL = 1_000_000
ALONE = 8
"""Filling an empty layer paints this many cells each way from where one clicked."""


@dataclass(frozen=True, slots=True)
class Brush:
    """A block of pieces to paint with: rows of (number, orientation), upper left first."""

    rows: tuple[tuple[tuple[int, int], ...], ...]

    @property
    def width(self) -> int:
        return len(self.rows[0])

    @property
    def height(self) -> int:
        return len(self.rows)

    def at(self, column: int, row: int) -> tuple[int, int]:
        """What the brush puts at a cell when repeated over the plane."""
        return self.rows[row % self.height][column % self.width]

    def numbers(self) -> set[int]:
        """The pieces it holds."""
        return {number for row in self.rows for number, _ in row if number}


ERASER = Brush((((0, 0),),))


def single(number: int, orientation: int = 0) -> Brush:
    """A brush of one piece."""
    return Brush((((number, orientation),),))


def mirrored(brush: Brush, flip: int) -> Brush:
    """The brush mirrored as a whole and tile by tile; `flip` is FLIPPED or FLIPPED_DOWN."""
    rows = [[(n, o ^ flip if n else 0) for n, o in line] for line in brush.rows]
    rows = [line[::-1] for line in rows] if flip == FLIPPED else rows[::-1]
    return Brush(tuple(map(tuple, rows)))


def quarter_turned(brush: Brush) -> Brush:
    """The brush turned by a quarter, clockwise, as a whole and tile by tile."""
    lines = zip(*brush.rows[::-1], strict=True)
    return Brush(tuple(tuple((n, quarter(o) if n else 0) for n, o in line) for line in lines))


def stroke(cells: Cells, brush: Brush, start: Key, end: Key) -> Cells:
    """Paint with the brush along a straight line of cells, both ends included.

    A larger brush is laid down so that its repetition stays in place along the stroke.
    """
    changes: dict[Key, tuple[int, int]] = {}
    for column, row in line(start, end):
        for down in range(brush.height):
            for across in range(brush.width):
                value = brush.rows[down][across]
                if value[0] or brush is ERASER:
                    changes[column + across, row + down] = value
    return _painted(cells, changes)


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


def fill(cells: Cells, brush: Brush, start: Key) -> Cells:
    """Paint all cells that hang together with `start`, by sides, and hold the same piece.

    Emptiness is filled within the rectangle around what is painted. Raises Refusal when the
    area is larger than 1 000 000 cells.
    """
    from scipy import ndimage

    place = Rect(*start, 1, 1)
    around = cells.bounds().union(place)
    if cells.at(*start)[0] == 0:
        around = _enclosing(around)
    if around.area > LARGEST_FILL * 4:
        raise Refusal("That area is too large to fill at once. Close it off with tiles first.")
    numbers, _ = cells.window(around)
    same = numbers == cells.at(*start)[0]
    labels, _ = ndimage.label(same)
    inside = labels == labels[start[1] - around.y, start[0] - around.x]
    if inside.sum() > LARGEST_FILL:
        raise Refusal("That area is too large to fill at once. Close it off with tiles first.")
    changes = {
        (column, row): brush.at(column - start[0], row - start[1])
        for row, column in (np.argwhere(inside) + np.array([around.y, around.x])).tolist()
    }
    return _painted(cells, changes)


def pick(cells: Cells, area: Rect) -> Brush:
    """The block of cells painted there, as a brush."""
    numbers, orientations = cells.window(area)
    rows = (
        zip(*pair, strict=True)
        for pair in zip(numbers.tolist(), orientations.tolist(), strict=True)
    )
    return Brush(tuple(tuple(row) for row in rows))  # fmt: skip


def _enclosing(area: Rect) -> Rect:
    margin = 0 if area.area > 1 else ALONE
    return Rect(area.x - margin, area.y - margin, area.width + 2 * margin, area.height + 2 * margin)


def _painted(cells: Cells, changes: dict[Key, tuple[int, int]]) -> Cells:
    different = {place: value for place, value in changes.items() if cells.at(*place) != value}
    return cells.painted(different) if different else cells
