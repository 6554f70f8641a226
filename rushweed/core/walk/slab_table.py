"""All that is solid in a level as arrays, for many boxes at once."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.bound.slabs import Slab
from rushweed.core.values import Rect, Size
from rushweed.core.walk.mover import TOUCH
from rushweed.core.walk.solids import Solids

MARGIN = 2
"""Cells around all that is solid."""
MOST_CELLS = 16_000_000
"""Where what is placed freely would make the table larger than this, only what is near to painted
cells is in it."""

EDGES = ("left", "right", "top_left", "top_right", "bottom_left", "bottom_right")


@dataclass(frozen=True, slots=True)
class Meetings:
    """Boxes and the slabs that they may touch, a pair in each place: `box` is the number of a box,
    `slab` that of a slab in its table, with the edges of that slab as `Slab` has them."""

    box: AnyWhole
    slab: AnyWhole
    left: Reals
    right: Reals
    top_left: Reals
    top_right: Reals
    bottom_left: Reals
    bottom_right: Reals

    def only(self, which: Mask | AnyWhole) -> Meetings:
        """These pairs alone."""
        return Meetings(*(getattr(self, name)[which] for name in self.__slots__))

    def top_at(self, x: Reals) -> Reals:
        """The heights of the upper edges."""
        part = (x - self.left) / (self.right - self.left)
        sloped = self.top_left + (self.top_right - self.top_left) * part
        return np.where(self.top_left == self.top_right, self.top_left, sloped)

    def bottom_at(self, x: Reals) -> Reals:
        """The heights of the lower edges."""
        part = (x - self.left) / (self.right - self.left)
        sloped = self.bottom_left + (self.bottom_right - self.bottom_left) * part
        return np.where(self.bottom_left == self.bottom_right, self.bottom_left, sloped)

    def top_between(self, left: Reals, right: Reals) -> Reals:
        """The highest places of the upper edges within spans."""
        left, right = np.maximum(left, self.left), np.minimum(right, self.right)
        return np.minimum(self.top_at(left), self.top_at(right))

    def bottom_between(self, left: Reals, right: Reals) -> Reals:
        """The lowest places of the lower edges within spans."""
        left, right = np.maximum(left, self.left), np.minimum(right, self.right)
        return np.maximum(self.bottom_at(left), self.bottom_at(right))

    def overlap(self, x: Reals, y: Reals, half: Reals, height: Reals) -> Mask:
        """Whether boxes that stand there overlap the slabs, as `Mover.overlaps` has it."""
        left, right = np.maximum(x - half, self.left), np.minimum(x + half, self.right)
        above = self.top_between(left, right) < y - TOUCH
        return (
            (right - left > TOUCH) & above & (self.bottom_between(left, right) > y - height + TOUCH)
        )


def in_turns(box: AnyWhole, *keys: Reals) -> Iterator[AnyWhole]:
    """The places of pairs, one of each box at a time, in the order of the keys, the last the
    first to go by."""
    order = np.lexsort((*keys, box))
    turn = np.arange(len(order)) - np.searchsorted(box[order], box[order])
    for number in range(int(turn.max(initial=-1)) + 1):
        yield order[turn == number]


class Grid:
    """Cells of a level; `area` are those that there are."""

    def __init__(self, area: Rect, tile: Size) -> None:
        self.area, self.tile = area, tile

    def columns(self, x: Reals) -> AnyWhole:
        """The columns of `area` that places lie in; the outermost ones for what is outside."""
        columns = np.floor(x / self.tile.width).astype(np.int64) - self.area.x
        return np.minimum(np.maximum(columns, 0), self.area.width - 1)

    def rows(self, y: Reals) -> AnyWhole:
        """The rows of `area` that heights lie in; the outermost ones for what is outside."""
        rows = np.floor(y / self.tile.height).astype(np.int64) - self.area.y
        return np.minimum(np.maximum(rows, 0), self.area.height - 1)


class Counted:
    """Which cells of a grid are marked, to be asked for by boxes."""

    def __init__(self, grid: Grid, marked: Mask) -> None:
        self._grid = grid
        sums = marked.astype(np.int32).cumsum(axis=0).cumsum(axis=1)
        self._sums = np.pad(sums, ((1, 0), (1, 0)))
        """Of all cells above and to the left of each corner."""

    def any_in(self, left: Reals, top: Reals, right: Reals, bottom: Reals) -> Mask:
        """Whether a marked cell lies in each of many boxes."""
        first, last = self._grid.columns(left), self._grid.columns(right) + 1
        above, below = self._grid.rows(top), self._grid.rows(bottom) + 1
        sums = self._sums
        inside = sums[below, last] - sums[above, last] - sums[below, first] + sums[above, first]
        found: Mask = inside > 0
        return found


class SlabTable(Grid):
    """The slabs of a level, each with the cells that it reaches into.

    `area` are the cells it has, and `is_whole` says whether nothing lies outside; `walls` tells of
    each slab whether it stops all sides, `carries` whether one can stand on it, `lids` whether it
    stops a head, `valves` whether it stops what comes from one side alone; `pieces` are the numbers
    of their pieces, `sums` the cells that something reaches into.
    """

    def __init__(self, solids: Solids, painted: Rect, tile: Size) -> None:
        around = painted.grown(MARGIN)
        for slab in solids.free:
            around = around.union(_reached(slab, tile).grown(MARGIN))
        self.is_whole = around.area <= MOST_CELLS
        super().__init__(around if self.is_whole else painted.grown(MARGIN), tile)
        kinds: list[Slab] = []
        placed: list[tuple[int, AnyWhole, AnyWhole]] = []
        for slab, columns, rows in solids.of_cells():
            placed.append((len(kinds), columns, rows))
            kinds.append(slab)
        here = np.zeros(1, np.int64)
        for slab in solids.free:
            placed.append((len(kinds), here, here))
            kinds.append(slab)
        edges = [[getattr(kind, name) for kind in kinds] for name in EDGES]
        self._kinds = np.array(edges, np.float64)
        """The edges of each kind of slab, of shape (6, kinds)."""
        counts = [len(columns) for _, columns, _ in placed]
        self._kind = np.repeat(np.arange(len(kinds), dtype=np.int32), counts)
        self._x = _joined(columns * tile.width for _, columns, _ in placed).astype(np.int32)
        self._y = _joined(rows * tile.height for _, _, rows in placed).astype(np.int32)
        self.walls = np.array([k.stops == "all sides" for k in kinds], bool)[self._kind]
        self.carries = np.array([k.carries for k in kinds], bool)[self._kind]
        self.lids = self.walls | np.array([k.side == "below" for k in kinds], bool)[self._kind]
        self.valves = ~self.walls & ~self.lids & ~self.carries
        self.pieces = np.array([k.piece for k in kinds], np.int64)[self._kind]
        self._starts, self._members = self._by_cell(kinds, placed)
        self.sums = Counted(self, self.filled())

    @property
    def lowest(self) -> float:
        """Below this height in pixels nothing is solid."""
        return float(self.area.bottom * self.tile.height)

    def filled(self) -> Mask:
        """The cells of `area` that something solid reaches into."""
        return (np.diff(self._starts) > 0).reshape(self.area.height, self.area.width)

    def cells_of(self, slabs: Mask) -> Mask:
        """The cells of `area` that some slabs reach into."""
        touched = np.repeat(np.arange(self.area.area), np.diff(self._starts))
        found = np.zeros(self.area.area, bool)
        found[touched[slabs[self._members]]] = True
        return found.reshape(self.area.height, self.area.width)

    def meetings(self, left: Reals, top: Reals, right: Reals, bottom: Reals) -> Meetings:
        """Every slab that reaches between the sides of a box, of each of many boxes, and that may
        touch it; some come twice."""
        first, last = self.columns(left), self.columns(right)
        above, below = self.rows(top), self.rows(bottom)
        boxes, members = [], []
        numbers = np.arange(len(left))
        for down in range(int((below - above).max(initial=-1)) + 1):
            row = np.minimum(above + down, below) * self.area.width
            begin = self._starts[row + first]
            count = self._starts[row + last + 1] - begin
            count[above + down > below] = 0
            ends = np.cumsum(count)
            if ends.size and ends[-1]:
                boxes.append(np.repeat(numbers, count))
                members.append(np.arange(ends[-1]) + np.repeat(begin - (ends - count), count))
        box = np.concatenate(boxes) if boxes else numbers[:0]
        slab = self._members[np.concatenate(members)] if members else numbers[:0]
        begins, ends = self.sides(slab)
        between = (begins < right[box]) & (ends > left[box])
        box, slab = box[between], slab[between]
        heights = np.take(self._kinds[2:], self._kind[slab], axis=1) + self._y[slab]
        return Meetings(box, slab, begins[between], ends[between], *heights)

    def sides(self, slabs: AnyWhole) -> tuple[Reals, Reals]:
        """The left and right sides of slabs."""
        left, right = np.take(self._kinds[:2], self._kind[slabs], axis=1) + self._x[slabs]
        return left, right

    def _by_cell(
        self, kinds: list[Slab], placed: list[tuple[int, AnyWhole, AnyWhole]]
    ) -> tuple[AnyWhole, AnyWhole]:
        """The slabs cell after cell, and where those of each cell begin among them."""
        cells, slabs, first = [], [], 0
        for kind, columns, rows in placed:
            numbers = np.arange(first, first + len(columns))
            first += len(columns)
            reached = _reached(kinds[kind], self.tile)
            for dy in range(reached.y, reached.bottom):
                for dx in range(reached.x, reached.right):
                    column, row = columns + dx - self.area.x, rows + dy - self.area.y
                    inside = (column >= 0) & (column < self.area.width)
                    inside &= (row >= 0) & (row < self.area.height)
                    cells.append((row * self.area.width + column)[inside])
                    slabs.append(numbers[inside])
        cell, member = _joined(cells), _joined(slabs)
        order = np.argsort(cell, kind="stable")
        counts = np.bincount(cell, minlength=self.area.area)
        starts = np.concatenate(([0], np.cumsum(counts)))
        return starts.astype(np.int32), member[order].astype(np.int32)


def _reached(slab: Slab, tile: Size) -> Rect:
    """The cells that a slab reaches into."""
    top = int(min(slab.top_left, slab.top_right) // tile.height)
    bottom = math.ceil(max(slab.bottom_left, slab.bottom_right) / tile.height)
    left, right = int(slab.left // tile.width), math.ceil(slab.right / tile.width)
    return Rect(left, top, right - left, bottom - top)


def _joined(parts: Iterable[AnyWhole]) -> AnyWhole:
    return np.concatenate([np.zeros(0, np.int64), *parts])
