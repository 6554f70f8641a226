"""Steadying several animations of a sheet as one: a figure stands still when the game changes
from one to another."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import NamedTuple

from rushweed.core.arrays import Mask
from rushweed.core.cut.steadying import level_feet, steady_body, unrest
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet

OFF_THE_GROUND = frozenset(
    ("jump", "leap", "hop", "fall", "fly", "dive", "swim", "climb", "hang", "float")
)
"""Words of animations whose feet leave the ground on purpose."""
SWAY = 2
"""Middles that wander by no more pixels than this are as they should be."""


class Unrest(NamedTuple):
    """By how many pixels feet and middles wander in an animation."""

    name: str
    feet: int
    middle: int


def unrest_of(sheet: Sheet, mask: Mask) -> list[Unrest]:
    """The animations that wander as they stand; not what leaves the ground. `mask` is the
    sheet's."""
    found = []
    for animation in sheet.animations:
        if not is_off_the_ground(animation):
            feet, middle = unrest(frames_of(sheet, {animation.name}), mask)
            if feet or middle > SWAY:
                found.append(Unrest(animation.name, feet, middle))
    return found


def is_off_the_ground(animation: Animation) -> bool:
    """Whether an animation's name says that its feet leave the ground."""
    return bool(OFF_THE_GROUND.intersection(re.split(r"[\W_\d]+", animation.name.lower())))


def frames_of(sheet: Sheet, names: Collection[str]) -> list[Piece]:
    """The pieces of some animations, each once, in the order in which they come."""
    pieces = {piece.number: piece for piece in sheet.pieces}
    chosen = [animation for animation in sheet.animations if animation.name in names]
    numbers = dict.fromkeys(frame for animation in chosen for frame in animation.frames)
    return [pieces[number] for number in numbers if number in pieces]


def steady_together(
    project: Project, sheet: str, names: Collection[str], picture: Picture
) -> Project:
    """Bring all feet of some animations to one line, and their bodies over each other where they
    wander. Raises Refusal where there is nothing that could stand."""
    mask = solid(picture)
    project = level_feet(project, frames_of(project.sheet(sheet), names), mask)
    frames = frames_of(project.sheet(sheet), names)
    if unrest(frames, mask)[1] > SWAY:
        project = steady_body(project, frames, picture)
    return project
