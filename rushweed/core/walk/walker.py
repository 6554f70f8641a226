"""The walker: a body that runs, jumps and falls among slabs, the same way every time.

Steps are 1/60 s of double-precision arithmetic in a fixed order, so the same keys give the same
path to the bit. Places are in pixels, y down; the walker stands at the middle of its lower edge.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from rushweed.core.bound.slabs import Slab
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Walker
from rushweed.core.values import Point
from rushweed.core.walk.solids import Solids

STEP = 1 / 60
STEEPEST = 1.01
"""A walker goes up slopes that rise at most this many pixels for each pixel across."""
TOUCH = 1e-6
LIP = 1e-3
"""A step up of more than this many pixels stops a walker."""
LARGEST_STEP = 8.0


@dataclass(frozen=True, slots=True)
class Keys:
    """What is held during a step."""

    left: bool = False
    right: bool = False
    up: bool = False
    down: bool = False
    jump: bool = False


@dataclass(frozen=True, slots=True)
class Motion:
    """Where the walker is, how fast in pixels per second, and what carries it.

    `on` is the number of the piece it stands on, 0 in the air. `blocked` is the number of the
    piece that stopped it sideways in the last step, 0 for none.
    """

    x: float
    y: float
    speed_x: float = 0.0
    speed_y: float = 0.0
    on: int = 0
    blocked: int = 0
    facing: int = 1
    jump_held: bool = False
    steps: int = 0

    @property
    def grounded(self) -> bool:
        return self.on != 0


class Ground:
    """A level to walk in, with a walker's size and strength."""

    def __init__(self, project: Project, level: str) -> None:
        self.level = project.level(level)
        self.walker: Walker = project.walker
        self.solids = Solids(project, self.level)
        self.unit = project.rules.pixels_per_unit
        self.half = self.walker.body.width / 2
        self.height = float(self.walker.body.height)

    def begin(self, start: Point | None = None) -> Motion:
        """The walker at a place, else at the level's start, else at its origin."""
        place = start or self.level.start or Point(0, 0)
        return Motion(float(place.x), float(place.y))

    def step(self, motion: Motion, keys: Keys) -> Motion:
        """One sixtieth of a second later."""
        if self.level.view == "top-down":
            return self._step_from_above(motion, keys)
        return self._step_from_the_side(motion, keys)

    def _step_from_the_side(self, motion: Motion, keys: Keys) -> Motion:
        across = keys.right - keys.left
        speed_x = across * self.walker.speed * self.unit
        speed_y = motion.speed_y
        gravity = self.walker.gravity * self.unit
        jumping = keys.jump and not motion.jump_held and motion.grounded and not keys.down
        dropping = keys.jump and keys.down and motion.grounded
        if jumping:
            speed_y = -math.sqrt(2 * gravity * self.walker.jump * self.unit)
        rests = motion.grounded and not jumping
        x, y, blocked = self._across(motion.x, motion.y, speed_x * STEP, rests)
        if rests and not dropping:
            speed_y, (y, on) = 0.0, self._settle(x, y, abs(x - motion.x))
        else:
            speed_y += gravity * STEP
            y, on, bumped = self._down(x, y, speed_y * STEP, through=dropping)
            speed_y = 0.0 if on or bumped else speed_y
        return Motion(
            x,
            y,
            0.0 if blocked else speed_x,
            speed_y,
            on,
            blocked,
            across or motion.facing,
            keys.jump,
            motion.steps + 1,
        )

    def _step_from_above(self, motion: Motion, keys: Keys) -> Motion:
        across, down = keys.right - keys.left, keys.down - keys.up
        speed = self.walker.speed * self.unit * (math.sqrt(0.5) if across and down else 1.0)
        x, _, blocked = self._across(motion.x, motion.y, across * speed * STEP, climbs=False)
        y, on, bumped = self._down(x, motion.y, down * speed * STEP)
        return replace(
            motion,
            x=x,
            y=y,
            speed_x=across * speed,
            speed_y=down * speed,
            blocked=blocked or on or bumped,
            on=0,
            facing=across or motion.facing,
            steps=motion.steps + 1,
        )

    def _across(self, x: float, y: float, move: float, climbs: bool) -> tuple[float, float, int]:
        """Move sideways, and on the ground up slopes, until something is in the way."""
        blocked, left_over = 0, abs(move)
        while left_over > 0 and not blocked:
            part = min(left_over, LARGEST_STEP)
            left_over -= part
            x, y, blocked = self._across_a_little(x, y, math.copysign(part, move), climbs)
        return x, y, blocked

    def _across_a_little(
        self, x: float, y: float, move: float, climbs: bool
    ) -> tuple[float, float, int]:
        obstacles = self._in_the_way(x, y, move)
        if obstacles and climbs:
            reach, height, blocked = self._climb(obstacles, x, y, move)
            if not self._covered(x + reach, height):
                return x + reach, height, blocked
        reach, blocked = abs(move), 0
        toward = 1 if move > 0 else -1
        for slab in obstacles:
            distance = self._clear_distance(slab, x, y, toward, abs(move))
            if distance < reach:
                reach, blocked = distance, slab.piece
        return x + toward * reach, y, blocked

    def _in_the_way(self, x: float, y: float, move: float) -> list[Slab]:
        """All-sided slabs that the body touches anywhere along its way."""
        left = x - self.half + min(move, 0.0)
        right = x + self.half + max(move, 0.0)
        middle, half = (left + right) / 2, (right - left) / 2
        return [
            slab
            for slab in self.solids.near(left, y - self.height, right, y)
            if slab.stops == "all sides" and self._overlaps(slab, middle, y, half)
        ]

    def _climb(
        self, obstacles: list[Slab], x: float, y: float, move: float
    ) -> tuple[float, float, int]:
        """Go up slopes that begin at the feet; stop at the first wall or lip.

        Returns how far across, the new height, and the piece that stopped the walker.
        """
        toward = 1 if move > 0 else -1
        front = x + toward * self.half
        last = front + move

        def entry(slab: Slab) -> float:
            near = slab.left if toward > 0 else slab.right
            return max(near * toward, front * toward) * toward

        height = y
        for slab in sorted(obstacles, key=lambda s: (entry(s) * toward, -s.top_at(entry(s)))):
            begin = entry(slab)
            end = min(last * toward, (slab.right if toward > 0 else slab.left) * toward) * toward
            rise = (slab.top_left - slab.top_right) * toward
            too_steep = rise > STEEPEST * (slab.right - slab.left)
            if too_steep or slab.top_at(begin) < height - LIP:
                return begin - front, height, slab.piece
            height = min(height, slab.top_at(begin), slab.top_at(end))
        return move, height, 0

    def _clear_distance(self, slab: Slab, x: float, y: float, toward: int, reach: float) -> float:
        """How far the body can go before it overlaps a slab, to a millionth of a pixel."""
        if self._overlaps(slab, x, y):
            return 0.0
        low, high = 0.0, reach
        if not self._overlaps(slab, x + toward * high, y):
            return reach
        for _ in range(30):
            middle = (low + high) / 2
            if self._overlaps(slab, x + toward * middle, y):
                high = middle
            else:
                low = middle
        return low

    def _overlaps(self, slab: Slab, x: float, y: float, half: float | None = None) -> bool:
        half = self.half if half is None else half
        left, right = max(x - half, slab.left), min(x + half, slab.right)
        if right - left <= TOUCH:
            return False
        top, bottom = slab.top_between(left, right), slab.bottom_between(left, right)
        return top < y - TOUCH and bottom > y - self.height + TOUCH

    def _covered(self, x: float, y: float) -> int:
        """The piece that a body standing there would overlap, 0 for none."""
        for slab in self.solids.near(x - self.half, y - self.height, x + self.half, y):
            if slab.stops == "all sides" and self._overlaps(slab, x, y):
                return slab.piece
        return 0

    def _settle(self, x: float, y: float, moved: float) -> tuple[float, int]:
        """Stay on the ground: follow it down as far as a slope may fall, else begin to fall."""
        reach = moved * STEEPEST + 0.05
        y_below, on, _ = self._down(x, y, reach)
        return (y_below, on) if on else (y, 0)

    def _down(
        self, x: float, y: float, move: float, through: bool = False
    ) -> tuple[float, int, int]:
        """Move down, or up for a negative move, until something is in the way.

        Returns the new height, the piece stood on, and the piece the head hit.
        """
        left, right = x - self.half, x + self.half
        target, on, bumped = y + move, 0, 0
        for slab in self.solids.near(
            left, min(y, target) - self.height - 1, right, max(y, target) + 1
        ):
            if slab.left >= right - TOUCH or slab.right <= left + TOUCH:
                continue
            if move >= 0:
                if slab.stops == "one-way" and through:
                    continue
                surface = slab.top_between(left, right)
                if y - TOUCH <= surface <= target:
                    target, on = surface, slab.piece
            elif slab.stops == "all sides":
                ceiling = slab.bottom_between(left, right)
                if target - self.height < ceiling <= y - self.height + TOUCH:
                    target, bumped = ceiling + self.height, slab.piece
        return target, on, bumped
