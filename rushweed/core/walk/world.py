"""A level to walk in: what is solid there, what moves, and how large and strong the walker is."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.level import Prop, bounds
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Walker
from rushweed.core.values import Point
from rushweed.core.walk.bodies import BodyState, Moving
from rushweed.core.walk.mediums import Mediums
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.slab_table import SlabTable
from rushweed.core.walk.solids import Solids
from rushweed.core.walk.starting import first_standing
from rushweed.core.weave.posing import prop_area


class World:
    """A level to walk in, with a walker's size and strength."""

    def __init__(self, project: Project, level: str) -> None:
        project = in_levels(project)
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

    @cached_property
    def table(self) -> SlabTable:
        """What is solid and stays, for many walkers at once."""
        return SlabTable(self.solids, bounds(self.level), self.project.rules.tile)

    @cached_property
    def actable(self) -> tuple[list[tuple[int, int, Prop]], Reals]:
        """The props that can be acted on, those with a name, with notes, or with anything solid
        about them, back to front with their layers and places; and left, top, right and bottom of
        each, of shape (count, 4), not a number for those that move."""
        found, areas = [], []
        for number, layer in enumerate(self.level.layers):
            for place, prop in enumerate(layer.props if layer.is_walked else ()):
                pair = self.project.find(prop.piece)
                if pair and (prop.name or prop.notes or pair[1].shapes or pair[1].facts.notes):
                    found.append((number, place, prop))
                    area = prop_area(self.project, prop)
                    moves = (number, place) in self.moving.props
                    ends = (area.x, area.y, area.right, area.bottom)
                    areas.append((np.nan,) * 4 if moves else ends)
        return found, np.array(areas, np.float64).reshape(-1, 4)

    @cached_property
    def mediums(self) -> Mediums:
        """What is climbed, swum in, or carries."""
        return Mediums(self.project, self.level)

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
