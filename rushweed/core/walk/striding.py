"""Many steps over flat ground or along a wall at once, the very same as one by one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.bound.slabs import Slab
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.motion import LONG_AGO, Keys, Motion
from rushweed.core.walk.mover import LARGEST_STEP, TOUCH
from rushweed.core.walk.speeding import approached
from rushweed.core.walk.walker import Ground


def stride(ground: Ground, motion: Motion, keys: Keys, most: int, farthest: float) -> Motion:
    """The walker after at most so many steps with the same keys, as far as it walks over flat
    ground and nothing is in the way, and before it has gone `farthest` pixels; where it cannot be
    told beforehand, as it is. `Ground.step` goes on from there."""
    across = keys.right - keys.left
    if not motion.grounded or not across or keys.jump or not is_plain(ground):
        return motion
    walker, unit = ground.walker, ground.unit
    full = walker.speed * unit
    wanted = across * (walker.feel.run if keys.run and walker.feel.run else walker.speed) * unit
    y, half = motion.y, ground.half
    left, right = motion.x - half - farthest - TOUCH, motion.x + half + farthest + TOUCH
    floors, others = _sorted(ground, left, right, y)
    x, speed, on, steps = motion.x, motion.speed_x, motion.on, 0
    while steps < most:
        faster = wanted * speed >= 0 and abs(wanted) > abs(speed)
        seconds = walker.feel.speed_up if faster else walker.feel.brake
        then = approached(speed, wanted, full, seconds)
        there = x + then * STEP
        if abs(then) * STEP > LARGEST_STEP or abs(there - motion.x) >= farthest:
            break
        if any(_meets(slab, min(x, there) - half, max(x, there) + half) for slab in others):
            break
        below = [slab for slab in floors if _meets(slab, there - half, there + half)]
        if not below:
            break
        x, speed, on, steps = there, then, below[-1].piece, steps + 1
    if not steps:
        return motion
    return replace(
        motion,
        x=x,
        speed_x=speed,
        speed_y=0.0,
        on=on,
        blocked=0,
        bumped=0,
        facing=across,
        facing_down=0,
        jump_held=False,
        steps=motion.steps + steps,
        body=-1,
        off=0,
        asked=min(motion.asked + steps, LONG_AGO),
        drift=0.0,
        climbing=False,
        swims=False,
        flown=0,
    )


def is_plain(ground: Ground) -> bool:
    """Whether a level is seen from the side and nothing but its ground moves a walker."""
    return not (ground.moving.bodies or ground.mediums) and ground.level.view == "side"


def _sorted(
    ground: Ground, left: float, right: float, y: float
) -> tuple[Sequence[Slab], Sequence[Slab]]:
    """What lies flat at the height of the feet, and what else a walker might meet there; what is
    lower, or higher than its head, is neither."""
    floors, others = [], []
    head = y - ground.height
    for slab in ground.solids.near(left, head - 1, right, y + 1):
        if min(slab.top_left, slab.top_right) > y:
            continue
        if max(slab.bottom_left, slab.bottom_right) <= head:
            continue
        if slab.top_left == slab.top_right == y and slab.carries:
            floors.append(slab)
        else:
            others.append(slab)
    return floors, others


def _meets(slab: Slab, left: float, right: float) -> bool:
    """Whether a slab reaches into a span."""
    return slab.left < right - TOUCH and slab.right > left + TOUCH
