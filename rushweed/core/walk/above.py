"""Walking seen from above: in four or eight directions, stopped by walls and by shut sides."""

from __future__ import annotations

import math
from dataclasses import replace

from rushweed.core.project.facts import Side
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.underfoot import shut_towards
from rushweed.core.walk.world import World

FOOT = 0.5
"""Seen from above, a body is as deep as this share of its width: its feet meet things, its head
does not."""


def step_from_above(ground: World, motion: Motion, keys: Keys) -> Motion:
    """One sixtieth of a second later, in a level seen from above."""
    across, down = keys.right - keys.left, keys.down - keys.up
    if ground.walker.ways == 4 and across and down:
        across, down = (across, 0) if motion.facing_down == 0 else (0, down)
    speed = ground.walker.speed * ground.unit * (math.sqrt(0.5) if across and down else 1.0)
    bodies = ground.moving.advance(motion.bodies, ground.solids, 0.0)
    mover = ground.mover(bodies, foot_height(ground))
    if mover.covered(motion.x, motion.y) and not ground.mover(motion.bodies, mover.height).covered(
        motion.x, motion.y
    ):
        bodies = motion.bodies
        mover = ground.mover(bodies, mover.height)
    x, _, wall = mover.across(motion.x, motion.y, across * speed * STEP, climbs=False)
    x, gate = _to_the_gate(ground, motion.x, motion.y, x, upright=True)
    y, on, bumped = mover.down(x, motion.y, down * speed * STEP)
    y, threshold = _to_the_gate(ground, x, motion.y, y, upright=False)
    stopped = wall or (on if down > 0 else None) or (bumped if down < 0 else None)
    return replace(
        motion,
        x=x,
        y=y,
        speed_x=across * speed,
        speed_y=down * speed,
        blocked=stopped.piece if stopped else gate or threshold,
        on=0,
        facing=across or motion.facing,
        facing_down=down if down else 0 if across else motion.facing_down,
        steps=motion.steps + 1,
        bodies=bodies,
    )


def foot_height(ground: World) -> float:
    """How deep the walker's feet are, seen from above."""
    return min(ground.height, max(2.0, ground.body.width * FOOT))


def _to_the_gate(ground: World, x: float, y: float, to: float, upright: bool) -> tuple[float, int]:
    """How far a move across (or down, unless upright) goes before a side that is shut, and the
    piece whose side it is."""
    width, height = ground.project.rules.tile
    tall = foot_height(ground)
    size, start = (width, x) if upright else (height, y)
    forward = to > start
    before, behind = (ground.half, ground.half) if upright else (tall, 0.0)
    front = (start + behind, to + behind) if forward else (start - before, to - before)
    first, last = _lines_between(*front, size)
    for line in range(first, last) if forward else range(last - 1, first - 1, -1):
        cell = line if forward else line - 1
        sides: tuple[Side, Side] = ("left", "right") if upright else ("above", "below")
        side = sides[0] if forward else sides[1]
        low, high = (y - tall, y) if upright else (x - ground.half, x + ground.half)
        across = height if upright else width
        for other in range(math.floor(low / across + 1e-9), math.ceil(high / across - 1e-9)):
            place = (cell, other) if upright else (other, cell)
            shut = shut_towards(ground.project, ground.level, place, side)
            if shut:
                stop = line * size - behind if forward else line * size + before
                return stop, shut
    return to, 0


def _lines_between(start: float, end: float, size: int) -> tuple[int, int]:
    """The borders of cells that a move crosses, as a range."""
    low, high = min(start, end), max(start, end)
    if start <= end:
        return math.ceil(low / size - 1e-9), math.ceil(high / size - 1e-9)
    return math.floor(low / size + 1e-9) + 1, math.floor(high / size + 1e-9) + 1
