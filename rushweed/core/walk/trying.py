"""What a walker by itself can do from where it stands: walk, jump, drop, climb and swim."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace

from rushweed.core.walk.flock import LONGEST_FALL, STEER_AFTER
from rushweed.core.walk.floors import Cell
from rushweed.core.walk.gliding import glide
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.striding import stride
from rushweed.core.walk.walker import Ground

MOST_STEPS = 240
"""A walk to the next cell is given up after so many steps."""


def walked(
    ground: Ground,
    here: Motion,
    standing: Mapping[Cell, float],
    level: Collection[Cell],
) -> Iterator[Motion]:
    """Where one comes to stand by walking to one side or the other; over `level` cells one walks
    as a matter of course."""
    width = ground.project.rules.tile.width
    column, row = cell_of(ground, here)
    for keys, beside in (
        (Keys(left=True), (column - 1, row)),
        (Keys(right=True), (column + 1, row)),
    ):
        is_level = (column, row) in level and beside in level and standing[beside] == here.y
        if is_level:
            middle = beside[0] * width + width / 2
            yield replace(here, x=middle, speed_x=0.0, steps=here.steps + width)
            continue
        motion = stride(ground, here, keys, MOST_STEPS, width)
        for _ in range(MOST_STEPS):
            motion = ground.step(motion, keys)
            if motion.blocked or not motion.grounded or abs(motion.x - here.x) >= width:
                break
        there = landed(ground, motion, keys)
        yield from [there] if there else []


def jumped(ground: Ground, here: Motion) -> Iterator[Motion]:
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
    if is_by_medium(ground, here):
        up, down = Keys(up=True), Keys(down=True)
        plans += [(up, up), (down, down)]
        for side in ({"left": True}, {"right": True}):
            plans += [(up, Keys(up=True, jump=True, **side)), (down, Keys(down=True, **side))]
    return tuple(plans)


def is_by_medium(ground: Ground, here: Motion) -> bool:
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
    there = landed(ground, motion, then)
    if there is not None:
        yield there


def landed(ground: Ground, motion: Motion, keys: Keys) -> Motion | None:
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


def cell_of(ground: Ground, motion: Motion) -> Cell:
    """The cell that the feet are in."""
    tile = ground.project.rules.tile
    return int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)
