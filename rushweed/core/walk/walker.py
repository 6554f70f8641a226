"""The walker: a body that runs, jumps and falls among slabs, the same way every time.

Steps are 1/60 s of double-precision arithmetic in a fixed order, so the same keys give the same
path to the bit. Places are in pixels, y down; the walker stands at the middle of its lower edge.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from rushweed.core.bound.slabs import Slab
from rushweed.core.walk.above import foot_height, step_from_above
from rushweed.core.walk.bodies import STEP, TILT, BodyState, overlaps_any
from rushweed.core.walk.immersed import (
    climbed,
    is_swimming,
    leaps_out,
    lets_go_of_ladder,
    swum,
    takes_ladder,
)
from rushweed.core.walk.mediums import AIR, Medium
from rushweed.core.walk.motion import LONG_AGO, Keys, Motion
from rushweed.core.walk.mover import TOUCH, Mover
from rushweed.core.walk.rafts import mover_from_above
from rushweed.core.walk.speeding import approached
from rushweed.core.walk.world import World

SHORT = 0.4
"""A jump whose key is let go goes on with this share of its first speed at most."""


class Ground(World):
    """A level in which a walker takes its steps."""

    def step(self, motion: Motion, keys: Keys) -> Motion:
        """One sixtieth of a second later."""
        if self.level.view == "top-down":
            return step_from_above(self, motion, keys)
        motion = self._with_bodies(motion) if self.moving.bodies else motion
        return self._step_from_the_side(motion, keys)

    def covered(self, motion: Motion) -> Slab | None:
        """What a walker overlaps, seen from above with its feet alone; None is as it should be."""
        above = self.level.view == "top-down"
        mover = (
            mover_from_above(self, motion.bodies, foot_height(self))
            if above
            else self.mover(motion.bodies)
        )
        return mover.covered(motion.x, motion.y)

    def _step_from_the_side(self, motion: Motion, keys: Keys) -> Motion:
        medium = AIR
        if self.mediums:
            lets_go = lets_go_of_ladder(motion, keys)
            if not lets_go and takes_ladder(self, motion, keys):
                return climbed(self, motion, keys)
            water = is_swimming(self, motion)
            leaps = lets_go or (water is not None and leaps_out(self, motion, keys))
            if water is not None and not leaps:
                return swum(self, motion, keys, water)
            medium = self.mediums.at(motion.x, motion.y - self.height / 2)
            return self._in_the_open(motion, keys, medium, leaps)
        return self._in_the_open(motion, keys, medium)

    def _in_the_open(
        self, motion: Motion, keys: Keys, medium: Medium, leaps: bool = False
    ) -> Motion:
        """A step on the ground or in the air."""
        across = keys.right - keys.left
        feel, gravity = self.walker.feel, self.walker.gravity * self.unit
        lift = math.sqrt(2 * gravity * self.walker.jump * self.unit)
        asked = 0 if keys.jump and not motion.jump_held else min(motion.asked + 1, LONG_AGO)
        jumping = leaps or self._jumps(motion, keys, asked)
        again = not jumping and self._jumps_again(motion, keys, asked)
        jumping = jumping or again
        dropping = keys.jump and keys.down and motion.grounded
        speed_x = self._speed_across(motion, across, keys.run)
        speed_y = -lift if jumping else motion.speed_y
        if self.walker.variable_jump_height and not keys.jump and speed_y < -SHORT * lift:
            speed_y = -SHORT * lift
        rests = motion.grounded and not jumping
        mover = self.mover(motion.bodies)
        drift = (0.0 if motion.grounded else motion.drift) + medium.across * self.unit
        x, y, wall = mover.across(motion.x, motion.y, (speed_x + drift) * STEP, rests)
        bodies = motion.bodies
        if wall is not None and wall.body >= 0 and rests:
            x, bodies, mover = self._push(x, y, motion, wall, speed_x * STEP)
        bumped: Slab | None = None
        if rests and not dropping and medium.down >= 0:
            speed_y, (y, on) = 0.0, mover.settle(x, y, abs(x - motion.x))
        else:
            move, speed_y = fallen(speed_y, gravity, feel.falls * self.unit)
            move += medium.down * self.unit * STEP
            x, y, on, bumped = self._fall(mover, x, y, move, dropping)
            speed_y = 0.0 if on or bumped else speed_y
        off = 0 if on else LONG_AGO if jumping else min(motion.off + 1, LONG_AGO)
        return Motion(
            x=x,
            y=y,
            speed_x=0.0 if wall else speed_x,
            speed_y=speed_y,
            on=on.piece if on else 0,
            blocked=wall.piece if wall else 0,
            facing=across or motion.facing,
            jump_held=keys.jump,
            steps=motion.steps + 1,
            bumped=bumped.piece if bumped else 0,
            body=on.body if on else -1,
            off=off,
            asked=LONG_AGO if jumping else asked,
            bodies=bodies,
            drift=0.0 if on or wall else motion.drift,
            flown=0 if on else motion.flown + again,
        )

    def _speed_across(self, motion: Motion, across: int, runs: bool) -> float:
        """How fast it goes sideways by its own strength."""
        feel = self.walker.feel
        wanted = across * (feel.run if runs and feel.run else self.walker.speed) * self.unit
        if not motion.grounded:
            seconds = feel.in_air
        else:
            faster = wanted * motion.speed_x >= 0 and abs(wanted) > abs(motion.speed_x)
            seconds = feel.speed_up if faster else feel.brake
        return approached(motion.speed_x, wanted, self.walker.speed * self.unit, seconds)

    def _fall(
        self, mover: Mover, x: float, y: float, move: float, through: bool
    ) -> tuple[float, float, Slab | None, Slab | None]:
        """Down, or up past the corner of a ceiling that is hardly in the way."""
        y_then, on, bumped = mover.down(x, y, move, through)
        corner = self.walker.feel.corner_correction * self.unit
        if bumped is not None and corner > 0:
            for aside in (bumped.right - (x - mover.half), bumped.left - (x + mover.half)):
                if abs(aside) <= corner and not mover.covered(x + aside, y):
                    y_past, on_past, hit = mover.down(x + aside, y, move, through)
                    if hit is None:
                        return x + aside, y_past, on_past, None
        return x, y_then, on, bumped

    def _jumps(self, motion: Motion, keys: Keys, asked: int) -> bool:
        """Whether a jump begins: the key is pressed on the ground, or a little early or late."""
        if keys.down or not keys.jump:
            return False
        early = asked <= round(self.walker.jump_buffer / STEP)
        late = motion.off <= round(self.walker.coyote_time / STEP) and motion.speed_y >= 0
        return early and (motion.grounded or (self.walker.coyote_time > 0 and late))

    def _jumps_again(self, motion: Motion, keys: Keys, asked: int) -> bool:
        """Whether one more jump begins in the air."""
        fresh = asked == 0 and keys.jump and not keys.down
        return fresh and not motion.grounded and motion.flown < self.walker.feel.jumps

    def _push(
        self, x: float, y: float, motion: Motion, wall: Slab, move: float
    ) -> tuple[float, tuple[BodyState, ...], Mover]:
        """Push a body with the rest of a step, at half the speed."""
        left_over = (move - (x - motion.x)) / 2
        bodies, went = self.moving.pushed(motion.bodies, wall.body, left_over, self.solids)
        mover = self.mover(bodies)
        if went:
            x, _, _ = mover.across(x, y, went, climbs=False)
        return x, bodies, mover

    # -- bodies ------------------------------------------------------------------------

    def _with_bodies(self, motion: Motion) -> Motion:
        """Let bodies move: they carry a walker that stands on them, push one that is in their way,
        and wait where it cannot give way."""
        before = motion.bodies
        after = self.moving.advance(before, self.solids, self.walker.gravity * self.unit)
        after = self._tilted(motion, after)
        motion = self._carried(motion, before, after)
        mover = self.mover(after)
        for number, (old, new) in enumerate(zip(before, after, strict=True)):
            if old == new or not self._might_meet(motion, number, old, new):
                continue
            motion = self._lifted(motion, number, old, new)
            alone = list(self.moving.bodies[number].slabs(new, number))
            if overlaps_any(mover, motion.x, motion.y, alone):
                motion, gave_way = self._given_way(motion, old, new, alone, mover)
                if not gave_way:
                    after = (*after[:number], old, *after[number + 1 :])
                    mover = self.mover(after)
        return replace(motion, bodies=after)

    def _might_meet(self, motion: Motion, number: int, old: BodyState, new: BodyState) -> bool:
        """Whether a body may touch the walker where it was or is; told by the boxes around both."""
        box = self.moving.bodies[number].box
        if box is None or old.angle or new.angle:
            return box is not None
        left, top, right, bottom = box
        return (
            min(old.x, new.x) + left < motion.x + self.half + 1
            and max(old.x, new.x) + right > motion.x - self.half - 1
            and min(old.y, new.y) + top < motion.y + 1
            and max(old.y, new.y) + bottom > motion.y - self.height - 1
        )

    def _lifted(self, motion: Motion, number: int, old: BodyState, new: BodyState) -> Motion:
        """The walker on a body that came up to it from below, one-way or not."""
        if motion.body == number:
            return motion
        body = self.moving.bodies[number]
        was = self._top_of_slabs(body.slabs(old, number), motion.x)
        now = self._top_of_slabs(body.slabs(new, number), motion.x)
        if was is None or now is None or not now < motion.y <= was + TOUCH:
            return motion
        return replace(motion, y=now)

    def _carried(
        self, motion: Motion, before: tuple[BodyState, ...], after: tuple[BodyState, ...]
    ) -> Motion:
        """The walker moved along with the body it stands on, as far as there is room."""
        if motion.body < 0:
            return motion
        old, new = before[motion.body], after[motion.body]
        dx, dy = new.x - old.x, new.y - old.y
        others = Mover(
            self.solids, self.half, self.height, self.moving.slabs(after, without=motion.body)
        )
        x, _, _ = others.across(motion.x, motion.y, dx, climbs=False)
        y = others.down(x, motion.y, dy)[0] if dy else motion.y
        tilt = new.angle - old.angle
        if tilt:
            top = self._top_of(after, motion.body, x)
            y = top if top is not None and not others.covered(x, top) else y
        return replace(motion, x=x, y=y, drift=dx / STEP)

    def _top_of(self, states: tuple[BodyState, ...], number: int, x: float) -> float | None:
        """The highest place of a body below a walker at x."""
        return self._top_of_slabs(self.moving.bodies[number].slabs(states[number], number), x)

    def _top_of_slabs(self, slabs: Iterable[Slab], x: float) -> float | None:
        left, right = x - self.half, x + self.half
        tops = [
            slab.top_between(left, right)
            for slab in slabs
            if slab.left < right - TOUCH and slab.right > left + TOUCH and slab.carries
        ]
        return min(tops, default=None)

    def _tilted(self, motion: Motion, states: tuple[BodyState, ...]) -> tuple[BodyState, ...]:
        """Hinged bodies give way under a walker, and swing back when it is gone."""
        for number, body in enumerate(self.moving.bodies):
            if body.kind != "hinged":
                continue
            towards = 0
            if motion.body == number:
                aside = motion.x - states[number].x
                towards = TILT if aside > 1 else -TILT if aside < -1 else 0
            states = self.moving.tilted(states, number, towards)
        return states

    def _given_way(
        self, motion: Motion, old: BodyState, new: BodyState, alone: list[Slab], mover: Mover
    ) -> tuple[Motion, bool]:
        """The walker pushed out of a body's way, in the direction it moves; False when it cannot
        be."""
        others = Mover(self.solids, self.half, self.height)
        dx, dy = new.x - old.x, new.y - old.y
        x, _, _ = others.across(motion.x, motion.y, dx, climbs=False)
        y = others.down(x, motion.y, dy)[0] if dy else motion.y
        if overlaps_any(mover, x, y, alone):
            top = min(slab.top_between(x - self.half, x + self.half) for slab in alone)
            if y - top <= 2 and not others.covered(x, top):
                y = top
        if overlaps_any(mover, x, y, alone) or others.covered(x, y):
            return motion, False
        return replace(motion, x=x, y=y), True


def fallen(speed: float, gravity: float, fastest: float = 0.0) -> tuple[float, float]:
    """How far something goes down in a step, and its speed then, which is at most `fastest` unless
    that is 0. The very parabola; where its top lies within a step, the step ends there, so that a
    jump rises as high as it should."""
    after = speed + gravity * STEP
    if 0 < fastest < after:
        return fastest * STEP, fastest
    if speed < 0 < after:
        return -speed * speed / (2 * gravity), 0.0
    return (speed + after) / 2 * STEP, after
