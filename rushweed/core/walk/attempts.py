"""All that is worth trying from many places of a level at once, and where one gets to by it."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.project.rules import Walker
from rushweed.core.values import Point
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.flock import Flock
from rushweed.core.walk.floors import Cell, goes_without_saying
from rushweed.core.walk.many_movers import NOTHING
from rushweed.core.walk.mover import LIP, STEEPEST
from rushweed.core.walk.trying import MOST_STEPS
from rushweed.core.walk.walker import Ground
from rushweed.core.walk.walkers import Plans, Walkers

Target = tuple[Cell, Point | None]
"""A cell that one gets to, and where in it if one does not get to its middle."""


class Attempts:
    """Of the cells that one can stand in, with the height of the feet, `level` are the ones that
    one walks through as a matter of course."""

    def __init__(
        self, ground: Ground, standing: Mapping[Cell, float], level: Collection[Cell]
    ) -> None:
        self.flock = Flock(ground)
        self._standing, self._level = standing, level
        self._tile, self._plans = ground.project.rules.tile, plans_of(ground.walker)
        area = ground.table.area
        self._floor = np.full((area.height, area.width), np.nan)
        self._is_level = np.zeros((area.height, area.width), bool)
        for (column, row), y in standing.items():
            self._floor[row - area.y, column - area.x] = y
        for column, row in level:
            self._is_level[row - area.y, column - area.x] = True

    def from_places(self, places: Sequence[Point]) -> list[list[Target] | None]:
        """What one gets to from each of some places; None where that is to be tried by one walker
        at a time."""
        begun = Walkers.standing(*np.array(places, np.float64).reshape(-1, 2).T)
        walked, walkers, ways = self._walked(begun)
        leapt, jumpers, plans = self._leapt(begun, walked, walkers, ways)
        never = np.zeros(len(ways), bool)
        landed = self.flock.flights(
            walked.and_more(leapt), Plans(ways, ways, never, never).and_more(plans)
        )
        starts = np.concatenate((walkers, jumpers))
        alone = np.zeros(len(places), bool)
        alone[starts[landed.by_itself]] = True
        good = (landed.on != NOTHING) & ~alone[starts]
        found: list[list[Target]] = [[] for _ in places]
        for start, target in self._targets(landed.only(good), starts[good]):
            found[start].append(target)
        return [None if one else at for one, at in zip(alone.tolist(), found, strict=True)]

    def _walked(self, begun: Walkers) -> tuple[Walkers, AnyWhole, AnyWhole]:
        """Those who stand there after walking to the next cell, or as far as they got, the number
        of each, and its way; without those for whom that goes without saying."""
        both = [
            (number, by)
            for number, cell in enumerate(self.flock.cells(begun))
            for by in (-1, 1)
            if begun.y[number] != self._standing.get(cell)
            or not goes_without_saying(cell, by, self._standing, self._level)
        ]
        numbers, ways = np.array(both, np.int64).reshape(-1, 2).T
        width, x = self._tile.width, begun.x[numbers]

        def is_past_next(walkers: Walkers, which: AnyWhole) -> Mask:
            return np.abs(walkers.x - x[which]) >= width

        walked = self.flock.walks(begun.only(numbers), ways, is_past_next, MOST_STEPS)
        return walked, numbers, ways

    def _leapt(
        self, begun: Walkers, walked: Walkers, walkers: AnyWhole, ways: AnyWhole
    ) -> tuple[Walkers, AnyWhole, Plans]:
        """The first step of those who jump from where they stand, from against what stopped those
        who walked, and from the very edge that they walked off; the number of each, and what it is
        about to do."""
        plans = self._plans
        at_wall = (walked.blocked != NOTHING) & (walked.on != NOTHING)
        places = begun.and_more(Walkers.standing(walked.x[at_wall], walked.y[at_wall]))
        numbers = np.concatenate((np.arange(len(begun.x)), walkers[at_wall]))
        every = len(plans.first)
        who = np.repeat(np.arange(len(numbers)), every)
        doing = np.tile(np.arange(every), len(numbers))
        off = np.flatnonzero((walked.on == NOTHING) & ~walked.by_itself)
        edges = Walkers.standing(walked.x[off] - walked.speed_x[off] * STEP, walked.y[off])
        edge, onward = np.nonzero((plans.then == ways[off, None]) & plans.jumps)
        edge, onward = (part[~self.flock.covered(edges)[edge]] for part in (edge, onward))
        leaping = places.only(who).and_more(edges.only(edge))
        plans = plans.only(np.concatenate((doing, onward)))
        return (
            self.flock.leaps(leaping, plans),
            np.concatenate((numbers[who], walkers[off[edge]])),
            plans,
        )

    def _targets(self, landed: Walkers, starts: AnyWhole) -> Iterator[tuple[int, Target]]:
        """Where those get to who landed, each cell once for each number."""
        column, row = self.flock.table.columns(landed.x), self.flock.table.rows(landed.y - 1e-6)
        floor, is_level = self._floor[row, column], self._is_level[row, column]
        at_middle = is_level & (landed.y == floor)
        rest = np.flatnonzero(~at_middle & ~np.isnan(floor))
        at_middle[rest] = self._gets_to_middle(landed.only(rest), floor[rest])
        number = row * self._floor.shape[1] + column
        order = np.argsort(~at_middle, kind="stable")
        _, first = np.unique(starts[order] * self._floor.size + number[order], return_index=True)
        once = order[first]
        landed = landed.only(once)
        for start, cell, is_middle, x, y in zip(
            starts[once].tolist(),
            self.flock.cells(landed),
            at_middle[once].tolist(),
            landed.x.tolist(),
            landed.y.tolist(),
            strict=True,
        ):
            yield start, (cell, None if is_middle else Point(x, y))

    def _gets_to_middle(self, walkers: Walkers, floor: Reals) -> Mask:
        """Who walks to the middle of its cell, and stands there at this height."""
        middle = (np.floor(walkers.x / self._tile.width) + 0.5) * self._tile.width
        ways = np.where(walkers.x < middle, 1, -1)

        def is_past_middle(some: Walkers, which: AnyWhole) -> Mask:
            found: Mask = (some.x - middle[which]) * ways[which] >= 0
            return found

        there = self.flock.walks(walkers, ways, is_past_middle, MOST_STEPS)
        arrived: Mask = is_past_middle(there, np.arange(len(ways))) & (there.on != NOTHING)
        too_far = np.abs(there.x - middle)
        arrived &= np.abs(there.y - floor) <= too_far * STEEPEST + LIP
        arrived &= ~there.by_itself
        return arrived


def plans_of(walker: Walker) -> Plans:
    """What is worth trying from a place: a jump to each side, at once or when it is under way, at
    each speed, and a drop."""
    ways = [(first, then) for then in (-1, 1) for first in (then, 0)]
    runs = (False, True) if walker.feel.run else (False,)
    plans = [(*way, run, True) for run in runs for way in ways]
    plans.append((0, 0, False, False))
    first, then, run, jump = (np.array(part) for part in zip(*plans, strict=True))
    return Plans(first, then, run, jump)
