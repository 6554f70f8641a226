"""What one can stand on in a level seen from the side, and where that is level and free."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.project.body import Path
from rushweed.core.walk.many_movers import ManyMovers
from rushweed.core.walk.slab_table import in_turns
from rushweed.core.walk.world import World

Cell = tuple[int, int]
Box = tuple[float, float, float, float]
"""Left, top, right and bottom."""


class Floors(NamedTuple):
    """Upper sides of something solid with air above: the cells that feet on them are in, where they
    are, in pixels, and the room above; all of shape (count,)."""

    columns: AnyWhole
    rows: AnyWhole
    x: Reals
    y: Reals
    room: Reals

    def only(self, which: Mask | AnyWhole) -> Floors:
        """These alone."""
        return Floors(
            self.columns[which], self.rows[which], self.x[which], self.y[which], self.room[which]
        )

    def and_more(self, others: Floors) -> Floors:
        """These, and then others."""
        return Floors(
            np.concatenate((self.columns, others.columns)),
            np.concatenate((self.rows, others.rows)),
            np.concatenate((self.x, others.x)),
            np.concatenate((self.y, others.y)),
            np.concatenate((self.room, others.room)),
        )

    def cells(self) -> list[Cell]:
        """The cells, each by its column and row."""
        return list(zip(self.columns.tolist(), self.rows.tolist(), strict=True))


def floors(ground: World, at: float = 0.5) -> Floors:
    """Every upper side of something that carries, at a part of the width of each cell."""
    table, (width, height) = ground.table, ground.project.rules.tile
    columns, rows = np.nonzero(table.filled().T)
    x = ((columns + table.area.x) * width + width * at).astype(np.float64)
    upper = ((rows + table.area.y) * height).astype(np.float64)
    met = table.meetings(x - 0.5, upper, x + 0.5, upper)
    top = met.top_at(x[met.box])
    fits = table.carries[met.slab] & (met.left <= x[met.box]) & (x[met.box] <= met.right)
    fits &= (upper[met.box] <= top) & (top < upper[met.box] + height)
    highest = np.full(len(x), np.inf)
    np.minimum.at(highest, met.box[fits], top[fits])
    found = np.flatnonzero(np.isfinite(highest))
    x, y = x[found], highest[found]
    thin = ManyMovers.alike(table, len(found), 0.5, 0.5)
    above, _, _ = thin.down(x, y - 0.25, np.full(len(found), -(ground.height + height)))
    room = y - above + 0.5
    feet = np.floor_divide(y - 1e-6, height).astype(np.int64)
    all_floors = Floors(columns[found] + table.area.x, feet, x, y, room)
    return all_floors.only((room > 1) & ~thin.covered(x, y - 0.25))


def level_cells(ground: World, standing: Mapping[Cell, float]) -> frozenset[Cell]:
    """Of the cells that one can stand in, with the height of the feet, those all across which the
    floor is level and nothing is in the way, so that one walks through as a matter of course."""
    cells = list(standing)
    width = ground.project.rules.tile.width
    left = np.array([column for column, _ in cells], np.float64) * width
    y = np.array(list(standing.values()), np.float64)
    right, first, last = left + width, left - ground.half, left + width + ground.half
    head = y - ground.height
    met = ground.table.meetings(first, head, last, y)
    box = met.box
    top, bottom = met.top_between(first[box], last[box]), met.bottom_between(first[box], last[box])
    free = np.ones(len(cells), bool)
    free[box[ground.table.walls[met.slab] & (top < y[box]) & (bottom > head[box])]] = False
    for way in ways_of_bodies(ground):
        free &= (way[0] >= last) | (way[2] <= first) | (way[1] > y) | (way[3] < head)
    flat = (top == y[box]) & (met.top_left == met.top_right) & ground.table.carries[met.slab]
    met = met.only(flat)
    reached = left.copy()
    for pair in in_turns(met.box, met.left):
        which = met.box[pair]
        joins = met.left[pair] <= reached[which]
        reached[which[joins]] = np.maximum(reached[which[joins]], met.right[pair[joins]])
    good = free & (reached >= right)
    return frozenset(cell for cell, is_good in zip(cells, good.tolist(), strict=True) if is_good)


def goes_without_saying(
    cell: Cell, by: int, standing: Mapping[Cell, float], level: Collection[Cell]
) -> bool:
    """Whether one walks from the middle of a cell to that of the next one, so many columns aside,
    as a matter of course."""
    beside = cell[0] + by, cell[1]
    return cell in level and beside in level and standing[beside] == standing[cell]


def ways_of_bodies(ground: World) -> list[Box]:
    """All that each body may cover while it moves, with a little around."""
    return [_way_of(ground, number) for number in range(len(ground.moving.bodies))]


def _way_of(ground: World, number: int) -> Box:
    body, tile = ground.moving.bodies[number], ground.project.rules.tile
    if body.box is None:
        return (0.0, 0.0, 0.0, 0.0)
    points = [(0.0, 0.0), *((body.path or Path(())).points)]
    xs, ys = zip(*points, strict=True)
    left, top, right, bottom = body.box
    aside = 8 * tile.width if body.kind == "pushed" else tile.width
    below = 8 * tile.height if body.kind in ("pushed", "falls") else tile.height
    return (
        body.start.x + left + min(xs) - aside,
        body.start.y + top + min(ys) - tile.height,
        body.start.x + right + max(xs) + aside,
        body.start.y + bottom + max(ys) + below,
    )
