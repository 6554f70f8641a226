"""Walking seen from above: in four or eight directions, stopped by walls and by shut sides."""

from __future__ import annotations

import math
from dataclasses import replace

from rushweed.core.project.facts import Side
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.mediums import Medium
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.mover import TOUCH
from rushweed.core.walk.speeding import approached
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
    medium = ground.mediums.at(motion.x, motion.y - TOUCH)
    fastest = _fastest(ground, medium, keys.run)
    share = math.sqrt(0.5) if across and down else 1.0
    speed_x = _sped(ground, motion.speed_x, across * fastest * share)
    speed_y = _sped(ground, motion.speed_y, down * fastest * share)
    carried_x, carried_y = medium.across * ground.unit, medium.down * ground.unit
    bodies = ground.moving.advance(motion.bodies, ground.solids, 0.0)
    mover = ground.mover(bodies, foot_height(ground))
    if mover.covered(motion.x, motion.y) and not ground.mover(motion.bodies, mover.height).covered(
        motion.x, motion.y
    ):
        bodies = motion.bodies
        mover = ground.mover(bodies, mover.height)
    move_x, move_y = (speed_x + carried_x) * STEP, (speed_y + carried_y) * STEP
    x, _, wall = mover.across(motion.x, motion.y, move_x, climbs=False)
    x, gate = _to_the_gate(ground, motion.x, motion.y, x, upright=True)
    y, on, bumped = mover.down(x, motion.y, move_y)
    y, threshold = _to_the_gate(ground, x, motion.y, y, upright=False)
    stopped = wall or (on if move_y > 0 else None) or (bumped if move_y < 0 else None)
    return replace(
        motion,
        x=x,
        y=y,
        speed_x=0.0 if wall or gate else speed_x,
        speed_y=0.0 if on or bumped or threshold else speed_y,
        blocked=stopped.piece if stopped else gate or threshold,
        on=0,
        facing=across or motion.facing,
        facing_down=down if down else 0 if across else motion.facing_down,
        steps=motion.steps + 1,
        bodies=bodies,
    )


def _fastest(ground: World, medium: Medium, runs: bool) -> float:
    """How fast one gets on, in pixels per second."""
    feel = ground.walker.feel
    if medium.moves == "swims":
        return feel.swims * ground.unit
    if medium.moves == "climbs":
        return feel.climbs * ground.unit
    return (feel.run if runs and feel.run else ground.walker.speed) * ground.unit


def _sped(ground: World, speed: float, wanted: float) -> float:
    feel = ground.walker.feel
    faster = wanted * speed >= 0 and abs(wanted) > abs(speed)
    seconds = feel.speed_up if faster else feel.brake
    return approached(speed, wanted, ground.walker.speed * ground.unit, seconds)


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
