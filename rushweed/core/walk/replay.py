"""Walking a list of keys, and what a walker can do."""

from __future__ import annotations

from collections.abc import Iterable

from rushweed.core.project.rules import Walker
from rushweed.core.walk.walker import Ground, Keys, Motion


def replay(ground: Ground, keys: Iterable[Keys], start: Motion | None = None) -> list[Motion]:
    """The motion after every step, beginning with the start."""
    path = [start or ground.begin()]
    for held in keys:
        path.append(ground.step(path[-1], held))
    return path


def clears(walker: Walker) -> tuple[int, int]:
    """How many whole tiles of one unit a walker jumps up, and across on level ground."""
    time = 2 * (2 * walker.jump / walker.gravity) ** 0.5
    return int(walker.jump), int(walker.speed * time)
