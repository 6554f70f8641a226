"""Climbing ladders and swimming: steps in which nothing falls."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.mediums import Medium
from rushweed.core.walk.motion import LONG_AGO, Keys, Motion
from rushweed.core.walk.speeding import approached

if TYPE_CHECKING:
    from rushweed.core.bound.slabs import Slab
    from rushweed.core.walk.world import World

PROBE = 1.0
"""Pixels above the feet at which a ladder is looked for, and below them for one to step down."""
TO_SWIM = 0.2
"""Seconds in which somebody in water comes to full speed."""


def takes_ladder(world: World, motion: Motion, keys: Keys) -> bool:
    """Whether a walker is on a ladder in this step: it goes on with it, or takes hold of it with
    up, or with down from above."""
    here = world.mediums.at(motion.x, motion.y - PROBE).moves == "climbs"
    if keys.up and not keys.down and not motion.climbing:
        return here
    below = world.mediums.at(motion.x, motion.y + PROBE).moves == "climbs"
    if motion.climbing:
        return here or below
    return keys.down and not keys.jump and (below or (here and not motion.grounded))


def lets_go_of_ladder(motion: Motion, keys: Keys) -> bool:
    """Whether one on a ladder lets go of it with a jump."""
    return motion.climbing and keys.jump and not motion.jump_held and not keys.up


def climbed(world: World, motion: Motion, keys: Keys) -> Motion:
    """A step on a ladder. At its top and at its foot one stands."""
    speed = world.walker.feel.climbs * world.unit
    across, down = keys.right - keys.left, keys.down - keys.up
    mover = world.mover(motion.bodies)
    x, y, wall = mover.across(motion.x, motion.y, across * speed * STEP, climbs=False)
    y, on, bumped = mover.down(x, y, down * speed * STEP, through=down > 0)
    piece, climbing = (on.piece, False) if on and down > 0 else (0, True)
    if world.mediums.at(x, y - PROBE).moves != "climbs":
        under = world.mediums.at(x, y + PROBE)
        climbing = under.moves == "climbs" and down > 0
        if under.moves == "climbs" and down <= 0:
            y, piece = world.mediums.row_top(y + PROBE), under.piece
    motion = _moved(motion, keys, (x, y), wall, bumped)
    return replace(
        motion,
        speed_x=0.0 if wall else across * speed,
        speed_y=0.0 if bumped or piece else down * speed,
        on=piece,
        body=on.body if on and piece == on.piece else -1,
        climbing=climbing,
        swims=False,
    )


def swum(world: World, motion: Motion, keys: Keys, medium: Medium) -> Motion:
    """A step in water: one swims any way, and sinks when nothing is held."""
    feel, unit = world.walker.feel, world.unit
    speed = feel.swims * unit
    across, down = keys.right - keys.left, keys.down - (keys.up or keys.jump)
    wanted = down * speed if down else feel.sinks * unit
    fastest = max(speed, feel.sinks * unit)
    speed_x = approached(motion.speed_x, across * speed, fastest, TO_SWIM)
    speed_y = approached(motion.speed_y, wanted, fastest, TO_SWIM)
    mover = world.mover(motion.bodies)
    carried = medium.across * unit
    x, y, wall = mover.across(motion.x, motion.y, (speed_x + carried) * STEP, climbs=True)
    y, on, bumped = mover.down(x, y, (speed_y + medium.down * unit) * STEP, through=keys.down)
    motion = _moved(motion, keys, (x, y), wall, bumped)
    return replace(
        motion,
        speed_x=0.0 if wall else speed_x,
        speed_y=0.0 if on or bumped else speed_y,
        on=on.piece if on else 0,
        body=on.body if on else -1,
        climbing=False,
        swims=True,
    )


def _moved(
    motion: Motion,
    keys: Keys,
    to: tuple[float, float],
    wall: Slab | None,
    bumped: Slab | None,
) -> Motion:
    """One who came to a place, in a step that counts for no jump."""
    return replace(
        motion,
        x=to[0],
        y=to[1],
        blocked=wall.piece if wall else 0,
        bumped=bumped.piece if bumped else 0,
        facing=keys.right - keys.left or motion.facing,
        jump_held=keys.jump,
        steps=motion.steps + 1,
        off=0,
        asked=LONG_AGO,
        drift=0.0,
        flown=0,
    )


def is_swimming(world: World, motion: Motion) -> Medium | None:
    """What a walker swims in, None for nothing: its middle is under water."""
    medium = world.mediums.at(motion.x, motion.y - world.height / 2)
    return medium if medium.moves == "swims" else None


def leaps_out(world: World, motion: Motion, keys: Keys) -> bool:
    """Whether a swimmer whose head is out of the water jumps from it."""
    head = world.mediums.at(motion.x, motion.y - world.height + PROBE)
    return keys.jump and not motion.jump_held and head.moves != "swims"
