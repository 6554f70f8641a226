"""Moving a box among slabs: sideways and up slopes, down onto things, up against them."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rushweed.core.bound.slabs import Slab
from rushweed.core.walk.solids import Solids

STEEPEST = 1.01
"""A walker goes up slopes that rise at most this many pixels for each pixel across."""
TOUCH = 1e-6
LIP = 1e-3
"""A step up of more than this many pixels stops a walker."""
LARGEST_STEP = 8.0


class Mover:
    """A box that stands at the middle of its lower edge, `2 * half` wide and `height` high.

    `moving` are slabs beside those of the level: of bodies, where they are now.
    """

    def __init__(
        self, solids: Solids, half: float, height: float, moving: Sequence[Slab] = ()
    ) -> None:
        self.solids, self.half, self.height = solids, half, height
        self.moving = moving

    def near(self, left: float, top: float, right: float, bottom: float) -> Sequence[Slab]:
        """Every slab that may touch an area, and perhaps a few more."""
        found = self.solids.near(left, top, right, bottom)
        return (*found, *self.moving) if self.moving else found

    def across(
        self, x: float, y: float, move: float, climbs: bool
    ) -> tuple[float, float, Slab | None]:
        """Move sideways, and on the ground up slopes, until something is in the way."""
        blocked: Slab | None = None
        left_over = abs(move)
        while left_over > 0 and not blocked:
            part = min(left_over, LARGEST_STEP)
            left_over -= part
            x, y, blocked = self._across_a_little(x, y, math.copysign(part, move), climbs)
        return x, y, blocked

    def _across_a_little(
        self, x: float, y: float, move: float, climbs: bool
    ) -> tuple[float, float, Slab | None]:
        obstacles, valves = self._in_the_way(x, y, move)
        toward = 1 if move > 0 else -1
        if valves:
            reach, valve = self._first(valves, x, y, toward, abs(move))
            if valve is not None:
                x, y, blocked = self._across_a_little(x, y, toward * reach, climbs)
                return x, y, blocked or valve
        if obstacles and climbs:
            reach, height, blocked = self._climb(obstacles, x, y, move)
            if not self.covered(x + reach, height):
                return x + reach, height, blocked
        reach, blocked = self._first(obstacles, x, y, toward, abs(move))
        return x + toward * reach, y, blocked

    def _in_the_way(self, x: float, y: float, move: float) -> tuple[list[Slab], list[Slab]]:
        """What the body touches anywhere along its way: all-sided slabs, and those that stop only
        what comes from there; of the latter none while the body is within one."""
        left = x - self.half + min(move, 0.0)
        right = x + self.half + max(move, 0.0)
        middle, half = (left + right) / 2, (right - left) / 2
        side = "left" if move > 0 else "right"
        walls: list[Slab] = []
        valves: list[Slab] = []
        for slab in self.near(left, y - self.height, right, y):
            if slab.left >= right or slab.right <= left:
                continue
            if slab.stops == "all sides":
                if self.overlaps(slab, middle, y, half):
                    walls.append(slab)
            elif slab.side == side and self.overlaps(slab, middle, y, half):
                valves.append(slab)
        within = any(self.overlaps(slab, x, y) for slab in valves)
        return walls, [] if within else valves

    def _first(
        self, slabs: Sequence[Slab], x: float, y: float, toward: int, reach: float
    ) -> tuple[float, Slab | None]:
        """How far the body can go, and what stops it before it has gone all the way."""
        first: Slab | None = None
        for slab in slabs:
            distance = self._clear_distance(slab, x, y, toward, reach)
            if distance < reach:
                reach, first = distance, slab
        return reach, first

    def _climb(
        self, obstacles: list[Slab], x: float, y: float, move: float
    ) -> tuple[float, float, Slab | None]:
        """Go up slopes that begin at the feet; stop at the first wall or lip.

        Returns how far across, the new height, and what stopped the walker.
        """
        toward = 1 if move > 0 else -1
        front = x + toward * self.half
        last = front + move

        def entry(slab: Slab) -> float:
            near = slab.left if toward > 0 else slab.right
            return max(near * toward, front * toward) * toward

        height = y
        for slab in sorted(obstacles, key=lambda s: (entry(s) * toward, -s.top_at(entry(s)))):
            begin = entry(slab)
            end = min(last * toward, (slab.right if toward > 0 else slab.left) * toward) * toward
            rise = (slab.top_left - slab.top_right) * toward
            too_steep = rise > STEEPEST * (slab.right - slab.left)
            if too_steep or slab.top_at(begin) < height - LIP:
                return begin - front, height, slab
            height = min(height, slab.top_at(begin), slab.top_at(end))
        return move, height, None

    def _clear_distance(self, slab: Slab, x: float, y: float, toward: int, reach: float) -> float:
        """How far the body can go before it overlaps a slab, to a millionth of a pixel."""
        if self.overlaps(slab, x, y):
            return 0.0
        low, high = 0.0, reach
        if not self.overlaps(slab, x + toward * high, y):
            return reach
        flat = slab.top_left == slab.top_right and slab.bottom_left == slab.bottom_right
        for _ in range(30):
            middle = (low + high) / 2
            there = x + toward * middle
            if self._shares_columns(slab, there) if flat else self.overlaps(slab, there, y):
                high = middle
            else:
                low = middle
        return low

    def _shares_columns(self, slab: Slab, x: float) -> bool:
        """Whether the box reaches over or under a slab: all there is to ask about a flat one that
        it meets somewhere at its height."""
        left, right = x - self.half, x + self.half
        left = slab.left if slab.left > left else left
        right = slab.right if slab.right < right else right
        return right - left > TOUCH

    def overlaps(self, slab: Slab, x: float, y: float, half: float | None = None) -> bool:
        """Whether the box standing there overlaps a slab."""
        half = self.half if half is None else half
        left, right = x - half, x + half
        left = slab.left if slab.left > left else left
        right = slab.right if slab.right < right else right
        if right - left <= TOUCH or slab.top_between(left, right) >= y - TOUCH:
            return False
        return slab.bottom_between(left, right) > y - self.height + TOUCH

    def covered(self, x: float, y: float) -> Slab | None:
        """What the box would overlap if it stood there."""
        left, right = x - self.half, x + self.half
        for slab in self.near(left, y - self.height, right, y):
            if slab.left >= right or slab.right <= left:
                continue
            if slab.stops == "all sides" and self.overlaps(slab, x, y):
                return slab
        return None

    def settle(self, x: float, y: float, moved: float) -> tuple[float, Slab | None]:
        """Stay on the ground: follow it down as far as a slope may fall, else begin to fall."""
        reach = moved * STEEPEST + 0.05
        y_below, on, _ = self.down(x, y, reach)
        return (y_below, on) if on else (y, None)

    def down(
        self, x: float, y: float, move: float, through: bool = False
    ) -> tuple[float, Slab | None, Slab | None]:
        """Move down, or up for a negative move, until something is in the way.

        Returns the new height, what is stood on, and what the head hit.
        """
        left, right = x - self.half, x + self.half
        on: Slab | None = None
        bumped: Slab | None = None
        target = y + move
        for slab in self.near(left, min(y, target) - self.height - 1, right, max(y, target) + 1):
            if slab.left >= right - TOUCH or slab.right <= left + TOUCH:
                continue
            one_way = slab.stops == "one-way"
            if move >= 0:
                if one_way and (through or slab.side != "above"):
                    continue
                surface = slab.top_between(left, right)
                if y - TOUCH <= surface <= target:
                    target, on = surface, slab
            elif not one_way or slab.side == "below":
                ceiling = slab.bottom_between(left, right)
                if target - self.height < ceiling <= y - self.height + TOUCH:
                    target, bumped = ceiling + self.height, slab
        return target, on, bumped
