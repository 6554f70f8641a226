"""Where a walker gets to from the start, by trying what it can do from every place it stands.

Over level ground it walks as a matter of course. What can be done from the places of a part of the
level is tried by all of them at once, when the first of them is reached.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Iterable, Iterator, Mapping

from rushweed.core.values import Point
from rushweed.core.walk.attempts import Attempts, Target
from rushweed.core.walk.floors import Cell, goes_without_saying
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.trying import cell_of, jumped, landed, walked
from rushweed.core.walk.unseen import Unseen
from rushweed.core.walk.walker import Ground

MOST_PLACES = 200_000
PART = 256
"""Cells a side of the parts of a level in which all places are tried at once."""
FEW = 24
"""Fewer than so many are quicker tried one by one."""
MORE = 1.2
"""It is told what was reached whenever that grew so much."""


def reaching(
    ground: Ground, standing: Mapping[Cell, float], level: Collection[Cell]
) -> Iterator[frozenset[Cell]]:
    """The cells that are reached, more and more of them; the last are all. Of those that one can
    stand in, `level` are the ones that one walks through as a matter of course."""
    if ground.level.view == "top-down":
        yield reached_from_above(ground, standing)
        return
    search = _Search(ground, standing, level)
    start = landed(ground, ground.begin(), Keys())
    if start is not None:
        search.come_to(start)
    told = 0.0
    while search.is_going and len(search.seen) < MOST_PLACES:
        search.go_on()
        if len(search.seen) > told:
            told = len(search.seen) * MORE
            yield frozenset(search.seen)
    yield frozenset(search.seen)


class _Search:
    """Which cells were seen, and the places that were reached and not left yet: the middles of
    cells, places beside the middle, and what a walker is to try by itself."""

    def __init__(
        self, ground: Ground, standing: Mapping[Cell, float], level: Collection[Cell]
    ) -> None:
        self._ground, self._standing, self._level = ground, standing, level
        self._attempts = Attempts(ground, standing, level)
        self._unseen = Unseen(ground, standing)
        self.seen: set[Cell] = set()
        self._middles: deque[Cell] = deque()
        self._aside: list[Point] = []
        self._alone: deque[Motion] = deque()
        self._jumpers: deque[Motion] = deque()
        """Where walkers by themselves stood, whose jumps are tried when nothing else is left."""
        self._parts: dict[Cell, list[Cell]] = {}
        for cell in standing:
            self._parts.setdefault(_part_of(cell), []).append(cell)
        self._targets: dict[Cell, list[Target] | None] = {}
        """What one gets to from the middle of a cell; None where that is to be tried alone."""

    @property
    def is_going(self) -> bool:
        """Whether something is left to try."""
        return bool(self._middles or self._aside or self._alone or self._jumpers)

    def go_on(self) -> None:
        """Try what can be done from one place more, or from several."""
        if self._middles:
            self._from_middle(self._middles.popleft())
        elif self._alone:
            self._by_itself(self._alone.popleft())
        elif self._aside:
            places, self._aside = self._aside, []
            self._from_aside(places)
        else:
            here = self._jumpers.popleft()
            if self._unseen.might_be_reached(here):
                self._jump(here)

    def come_to(self, motion: Motion) -> None:
        """One stands there, who came by itself."""
        cell = cell_of(self._ground, motion)
        if cell in self.seen:
            return
        self._see(cell)
        is_plain = motion.body < 0 and not self._attempts.flock.is_special(motion.x, motion.y)
        if is_plain and cell in self._level and self._standing[cell] == motion.y:
            self._middles.append(cell)
        else:
            self._alone.append(motion)

    def _see(self, cell: Cell) -> None:
        self.seen.add(cell)
        self._unseen.drop(cell)

    def _reach(self, targets: Iterable[Target]) -> None:
        for cell, place in targets:
            if cell in self.seen:
                continue
            self._see(cell)
            if place is None:
                self._middles.append(cell)
            else:
                self._aside.append(place)

    def _from_middle(self, cell: Cell) -> None:
        for by in (-1, 1):
            if goes_without_saying(cell, by, self._standing, self._level):
                self._reach([((cell[0] + by, cell[1]), None)])
        if cell not in self._targets:
            part = self._parts[_part_of(cell)]
            middles = [self._middle(one) for one in part]
            self._targets.update(zip(part, self._attempts.from_places(middles), strict=True))
        self._take(self._targets.pop(cell), self._middle(cell))

    def _from_aside(self, places: list[Point]) -> None:
        if len(places) < FEW:
            for place in places:
                here = self._ground.step(self._ground.begin(place), Keys())
                self._walk(here)
                self._jump(here)
            return
        for place, targets in zip(places, self._attempts.from_places(places), strict=True):
            self._take(targets, place)

    def _take(self, targets: list[Target] | None, place: Point) -> None:
        """Come to what one gets to from a place."""
        if targets is None:
            self._by_itself(self._ground.step(self._ground.begin(place), Keys()))
        else:
            self._reach(targets)

    def _by_itself(self, here: Motion) -> None:
        self._walk(here)
        self._jumpers.append(here)

    def _walk(self, here: Motion) -> None:
        for there in walked(self._ground, here, self._standing, self._level):
            self.come_to(there)

    def _jump(self, here: Motion) -> None:
        for there in jumped(self._ground, here):
            self.come_to(there)

    def _middle(self, cell: Cell) -> Point:
        width = self._ground.project.rules.tile.width
        return Point(cell[0] * width + width / 2, self._standing[cell])


def _part_of(cell: Cell) -> Cell:
    return cell[0] // PART, cell[1] // PART


def reached_from_above(ground: Ground, floors: Mapping[Cell, float]) -> frozenset[Cell]:
    """The cells that are reached, of those that one can stand in."""
    tile = ground.project.rules.tile
    start = ground.begin()
    seen: set[Cell] = set()
    first = int(start.x // tile.width), int((start.y - 1e-6) // tile.height)
    waiting = deque([first])
    ways = (
        (1, 0, Keys(right=True)),
        (-1, 0, Keys(left=True)),
        (0, 1, Keys(down=True)),
        (0, -1, Keys(up=True)),
    )
    while waiting:
        cell = waiting.popleft()
        if cell in seen:
            continue
        seen.add(cell)
        for across, down, keys in ways:
            there = cell[0] + across, cell[1] + down
            if there in floors and there not in seen and _walks(ground, cell, there, keys):
                waiting.append(there)
    return frozenset(seen)


def _walks(ground: Ground, cell: Cell, there: Cell, keys: Keys) -> bool:
    """Whether one comes from the middle of a cell into the next one."""
    tile = ground.project.rules.tile
    place = Point(cell[0] * tile.width + tile.width / 2, (cell[1] + 1) * tile.height - 2.0)
    motion = ground.begin(place)
    for _ in range(240):
        motion = ground.step(motion, keys)
        if (int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)) == there:
            return True
        if motion.blocked:
            return False
    return False
