"""Props as large as the room they are put down in: they belong behind the ground."""

from __future__ import annotations

from rushweed.core.project.level import Layer, Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.levels import add_layer, ground_layer
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.props import add_props, remove_props
from rushweed.core.words import say

ROOM, CELLS = 0.5, 24
"""A prop that covers so much of all that is painted, where that is so many cells, is a backdrop."""


def fills_room(project: Project, level: Level, layer: int, place: int) -> bool:
    """Whether a prop of a layer that is walked on is as large as the room; seen from above what is
    so large may well be a house."""
    room = bounds(level)
    if level.view != "side" or room.area < CELLS or not level.layers[layer].stops:
        return False
    width, height = project.rules.tile
    area = prop_area(project, level.layers[layer].props[place])
    painted = Rect(room.x * width, room.y * height, room.width * width, room.height * height)
    return area.intersection(painted).area >= ROOM * painted.area


def put_behind(project: Project, level: str, layer: int, place: int) -> Project:
    """Put a prop onto the layer behind the ground, made if there is none that fits: it stops
    nobody there, and catches no clicks that are meant for what stands before it. Raises Refusal
    where its own layer is locked."""
    held = project.level(level)
    ground = ground_layer(held)
    front = layer if ground is None else min(layer, ground)
    prop = held.layers[layer].props[place]
    project, behind = remove_props(project, level, layer, {place}), front - 1
    if front == 0 or not _fits(held.layers[behind]):
        project, behind = add_layer(project, level, behind, say("Background")), front
    return add_props(project, level, behind, [prop])


def _fits(layer: Layer) -> bool:
    return layer.is_walked and not layer.solid and not layer.locked
