"""Walking seen from above: in four or eight directions, stopped by walls and by shut sides."""

from __future__ import annotations

import math
from dataclasses import replace

from rushweed.core.bound.slabs import Slab
from rushweed.core.project.facts import Side
from rushweed.core.walk.bodies import STEP, BodyState
from rushweed.core.walk.mediums import AIR, Medium
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.mover import TOUCH
from rushweed.core.walk.rafts import mover_from_above, raft_at, rafts
from rushweed.core.walk.speeding import approached
from rushweed.core.walk.underfoot import shut_towards
from rushweed.core.walk.world import World

FOOT = 0.5
"""Seen from above, a body is as deep as this share of its width: its feet meet things, its head
does not."""
ENTRIES: tuple[tuple[Side, Side], ...] = (("left", "right"), ("above", "below"))
"""By which side one comes in forward, and backward, across and down."""


def step_from_above(ground: World, motion: Motion, keys: Keys) -> Motion:
    """One sixtieth of a second later, in a level seen from above."""
    across, down = keys.right - keys.left, keys.down - keys.up
    if ground.walker.ways == 4 and across and down:
        across, down = (across, 0) if motion.facing_down == 0 else (0, down)
    motion, afloat = _with_bodies(ground, motion)
    medium = AIR if afloat else ground.mediums.at(motion.x, motion.y - TOUCH)
    fastest = _fastest(ground, medium, keys.run)
    share = math.sqrt(0.5) if across and down else 1.0
    speed_x = _sped(ground, motion.speed_x, across * fastest * share)
    speed_y = _sped(ground, motion.speed_y, down * fastest * share)
    carried_x, carried_y = medium.across * ground.unit, medium.down * ground.unit
    move_x, move_y = (speed_x + carried_x) * STEP, (speed_y + carried_y) * STEP
    gates = not afloat
    x, bodies, wall = _across(ground, motion, move_x)
    x, gate = _to_the_gate(ground, motion.x, motion.y, x, axis=0) if gates else (x, 0)
    y, bodies, stop = _down(ground, replace(motion, x=x, bodies=bodies), move_y)
    y, threshold = _to_the_gate(ground, x, motion.y, y, axis=1) if gates else (y, 0)
    stopped = wall or stop
    return replace(
        motion,
        x=x,
        y=y,
        speed_x=0.0 if wall or gate else speed_x,
        speed_y=0.0 if stop or threshold else speed_y,
        blocked=stopped.piece if stopped else gate or threshold,
        on=0,
        facing=across or motion.facing,
        facing_down=down if down else 0 if across else motion.facing_down,
        steps=motion.steps + 1,
        bodies=bodies,
    )


def _with_bodies(ground: World, motion: Motion) -> tuple[Motion, bool]:
    """Let bodies move, but for where the walker would be in their way; a raft takes it along.
    Whether it is on a raft."""
    if not ground.moving.bodies:
        return motion, False
    tall = foot_height(ground)
    bodies = ground.moving.advance(motion.bodies, ground.solids, 0.0)
    raft = raft_at(ground, motion.bodies, motion.x, motion.y - tall / 2)
    then = replace(motion, bodies=bodies)
    if raft is not None:
        old, new = motion.bodies[raft.body], bodies[raft.body]
        then = replace(then, x=motion.x + new.x - old.x, y=motion.y + new.y - old.y)
    mover = mover_from_above(ground, bodies, tall)
    if raft is not None and mover.covered(then.x, then.y):
        then = _drawn_in(ground, then, raft.body)
    if mover.covered(then.x, then.y) and not mover_from_above(ground, motion.bodies, tall).covered(
        motion.x, motion.y
    ):
        then = motion
    return then, raft is not None


def _drawn_in(ground: World, motion: Motion, body: int) -> Motion:
    """The walker with its feet wholly on a raft, as far as that is large enough."""
    raft = next(raft for raft in rafts(ground, motion.bodies) if raft.body == body)
    tall = foot_height(ground)
    return replace(
        motion,
        x=min(max(motion.x, raft.left + ground.half), raft.right - ground.half),
        y=min(max(motion.y, raft.top + tall), raft.bottom),
    )


def _across(
    ground: World, motion: Motion, move: float
) -> tuple[float, tuple[BodyState, ...], Slab | None]:
    """Sideways until something is in the way; what can be pushed is, at half the speed."""
    mover = mover_from_above(ground, motion.bodies, foot_height(ground))
    x, _, wall = mover.across(motion.x, motion.y, move, climbs=False)
    if wall is None or wall.body < 0:
        return x, motion.bodies, wall
    left_over = (move - (x - motion.x)) / 2
    bodies, went = ground.moving.shoved(motion.bodies, wall.body, left_over, 0, ground.solids)
    if went:
        mover = mover_from_above(ground, bodies, mover.height)
        x, _, _ = mover.across(x, motion.y, went, climbs=False)
    return x, bodies, wall


def _down(
    ground: World, motion: Motion, move: float
) -> tuple[float, tuple[BodyState, ...], Slab | None]:
    """Down, or up for a negative move, just so."""
    mover = mover_from_above(ground, motion.bodies, foot_height(ground))
    y, on, bumped = mover.down(motion.x, motion.y, move)
    stop = on if move > 0 else bumped
    if stop is None or stop.body < 0:
        return y, motion.bodies, stop
    left_over = (move - (y - motion.y)) / 2
    bodies, went = ground.moving.shoved(motion.bodies, stop.body, 0, left_over, ground.solids)
    if went:
        mover = mover_from_above(ground, bodies, mover.height)
        y, _, _ = mover.down(motion.x, y, went)
    return y, bodies, stop


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


def _to_the_gate(ground: World, x: float, y: float, to: float, axis: int) -> tuple[float, int]:
    """How far a move goes before a side that is shut, and the piece whose side it is: across for
    axis 0, down for axis 1. The feet reach as far as

                 ┌──────────┐  ─┬─
                 │          │   │ tall
                 └────┬─────┘  ─┴─
           half ◄───  x, y ───► half
    """
    reaches = ((ground.half, ground.half), (foot_height(ground), 0.0))
    (before, behind), (low, high) = reaches[axis], reaches[1 - axis]
    start, beside = (x, y) if axis == 0 else (y, x)
    size, width = ground.project.rules.tile[axis], ground.project.rules.tile[1 - axis]
    forward = to > start
    front = behind if forward else -before
    side = ENTRIES[axis][0 if forward else 1]
    first, last = _lines_between(start + front, to + front, size)
    for line in range(first, last) if forward else range(last - 1, first - 1, -1):
        cell = line if forward else line - 1
        lowest, highest = (beside - low) / width + 1e-9, (beside + high) / width - 1e-9
        for other in range(math.floor(lowest), math.ceil(highest)):
            place = (cell, other) if axis == 0 else (other, cell)
            shut = shut_towards(ground.project, ground.level, place, side)
            if shut:
                return line * size - front, shut
    return to, 0


def _lines_between(start: float, end: float, size: int) -> tuple[int, int]:
    """The borders of cells that a move crosses, as a range."""
    low, high = min(start, end), max(start, end)
    if start <= end:
        return math.ceil(low / size - 1e-9), math.ceil(high / size - 1e-9)
    return math.floor(low / size + 1e-9) + 1, math.floor(high / size + 1e-9) + 1
