"""Many walkers at once, each as `Ground.step` would move it where nothing but what stays is about.

Where one comes near what moves, to a ladder, to water, or to what stops one side alone, it is said
so, and whoever asked has that one walk by itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.floors import Cell, ways_of_bodies
from rushweed.core.walk.many_movers import NOTHING, ManyMovers
from rushweed.core.walk.slab_table import Counted
from rushweed.core.walk.walker import Ground
from rushweed.core.walk.walkers import Again, Plans, Walkers

STEER_AFTER = 14
"""Steps after the first one in which a jump goes the way it began."""
LONGEST_FALL = 600
"""Steps after which something that still falls is given up."""


Done = Callable[[Walkers, AnyWhole], Mask]
"""Which of some walkers have come far enough, told by where they are and by their numbers."""


class Flock:
    """Walkers of a level seen from the side."""

    def __init__(self, ground: Ground) -> None:
        self.ground, self.table = ground, ground.table
        special = _special_cells(ground)
        self._special = Counted(self.table, special) if special.any() else None
        unit, walker = ground.unit, ground.walker
        self._gravity = walker.gravity * unit
        self._lift = math.sqrt(2 * self._gravity * walker.jump * unit)

    def leaps(self, walkers: Walkers, plans: Plans) -> Walkers:
        """The first step of those who jump or drop from where they stand."""
        walkers = walkers.only(np.arange(len(walkers.x)))
        walkers.speed_y = np.where(plans.jumps, -self._lift, 0.0)
        self._air_step(walkers, plans.first, plans.runs, ~plans.jumps, from_ground=True)
        return walkers

    def flights(self, walkers: Walkers, plans: Plans) -> Walkers:
        """Where those come down who are in the air; `on` is nothing for those who do not."""
        walkers = walkers.only(np.arange(len(walkers.x)))
        going = np.arange(len(walkers.x))
        group, again = walkers, Again(plans.jumps, self.ground.walker.feel.jumps)
        for step in range(STEER_AFTER + LONGEST_FALL):
            flies = (group.on == NOTHING) & ~group.by_itself
            flies &= group.y - self.ground.height < self.table.lowest
            if not flies.all():
                walkers.put(going[~flies], group.only(~flies))
                going, group, plans = going[flies], group.only(flies), plans.only(flies)
                again.keep(flies)
            if not going.size:
                break
            if step >= STEER_AFTER:
                group.speed_y[again.jump(group.speed_y)] = -self._lift
            way = plans.first if step < STEER_AFTER else plans.then
            self._air_step(group, way, plans.runs, np.zeros(len(going), bool))
        return walkers

    def walks(self, walkers: Walkers, ways: AnyWhole, done: Done, most: int) -> Walkers:
        """Where those come who walk each its way, at most so many steps, until it is done,
        something stops it, or it leaves the ground."""
        walkers = walkers.only(np.arange(len(walkers.x)))
        going = np.arange(len(ways))
        for _ in range(most):
            if not going.size:
                break
            group = walkers.only(going)
            self._ground_step(group, ways[going])
            walkers.put(going, group)
            stops = (group.on == NOTHING) | (group.blocked != NOTHING) | group.by_itself
            going = going[~(stops | done(group, going))]
        return walkers

    def is_special(self, x: float, y: float) -> bool:
        """Whether a walker goes by itself at a place."""
        if self._special is None:
            return False
        place = np.array([x]), np.array([y])
        return bool(self._special.any_in(*place, *place).any())

    def covered(self, walkers: Walkers) -> Mask:
        """Which of them overlap something."""
        return self._movers(len(walkers.x)).covered(walkers.x, walkers.y)

    def cells(self, walkers: Walkers) -> list[Cell]:
        """The cells that their feet are in."""
        tile = self.ground.project.rules.tile
        columns = np.floor_divide(walkers.x, tile.width).astype(np.int64)
        rows = np.floor_divide(walkers.y - 1e-6, tile.height).astype(np.int64)
        return list(zip(columns.tolist(), rows.tolist(), strict=True))

    def _air_step(
        self, group: Walkers, ways: AnyWhole, runs: Mask, through: Mask, from_ground: bool = False
    ) -> None:
        """A step of all of them in the air, or off the ground."""
        group.speed_x = self._speeds(group.speed_x, ways, runs, from_ground)
        aside = group.speed_x * STEP
        down, group.speed_y = self._fallen(group.speed_y)
        x, y = group.x + aside, group.y + down
        half, height = self.ground.half + 1, self.ground.height + 1
        left, right = np.minimum(x, group.x) - half, np.maximum(x, group.x) + half
        top, bottom = np.minimum(y, group.y) - height, np.maximum(y, group.y) + 1
        group.on, group.blocked = np.full(len(x), NOTHING), np.full(len(x), NOTHING)
        near = np.flatnonzero(self.table.sums.any_in(left, top, right, bottom))
        if near.size:
            moved = self._moved(group.only(near), aside[near], down[near], through[near])
            x[near], y[near] = moved.x, moved.y
            group.speed_x[near], group.speed_y[near] = moved.speed_x, moved.speed_y
            group.on[near], group.blocked[near] = moved.on, moved.blocked
        if self._special is not None:
            group.by_itself |= self._special.any_in(left, top, right, bottom)
        group.x, group.y = x, y

    def _moved(self, group: Walkers, aside: Reals, down: Reals, through: Mask) -> Walkers:
        """Where those come in the air who may meet something on the way."""
        movers = self._movers(len(group.x))
        x, y, group.blocked = movers.across(group.x, group.y, aside)
        then, group.on, bumped = movers.down(x, y, down, through)
        hit = np.flatnonzero(bumped != NOTHING)
        corner = self.ground.walker.feel.corner_correction * self.ground.unit
        if hit.size and corner > 0:
            self._past_corners(movers, hit, (x, y, then, down, group.on, bumped), corner)
        group.speed_y[(group.on != NOTHING) | (bumped != NOTHING)] = 0.0
        group.speed_x[group.blocked != NOTHING] = 0.0
        group.x, group.y = x, then
        return group

    def _past_corners(
        self,
        movers: ManyMovers,
        hit: AnyWhole,
        state: tuple[Reals, Reals, Reals, Reals, AnyWhole, AnyWhole],
        corner: float,
    ) -> None:
        """Past the corners of ceilings that are hardly in the way; the arrays of the state are
        changed in place."""
        x, y, then, move, on, bumped = state
        left, right = self.table.sides(bumped[hit])
        for aside in (right - (x[hit] - movers.half[hit]), left - (x[hit] + movers.half[hit])):
            near = (np.abs(aside) <= corner) & (bumped[hit] != NOTHING)
            which, by = hit[near], aside[near]
            there = movers.only(which)
            free = ~there.covered(x[which] + by, y[which])
            past, landed, bump = there.down(x[which] + by, y[which], move[which])
            free &= bump == NOTHING
            which = which[free]
            x[which] += by[free]
            then[which], on[which], bumped[which] = past[free], landed[free], NOTHING

    def _ground_step(self, group: Walkers, ways: AnyWhole) -> None:
        """A step of all of them on the ground."""
        movers = self._movers(len(group.x))
        group.speed_x = self._speeds(group.speed_x, ways, np.zeros(len(ways), bool), True)
        x, y, group.blocked = movers.across(group.x, group.y, group.speed_x * STEP, climbs=True)
        y, group.on = movers.settle(x, y, np.abs(x - group.x))
        group.speed_x[group.blocked != NOTHING] = 0.0
        if self._special is not None:
            half, height = self.ground.half + 1, self.ground.height + 1
            left, right = np.minimum(x, group.x) - half, np.maximum(x, group.x) + half
            top, bottom = np.minimum(y, group.y) - height, np.maximum(y, group.y) + 1
            group.by_itself |= self._special.any_in(left, top, right, bottom)
        group.x, group.y = x, y

    def _movers(self, count: int) -> ManyMovers:
        return ManyMovers.alike(self.table, count, self.ground.half, self.ground.height)

    def _speeds(self, speeds: Reals, ways: AnyWhole, runs: Mask, grounded: bool) -> Reals:
        """How fast they go sideways a step later."""
        walker, unit = self.ground.walker, self.ground.unit
        feel, full = walker.feel, walker.speed * unit
        wanted = ways * np.where(runs & (feel.run > 0), feel.run, walker.speed) * unit
        if grounded:
            faster = (wanted * speeds >= 0) & (np.abs(wanted) > np.abs(speeds))
            seconds = np.where(faster, feel.speed_up, feel.brake)
        else:
            seconds = np.full(len(speeds), feel.in_air)
        most = full / np.where(seconds > 0, seconds, 1.0) * STEP
        apart = wanted - speeds
        at_once = (seconds <= 0) | (np.abs(apart) <= most)
        return np.where(at_once, wanted, speeds + np.copysign(most, apart))

    def _fallen(self, speeds: Reals) -> tuple[Reals, Reals]:
        """How far they go down in a step, and how fast they fall then."""
        gravity, fastest = self._gravity, self.ground.walker.feel.falls * self.ground.unit
        after = speeds + gravity * STEP
        move = (speeds + after) / 2 * STEP
        at_top = (speeds < 0) & (after > 0)
        if gravity:
            move = np.where(at_top, -speeds * speeds / (2 * gravity), move)
        after = np.where(at_top, 0.0, after)
        if fastest > 0:
            too_fast = speeds + gravity * STEP > fastest
            move, after = (
                np.where(too_fast, fastest * STEP, move),
                np.where(too_fast, fastest, after),
            )
        return move, after


def _special_cells(ground: Ground) -> Mask:
    """The cells of the table's area in which each walker goes by itself."""
    table = ground.table
    special = table.cells_of(table.valves)
    if not table.is_whole:
        special[[0, -1]] = special[:, [0, -1]] = True
    for column, row, _ in ground.mediums.cells():
        special[row - table.area.y, column - table.area.x] = True
    for left, top, right, bottom in ways_of_bodies(ground):
        rows, columns = table.rows(np.array([top, bottom])), table.columns(np.array([left, right]))
        special[rows[0] : rows[1] + 1, columns[0] : columns[1] + 1] = True
    return special
