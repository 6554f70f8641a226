"""A level to walk in: what is solid there, what moves, and how large and strong the walker is."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Walker
from rushweed.core.values import Point
from rushweed.core.walk.bodies import BodyState, Moving
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.solids import Solids
from rushweed.core.walk.starting import first_standing


class World:
    """A level to walk in, with a walker's size and strength."""

    def __init__(self, project: Project, level: str) -> None:
        self.project = project
        self.level = project.level(level)
        self.walker: Walker = project.walker
        self.solids = Solids(project, self.level)
        self.moving = Moving(project, self.level)
        self.unit = project.rules.pixels_per_unit
        self.body = walker_body(project)
        self.half = max(self.body.width, 1) / 2
        self.height = float(max(self.body.height, 1))

    @cached_property
    def sensors(self) -> Solids:
        """What takes notice of a walker without stopping it."""
        return Solids(self.project, self.level, sensors=True)

    def begin(self, start: Point | None = None) -> Motion:
        """The walker at a place, else at the level's start, else on its first ground."""
        place = start or self.level.start or first_standing(self.project, self.level)
        return Motion(float(place.x), float(place.y), bodies=self.moving.begin())

    def fitting(self, motion: Motion) -> Motion:
        """A motion of an earlier version of the level, its bodies at the start where they are other
        ones now."""
        if len(motion.bodies) == len(self.moving.bodies):
            return motion
        return replace(motion, bodies=self.moving.begin(), body=-1)

    def mover(self, bodies: tuple[BodyState, ...], height: float | None = None) -> Mover:
        """The walker's box among all that is solid."""
        slabs = self.moving.slabs(bodies) if self.moving.bodies else ()
        return Mover(self.solids, self.half, height or self.height, slabs)
