"""A walk under way: where the walker is, where it was, which keys led there, what is seen."""

from __future__ import annotations

import math
from dataclasses import replace

from rushweed.core.project.level import bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.walk.following import area_of, seen_place
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import view_around

TRACE = 480
LONGEST = 60 * 60 * 60
"""No more steps of a walk than these are recorded: an hour."""
NO_LEVEL = Size(256, 144)
"""The size of the picture where there is no project to say it."""


class Course:
    """`ground` is None where there is no level. `trace` are the last motions, `recorded` the keys
    of each step since the start, `seen` the place in the middle of the view, in pixels."""

    def __init__(self) -> None:
        self.ground: Ground | None = None
        self.motion = Motion(0, 0)
        self.trace: list[Motion] = []
        self.recorded: list[Keys] = []
        self.falls = 0
        self.seen = Point(0, 0)
        self._has_stood = False
        self._area = Rect(0, 0, 0, 0)
        self._floor = math.inf

    def prepare(self, project: Project, level: str) -> None:
        """Walk in this level; the walker stays where it is when only something changed, but begins
        anew as long as nothing carried it: what it shall stand on may have come just now."""
        same = self.ground is not None and self.ground.level.name == level
        self.ground = Ground(project, level) if level else None
        if self.ground is None:
            return
        lowest = bounds(self.ground.level).bottom * project.rules.tile.height
        self._floor = lowest + project.rules.resolution.height
        self._area = area_of(self.ground.level, project.rules.tile)
        if same and self._has_stood:
            self.motion = self.ground.fitting(self.motion)
            self._follow()
        else:
            self.restart()

    def restart(self) -> None:
        """Back to the start."""
        if self.ground is not None:
            self._begin(self.ground.begin())
            self.recorded = []
            self._has_stood = False

    def put(self, place: Point) -> None:
        """Put the walker somewhere else."""
        if self.ground is not None:
            self._begin(replace(self.ground.begin(place), steps=self.motion.steps))
            self._has_stood = True

    def advance(self, keys: Keys, count: int) -> bool:
        """Some steps with the keys that are held. True when the walker fell out of the level; it is
        back at the start then."""
        assert self.ground is not None
        for _ in range(count):
            self.motion = self.ground.step(self.motion, keys)
            self._follow()
            self.trace.append(self.motion)
            self.recorded.append(keys)
            self._has_stood |= self.motion.grounded or keys != Keys()
        del self.trace[:-TRACE]
        del self.recorded[LONGEST:]
        if self.motion.y <= self._floor:
            return False
        self.falls += 1
        self.restart()
        return True

    @property
    def resolution(self) -> Size:
        """The size of the game's picture, in its pixels."""
        return self.ground.project.rules.resolution if self.ground else NO_LEVEL

    def view(self) -> Rect:
        """The part of the level that the game shows: the walker in its middle, or as it follows."""
        return view_around(self.seen, self.resolution)

    def _begin(self, motion: Motion) -> None:
        self.motion = motion
        self.trace = [motion]
        self.seen = Point(motion.x, motion.y)
        self._follow()

    def _follow(self) -> None:
        assert self.ground is not None
        feet, following = Point(self.motion.x, self.motion.y), self.ground.project.walker.following
        self.seen = seen_place(self.seen, feet, self.resolution, following, self._area)
