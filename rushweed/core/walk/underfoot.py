"""The facts of the tiles a walker is among: shut sides, wade, cover, reach, kinds of ground."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.project.facts import Side
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.project.turning import turned_facts
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.world import World

Cell = tuple[int, int]


def tiles_at(project: Project, level: Level, cell: Cell) -> Iterator[tuple[Piece, int]]:
    """The tiles of a cell with their orientation, the foremost first."""
    for layer in reversed(level.layers):
        if layer.is_walked:
            number, orientation = layer.cells.at(*cell)
            found = project.find(number) if number else None
            if found is not None:
                yield found[1], orientation


def shut_towards(project: Project, level: Level, cell: Cell, side: Side) -> int:
    """The piece of a cell that may not be entered from a side, 0 for none."""
    for piece, orientation in tiles_at(project, level, cell):
        if len(piece.facts.entry) < 4 and side not in turned_facts(piece.facts, orientation).entry:
            return piece.number
    return 0


def wade_at(project: Project, level: Level, x: float, y: float) -> int:
    """How many pixels of the feet are hidden at a place."""
    tiles = tiles_at(project, level, cell_at(project, x, y))
    return max((piece.facts.wade for piece, _ in tiles), default=0)


def ground_at(project: Project, level: Level, x: float, y: float) -> int | None:
    """The kind of ground at a place: that of the foremost tile which has one."""
    tiles = tiles_at(project, level, cell_at(project, x, y))
    return next((p.facts.ground for p, _ in tiles if p.facts.ground is not None), None)


def touching(ground: World, motion: Motion) -> tuple[int, ...]:
    """The pieces of sensors that the walker is in."""
    found: dict[int, None] = {}
    left, right = motion.x - ground.half, motion.x + ground.half
    top, bottom = motion.y - ground.height, motion.y
    for slab in ground.sensors.near(left, top, right, bottom):
        if slab.left < right and slab.right > left:
            over = slab.top_between(max(left, slab.left), min(right, slab.right))
            under = slab.bottom_between(max(left, slab.left), min(right, slab.right))
            if over < bottom and under > top:
                found[slab.piece] = None
    return tuple(found)


def cell_at(project: Project, x: float, y: float) -> Cell:
    """The cell that feet at a place stand in."""
    width, height = project.rules.tile
    return int(x // width), int((y - 1e-6) // height)
