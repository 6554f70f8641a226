"""Where a walker gets to in a level seen from above."""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping

from rushweed.core.values import Point
from rushweed.core.walk.floors import Cell
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.walker import Ground


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
