"""Many steps through free air at once, the very same as one by one."""

from __future__ import annotations

import math
from dataclasses import replace

from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.motion import LONG_AGO, Keys, Motion
from rushweed.core.walk.mover import LARGEST_STEP, TOUCH
from rushweed.core.walk.speeding import approached
from rushweed.core.walk.walker import SHORT, Ground, fallen

AROUND = 1.0
"""Pixels above and below the box of a step that must be free."""


def glide(ground: Ground, motion: Motion, keys: Keys, most: int) -> Motion:
    """The walker after at most so many steps with the same keys, as far as it flies and nothing
    solid is near; where it cannot be told beforehand, as it is. `Ground.step` goes on from there.
    """
    if not may_glide(ground, motion, keys):
        return motion
    walker, unit, feel = ground.walker, ground.unit, ground.walker.feel
    gravity = walker.gravity * unit
    slowest = -SHORT * math.sqrt(2 * gravity * walker.jump * unit)
    lets_go = walker.variable_jump_height and not keys.jump
    wanted = (keys.right - keys.left) * (feel.run if keys.run and feel.run else walker.speed) * unit
    speed, falls = walker.speed * unit, feel.falls * unit
    x, y, speed_x, speed_y = motion.x, motion.y, motion.speed_x, motion.speed_y
    steps = 0
    while steps < most:
        faster = approached(speed_x, wanted, speed, feel.in_air)
        rising = slowest if lets_go and speed_y < slowest else speed_y
        aside = (faster + motion.drift) * STEP
        down, then = fallen(rising, gravity, falls)
        if abs(aside) > LARGEST_STEP or not _is_free(ground, x, y, aside, down):
            break
        x, y, speed_x, speed_y = x + aside, y + down, faster, then
        steps += 1
    if not steps:
        return motion
    return replace(
        motion,
        x=x,
        y=y,
        speed_x=speed_x,
        speed_y=speed_y,
        blocked=0,
        bumped=0,
        facing=keys.right - keys.left or motion.facing,
        facing_down=0,
        steps=motion.steps + steps,
        off=min(motion.off + steps, LONG_AGO),
        asked=min(motion.asked + steps, LONG_AGO),
        jump_held=keys.jump,
        climbing=False,
        swims=False,
    )


def may_glide(ground: Ground, motion: Motion, keys: Keys) -> bool:
    """Whether nothing but gravity and the keys for left and right move a walker: it is in the air,
    no body, ladder or water is in the level, and no jump may begin."""
    if motion.grounded or ground.moving.bodies or ground.mediums or ground.level.view != "side":
        return False
    return not keys.jump or (motion.jump_held and not ground.walker.jump_buffer)


def _is_free(ground: Ground, x: float, y: float, aside: float, down: float) -> bool:
    """Whether the walker's box meets nothing on its way in one step."""
    left = x - ground.half + min(aside, 0.0)
    right = x + ground.half + max(aside, 0.0)
    top = y + min(down, 0.0) - ground.height - AROUND
    bottom = y + max(down, 0.0) + AROUND
    if ground.solids.is_empty(left, top, right, bottom):
        return True
    for slab in ground.solids.near(left, top, right, bottom):
        if slab.left >= right - TOUCH or slab.right <= left + TOUCH:
            continue
        if slab.stops == "one-way" and slab.side == "above" and down < 0:
            continue
        if (
            min(slab.top_left, slab.top_right) < bottom
            and max(slab.bottom_left, slab.bottom_right) > top
        ):
            return False
    return True
