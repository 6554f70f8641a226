"""Many boxes moved among slabs at once, each as a `Mover` would move it."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.walk.mover import LARGEST_STEP, LIP, STEEPEST, TOUCH
from rushweed.core.walk.slab_table import Meetings, SlabTable, in_turns

NOTHING = -1
"""In place of a slab's number."""
HALVINGS = 30
NEARLY = TOUCH - 1e-9
"""Pixels that a box may share with a wall beside it, and does not touch it yet."""


class ManyMovers:
    """Boxes that stand at the middle of their lower edges, each `2 * half` wide and `height` high;
    all arrays are of shape (boxes,). What stops one side alone is not stopped by here."""

    def __init__(self, table: SlabTable, half: Reals, height: Reals) -> None:
        self.table, self.half, self.height = table, half, height

    @classmethod
    def alike(cls, table: SlabTable, count: int, half: float, height: float) -> ManyMovers:
        """So many boxes of one size."""
        return cls(table, np.full(count, half), np.full(count, height))

    def only(self, which: Mask | AnyWhole) -> ManyMovers:
        """These boxes alone."""
        return ManyMovers(self.table, self.half[which], self.height[which])

    def across(
        self, x: Reals, y: Reals, move: Reals, climbs: bool = False
    ) -> tuple[Reals, Reals, AnyWhole]:
        """Move sideways, and where they climb up slopes, until something is in the way: the new
        places, and the slabs that stopped them."""
        x, y = x.copy(), y.copy()
        blocked = np.full(len(x), NOTHING)
        left_over = np.abs(move)
        while (going := np.flatnonzero((left_over > 0) & (blocked == NOTHING))).size:
            part = np.minimum(left_over[going], LARGEST_STEP)
            left_over[going] -= part
            some = self if len(going) == len(x) else self.only(going)
            x[going], y[going], blocked[going] = some._across_a_little(
                x[going], y[going], np.copysign(part, move[going]), climbs
            )
        return x, y, blocked

    def down(
        self, x: Reals, y: Reals, move: Reals, through: Mask | None = None
    ) -> tuple[Reals, AnyWhole, AnyWhole]:
        """Move down, or up for negative moves, until something is in the way: the new heights, what
        is stood on, and what the heads hit. Those that go `through` are not carried by what carries
        from one side only."""
        left, right, target = x - self.half, x + self.half, y + move
        ahead = np.where(move >= 0, 0.0, self.height)
        top, bottom = np.minimum(y, target) - ahead - 1, np.maximum(y, target) - ahead + 1
        met = self.table.meetings(left + TOUCH, top, right - TOUCH, bottom)
        on, bumped = np.full(len(x), NOTHING), np.full(len(x), NOTHING)
        if not met.box.size:
            return target, on, bumped
        box, falls = met.box, move[met.box] >= 0
        surface = met.top_between(left[box], right[box])
        carries = self.table.carries[met.slab]
        if through is not None:
            carries &= self.table.walls[met.slab] | ~through[box]
        lands = falls & carries & (y[box] - TOUCH <= surface) & (surface <= target[box])
        before = target
        target = target.copy()
        np.minimum.at(target, box[lands], surface[lands])
        hit = lands & (surface == target[box])
        on[box[hit]] = met.slab[hit]
        ceiling = met.bottom_between(left[box], right[box])
        hits = ~falls & self.table.lids[met.slab] & (before[box] - self.height[box] < ceiling)
        hits &= ceiling <= y[box] - self.height[box] + TOUCH
        np.maximum.at(target, box[hits], ceiling[hits] + self.height[box[hits]])
        hit = hits & (ceiling + self.height[box] == target[box])
        bumped[box[hit]] = met.slab[hit]
        return target, on, bumped

    def settle(self, x: Reals, y: Reals, moved: Reals) -> tuple[Reals, AnyWhole]:
        """Stay on the ground: follow it down as far as a slope may fall."""
        below, on, _ = self.down(x, y, moved * STEEPEST + 0.05)
        return np.where(on == NOTHING, y, below), on

    def covered(self, x: Reals, y: Reals) -> Mask:
        """Which boxes would overlap something if they stood there."""
        met = self._walls(x - self.half, y, x + self.half)
        box = met.box
        overlaps = met.overlap(x[box], y[box], self.half[box], self.height[box])
        found = np.zeros(len(x), bool)
        found[box[overlaps]] = True
        return found

    def _walls(self, left: Reals, y: Reals, right: Reals) -> Meetings:
        """What stops all sides and lies before boxes that reach from the left to the right."""
        met = self.table.meetings(left, y - self.height, right, y)
        return met.only(self.table.walls[met.slab])

    def _across_a_little(
        self, x: Reals, y: Reals, move: Reals, climbs: bool
    ) -> tuple[Reals, Reals, AnyWhole]:
        left = x - self.half + np.minimum(move, 0.0)
        right = x + self.half + np.maximum(move, 0.0)
        met = self._walls(left, y, right)
        box = met.box
        middle, half = (left + right) / 2, (right - left) / 2
        met = met.only(met.overlap(middle[box], y[box], half[box], self.height[box]))
        if not met.box.size:
            return x + move, y, np.full(len(x), NOTHING)
        toward = np.where(move > 0, 1.0, -1.0)
        if not climbs:
            reach, blocked = self._first(met, x, y, toward, np.abs(move))
            return x + toward * reach, y, blocked
        reach, height, blocked = self._climbed(met, x, y, move)
        stuck = np.flatnonzero(self.covered(x + reach, height))
        if stuck.size:
            first, by = self._first(met, x, y, toward, np.abs(move))
            reach[stuck] = (toward * first)[stuck]
            height[stuck], blocked[stuck] = y[stuck], by[stuck]
        return x + reach, height, blocked

    def _first(
        self, met: Meetings, x: Reals, y: Reals, toward: Reals, reach: Reals
    ) -> tuple[Reals, AnyWhole]:
        """How far the boxes can go, and what stops them before they have gone all the way."""
        first, blocked = reach.copy(), np.full(len(x), NOTHING)
        while met.box.size:
            before = first.copy()
            clear = self._clear(met, x, y, toward, before)
            stops = clear < before[met.box]
            np.minimum.at(first, met.box[stops], clear[stops])
            by = stops & (clear == first[met.box])
            blocked[met.box[by]] = met.slab[by]
            # what was passed in going all the way may be in the way where one stops now
            met = met.only(~stops & (first < before)[met.box])
        return first, blocked

    def _clear(self, met: Meetings, x: Reals, y: Reals, toward: Reals, reach: Reals) -> Reals:
        """How far each box can go before it overlaps each slab."""
        box = met.box
        x, y, toward, reach = x[box], y[box], toward[box], reach[box]
        half, height = self.half[box], self.height[box]
        flat = (met.top_left == met.top_right) & (met.bottom_left == met.bottom_right)
        near = np.where(toward > 0, met.left, met.right)
        clear = np.maximum((near - x) * toward - half + NEARLY, 0.0)
        within = met.overlap(x, y, half, height)
        meets = met.overlap(x + toward * reach, y, half, height)
        sloped = np.flatnonzero(meets & ~flat & ~within)
        if sloped.size:
            rest, low, high = met.only(sloped), np.zeros(len(sloped)), reach[sloped]
            x, y, toward = x[sloped], y[sloped], toward[sloped]
            half, height = half[sloped], height[sloped]
            for _ in range(HALVINGS):
                middle = (low + high) / 2
                hits = rest.overlap(x + toward * middle, y, half, height)
                high, low = np.where(hits, middle, high), np.where(hits, low, middle)
            clear[sloped] = low
        return np.where(within, 0.0, np.where(meets, clear, reach))

    def _climbed(
        self, met: Meetings, x: Reals, y: Reals, move: Reals
    ) -> tuple[Reals, Reals, AnyWhole]:
        """Up slopes that begin at the feet, to the first wall or lip: how far across, the new
        heights, and what stopped the boxes."""
        toward = np.where(move > 0, 1.0, -1.0)
        front = x + toward * self.half
        last = front + move
        box = met.box
        way = toward[box]
        near = np.where(way > 0, met.left, met.right)
        far = np.where(way > 0, met.right, met.left)
        begin = np.maximum(near * way, front[box] * way) * way
        end = np.minimum(last[box] * way, far * way) * way
        top = met.top_at(begin)
        steep = (met.top_left - met.top_right) * way > STEEPEST * (met.right - met.left)
        ends_at = met.top_at(end)
        reach, height = move.copy(), y.copy()
        blocked = np.full(len(x), NOTHING)
        for pairs in in_turns(box, -top, begin * way):
            pair = pairs[blocked[box[pairs]] == NOTHING]
            which = box[pair]
            stops = steep[pair] | (top[pair] < height[which] - LIP)
            wall, slope = which[stops], which[~stops]
            reach[wall] = begin[pair[stops]] - front[wall]
            blocked[wall] = met.slab[pair[stops]]
            rises = np.minimum(top[pair[~stops]], ends_at[pair[~stops]])
            height[slope] = np.minimum(height[slope], rises)
        return reach, height, blocked
