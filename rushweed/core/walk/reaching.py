"""Where a walker gets to from the start, by trying what it can do from every place it stands."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator, Mapping

from rushweed.core.values import Point
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.walker import Ground

Cell = tuple[int, int]
LONGEST_FALL = 600
"""Steps after which something that still falls is given up."""
STEER_AFTER = 14
"""A jump straight up is steered to a side after so many steps."""
MOST_PLACES = 20_000


def reached_cells(ground: Ground, floors: Mapping[Cell, float]) -> frozenset[Cell]:
    """The cells that a walker can stand in, from the level's start."""
    if ground.level.view == "top-down":
        return _reached_from_above(ground, floors)
    start = _landed(ground, ground.begin(), Keys())
    if start is None:
        return frozenset()
    seen = {_cell(ground, start): start}
    waiting = deque(seen.values())
    while waiting and len(seen) < MOST_PLACES:
        here = waiting.popleft()
        for there in _moves(ground, here):
            cell = _cell(ground, there)
            if cell not in seen:
                seen[cell] = there
                waiting.append(there)
    return frozenset(seen)


def _moves(ground: Ground, here: Motion) -> Iterator[Motion]:
    """Every place where one comes to stand by one thing done from here."""
    tile = ground.project.rules.tile
    for side in ({"left": True}, {"right": True}):
        walk = Keys(**side)
        motion = here
        for _ in range(240):
            motion = ground.step(motion, walk)
            if motion.blocked or not motion.grounded or abs(motion.x - here.x) >= tile.width:
                break
        landed = _landed(ground, motion, walk)
        yield from [landed] if landed else []
        yield from _landings(ground, here, Keys(jump=True, **side), Keys(jump=True, **side))
        yield from _landings(ground, here, Keys(jump=True), Keys(jump=True, **side))
    yield from _landings(ground, here, Keys(down=True, jump=True), Keys())


def _landings(ground: Ground, here: Motion, first: Keys, then: Keys) -> Iterator[Motion]:
    """Where a jump comes down when keys are held to its end."""
    motion = ground.step(here, first)
    for _ in range(STEER_AFTER):
        motion = ground.step(motion, first)
        if motion.grounded:
            break
    landed = _landed(ground, motion, then)
    if landed is not None:
        yield landed


def _landed(ground: Ground, motion: Motion, keys: Keys) -> Motion | None:
    """Where one stands in the end; None for a fall out of the level."""
    for _ in range(LONGEST_FALL):
        if motion.grounded:
            return ground.step(motion, Keys())
        motion = ground.step(motion, keys)
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
