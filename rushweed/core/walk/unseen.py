"""Floors that were not come to yet, and whether one of them might be reached from a place."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Collection
from functools import cached_property

from rushweed.core.values import Rect
from rushweed.core.walk.floors import Cell
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.trying import cell_of
from rushweed.core.walk.walker import Ground

MOST_LOOKED_AT = 4000
"""Cells that are looked through for a floor before one is tried without having been seen."""


class Unseen:
    """Floors that have not been stepped on yet, and whether one might be reached from a place."""

    def __init__(self, ground: Ground, standing: Collection[Cell]) -> None:
        self._ground = ground
        self._left = set(standing)
        self._full: dict[Cell, bool] = {}
        self._lowest = max((row for _, row in standing), default=0)

    def drop(self, cell: Cell) -> None:
        """This one was stepped on."""
        self._left.discard(cell)

    def might_be_reached(self, here: Motion) -> bool:
        """Whether one of them lies where a jump or a fall could end: as near as it would have to be
        were there only air, and not behind cells that are solid all through."""
        first = cell_of(self._ground, here)
        rows_up = self._rows_up()
        top = first[1] - rows_up
        reach: dict[int, float] = {}
        width, has_mediums = self._ground.project.rules.tile.width, bool(self._ground.mediums)
        seen, waiting = {first}, deque([first])
        immersed: Rect | None = None
        while waiting and len(seen) < MOST_LOOKED_AT:
            column, row = cell = waiting.popleft()
            if cell in self._left:
                return True
            for beside in (
                (column - 1, row),
                (column + 1, row),
                (column, row + 1),
                (column, row - 1),
            ):
                if beside in seen or not top <= beside[1] <= self._lowest:
                    continue
                seen.add(beside)
                if beside[1] not in reach:
                    reach[beside[1]] = self._reach_in(beside[1], here)
                if has_mediums and self._is_medium(beside):
                    one = Rect(*beside, 1, 1)
                    immersed = one if immersed is None else immersed.union(one)
                    top = min(top, beside[1] - rows_up)
                aside = abs((beside[0] + 0.5) * width - here.x)
                near = aside <= reach[beside[1]] or self._is_near_any(beside, immersed)
                if near and not self._is_full(beside):
                    waiting.append(beside)
        return bool(waiting)

    def _rows_up(self) -> int:
        walker, tile = self._ground.walker, self._ground.project.rules.tile
        height = walker.jump * (1 + walker.feel.jumps)
        return math.ceil(height * self._ground.unit / tile.height) + 1

    def _reach_in(self, row: int, here: Motion) -> float:
        """How far aside one could be above a cell of a row before one has fallen past it."""
        walker, unit, tile = self._ground.walker, self._ground.unit, self._ground.project.rules.tile
        feel, gravity = walker.feel, max(walker.gravity * unit, 1e-6)
        jumps = 1 + feel.jumps
        height = walker.jump * unit * jumps
        fall = max(0.0, (row + 1) * tile.height - here.y + height)
        down = math.sqrt(2 * fall / gravity) + (fall / (feel.falls * unit) if feel.falls else 0.0)
        seconds = jumps * math.sqrt(2 * walker.jump * unit / gravity) + down + walker.coyote_time
        return max(walker.speed, feel.run) * unit * seconds + 1.5 * tile.width + self._ground.half

    def _is_medium(self, cell: Cell) -> bool:
        """Whether one climbs, swims or is carried in a cell."""
        width, height = self._ground.project.rules.tile
        mediums = self._ground.mediums
        return bool(mediums.at((cell[0] + 0.5) * width, (cell[1] + 0.5) * height).piece)

    def _is_near_any(self, cell: Cell, immersed: Rect | None) -> bool:
        """Whether one might come to a cell from the ladders or the water that one may be in."""
        if immersed is None:
            return False
        tile, unit = self._ground.project.rules.tile, self._ground.unit
        around = immersed.grown(1 + math.ceil(self._farthest * unit / tile.width))
        return around.x <= cell[0] < around.right

    @cached_property
    def _farthest(self) -> float:
        """How many units a jump onto level ground goes aside at most."""
        walker = self._ground.walker
        seconds = 2 * math.sqrt(2 * walker.jump / max(walker.gravity, 1e-6))
        return max(walker.speed, walker.feel.run) * seconds * (1 + walker.feel.jumps)

    def _is_full(self, cell: Cell) -> bool:
        """Whether one thing solid covers all of a cell."""
        known = self._full.get(cell)
        if known is None:
            width, height = self._ground.project.rules.tile
            left, top = cell[0] * width, cell[1] * height
            right, bottom = left + width, top + height
            known = self._full[cell] = any(
                slab.stops == "all sides"
                and slab.left <= left
                and slab.right >= right
                and max(slab.top_left, slab.top_right) <= top
                and min(slab.bottom_left, slab.bottom_right) >= bottom
                for slab in self._ground.solids.near(left, top, right - 1, bottom - 1)
            )
        return known
