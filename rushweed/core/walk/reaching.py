"""Where a walker gets to from the start, by trying what it can do from every place it stands.

Over level ground it walks as a matter of course; and it only jumps or falls where there is a floor
that it has not been to and that it might get to, were there nothing in between.
"""

from __future__ import annotations

import itertools
import math
from collections import deque
from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace
from functools import cached_property

from rushweed.core.values import Point, Rect
from rushweed.core.walk.floors import Cell, level_cells
from rushweed.core.walk.gliding import glide
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.striding import stride
from rushweed.core.walk.walker import Ground

LONGEST_FALL = 600
"""Steps after which something that still falls is given up."""
STEER_AFTER = 14
"""A jump straight up is steered to a side after so many steps."""
MOST_PLACES = 200_000
EVERY = 32
"""After so many places it is told what was reached so far."""
MOST_STEPS = 240
"""A walk to the next cell is given up after so many steps."""
MOST_LOOKED_AT = 4000
"""Cells that are looked through for a floor before one is tried without having been seen."""


def reached_cells(ground: Ground, standing: Mapping[Cell, float]) -> frozenset[Cell]:
    """The cells that a walker can stand in, from the level's start; `standing` are those with room
    in their middle, with the height of the feet."""
    found: frozenset[Cell] = frozenset()
    level = level_cells(ground, standing)
    for found in reaching(ground, standing, level):  # noqa: B007 - the last one counts
        pass
    return found


def reaching(
    ground: Ground, standing: Mapping[Cell, float], level: Collection[Cell]
) -> Iterator[frozenset[Cell]]:
    """The cells that are reached, more and more of them; the last are all. Of those that one can
    stand in, `level` are the ones that one walks through as a matter of course."""
    if ground.level.view == "top-down":
        yield _reached_from_above(ground, standing)
        return
    start = _landed(ground, ground.begin(), Keys())
    if start is None:
        yield frozenset()
        return
    seen = {_cell(ground, start)}
    walks, jumps = deque([start]), deque[Motion]()
    unseen = _Unseen(ground, standing)
    unseen.drop(_cell(ground, start))
    steps = itertools.count()
    while (walks or jumps) and len(seen) < MOST_PLACES:
        if walks:
            here = walks.popleft()
            jumps.append(here)
            found = _walked(ground, here, standing, level, seen)
        else:
            here = jumps.popleft()
            found = _jumped(ground, here) if unseen.might_be_reached(here) else iter(())
        for there in found:
            cell = _cell(ground, there)
            if cell not in seen:
                seen.add(cell)
                unseen.drop(cell)
                walks.append(there)
        if not next(steps) % EVERY:
            yield frozenset(seen)
    yield frozenset(seen)


class _Unseen:
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
        first = _cell(self._ground, here)
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
        seconds = jumps * math.sqrt(2 * walker.jump * unit / gravity) + down + walker.late
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


def _walked(
    ground: Ground,
    here: Motion,
    standing: Mapping[Cell, float],
    level: Collection[Cell],
    seen: Collection[Cell],
) -> Iterator[Motion]:
    """Where one comes to stand by walking to one side or the other."""
    width = ground.project.rules.tile.width
    column, row = _cell(ground, here)
    for keys, beside in (
        (Keys(left=True), (column - 1, row)),
        (Keys(right=True), (column + 1, row)),
    ):
        is_level = (column, row) in level and beside in level and standing[beside] == here.y
        if is_level:
            if beside not in seen:
                middle = beside[0] * width + width / 2
                yield replace(here, x=middle, speed_x=0.0, steps=here.steps + width)
            continue
        motion = stride(ground, here, keys, MOST_STEPS, width)
        for _ in range(MOST_STEPS):
            motion = ground.step(motion, keys)
            if motion.blocked or not motion.grounded or abs(motion.x - here.x) >= width:
                break
        landed = _landed(ground, motion, keys)
        yield from [landed] if landed else []


def _jumped(ground: Ground, here: Motion) -> Iterator[Motion]:
    """Where one comes to stand by a jump, by dropping through a floor, on a ladder or through
    water."""
    for first, then in _plans(ground, here):
        yield from _landings(ground, here, first, then)


def _plans(ground: Ground, here: Motion) -> tuple[tuple[Keys, Keys], ...]:
    """What is worth trying from a place: keys that are held at first, and then to the end."""
    plans = []
    for run in (False, True) if ground.walker.feel.run else (False,):
        for side in ({"left": True}, {"right": True}):
            aside = Keys(jump=True, run=run, **side)
            plans += [(aside, aside), (Keys(jump=True), aside)]
    plans.append((Keys(down=True, jump=True), Keys()))
    if _is_by_medium(ground, here):
        up, down = Keys(up=True), Keys(down=True)
        plans += [(up, up), (down, down)]
        for side in ({"left": True}, {"right": True}):
            plans += [(up, Keys(up=True, jump=True, **side)), (down, Keys(down=True, **side))]
    return tuple(plans)


def _is_by_medium(ground: Ground, here: Motion) -> bool:
    """Whether one stands in water, or on, in or above a ladder."""
    heights = (here.y - 1, here.y + 1, here.y - ground.height / 2)
    return any(ground.mediums.at(here.x, height).piece for height in heights)


def _landings(ground: Ground, here: Motion, first: Keys, then: Keys) -> Iterator[Motion]:
    """Where a jump comes down when keys are held to its end."""
    motion = ground.step(here, first)
    last = motion.steps + STEER_AFTER
    while motion.steps < last:
        motion = glide(ground, motion, first, last - motion.steps)
        if motion.steps < last:
            motion = ground.step(motion, first)
        if motion.grounded:
            break
    landed = _landed(ground, motion, then)
    if landed is not None:
        yield landed


def _landed(ground: Ground, motion: Motion, keys: Keys) -> Motion | None:
    """Where one stands in the end; None for a fall out of the level. A jump that is held is asked
    for again at its top, for whoever jumps in the air or leaps out of water."""
    again = ground.walker.feel.jumps or ground.mediums
    released = replace(keys, jump=False)
    last = motion.steps + LONGEST_FALL
    while motion.steps < last:
        if motion.grounded:
            return ground.step(motion, Keys())
        if not again:
            motion = glide(ground, motion, keys, last - motion.steps)
        lets_go = again and motion.jump_held and motion.speed_y >= 0
        motion = ground.step(motion, released if lets_go else keys)
    return None


def _reached_from_above(ground: Ground, floors: Mapping[Cell, float]) -> frozenset[Cell]:
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


def _cell(ground: Ground, motion: Motion) -> Cell:
    tile = ground.project.rules.tile
    return int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)
