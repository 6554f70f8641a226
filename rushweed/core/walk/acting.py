"""What somebody who faces that way would act on: a prop, or a tile, across counters too."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rushweed.core.project.sheet import Piece
from rushweed.core.values import Rect
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.underfoot import cell_at, tiles_at
from rushweed.core.walk.world import World
from rushweed.core.weave.posing import prop_area

STEPS = (1, 2)
"""So many cells ahead, the second one across something that one can reach across."""


@dataclass(frozen=True, slots=True)
class Reached:
    """What is acted on: the piece, where it is in pixels of the level, what it is called there, and
    whether it is meant for that: a prop, a tile with notes, or one behind a counter."""

    piece: int
    area: Rect
    name: str
    is_meant: bool


def reached(ground: World, motion: Motion) -> Reached | None:
    """What somebody facing that way acts on; None for nothing."""
    across, down = (0, motion.facing_down) if motion.facing_down else (motion.facing, 0)
    column, row = cell_at(ground.project, motion.x, motion.y)
    width, height = ground.project.rules.tile
    for step in STEPS:
        cell = column + across * step, row + down * step
        area = Rect(cell[0] * width, cell[1] * height, width, height)
        prop = _prop_in(ground, motion, _before(ground, motion, area))
        if prop is not None:
            return prop
        tiles = [piece for piece, _ in tiles_at(ground.project, ground.level, cell)]
        if not any(piece.facts.reach for piece in tiles):
            return _tile(tiles, area, step > 1)
    return None


def acts_on(ground: World, motion: Motion) -> int:
    """The number of the piece that is acted on; 0 for none."""
    found = reached(ground, motion)
    return found.piece if found else 0


def _before(ground: World, motion: Motion, cell: Rect) -> Rect:
    """Where props are looked for: a cell, and from the side all from the head to the feet."""
    if ground.level.view == "top-down":
        return cell
    return Rect(cell.x, int(motion.y - ground.height), cell.width, int(ground.height))


def _tile(tiles: list[Piece], area: Rect, across: bool) -> Reached | None:
    solid = [piece for piece in tiles if piece.shapes]
    if not solid:
        return None
    piece = solid[0]
    return Reached(piece.number, area, piece.name, across or bool(piece.facts.notes))


def _prop_in(ground: World, motion: Motion, cell: Rect) -> Reached | None:
    """The foremost prop that reaches into a cell, wherever it is by now."""
    props, areas = ground.actable
    x0, y0, x1, y1 = areas.T
    inside = (x0 < cell.right) & (x1 > cell.x) & (y0 < cell.bottom) & (y1 > cell.y)
    for place in reversed(np.flatnonzero(inside | np.isnan(x0)).tolist()):
        layer, at, prop = props[place]
        body = ground.moving.props.get((layer, at))
        if body is not None and body < len(motion.bodies):
            prop = replace(prop, x=motion.bodies[body].x, y=motion.bodies[body].y)
        area = prop_area(ground.project, prop)
        found = ground.project.find(prop.piece)
        if found is not None and area.intersection(cell).area:
            return Reached(prop.piece, area, prop.name or found[1].name, True)
    return None
