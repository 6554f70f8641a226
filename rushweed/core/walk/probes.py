"""Probes: a walker sent through a level without hands, to find where it catches, floats, sinks,
cannot get to, and does not fit."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from rushweed.core.bound.standing import standing_error
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.walk.floors import floors
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.solids import is_solid, is_walked
from rushweed.core.walk.striding import stride
from rushweed.core.walk.walker import Ground
from rushweed.core.words import say

Cell = tuple[int, int]
SMALL_LIP = 3.0
"""A step of at most so many pixels does not look like one."""
MOST_STEPS = 2000
"""A walk to the next cell is given up after so many steps."""


@dataclass(frozen=True, slots=True)
class Snag:
    """A spot where a walker stops though nothing visible blocks it: where its feet are, the way
    it walks, the piece that stops it, the cell of that, and why."""

    x: float
    y: float
    way: Literal["left", "right"]
    piece: int
    cell: Cell
    why: str


@dataclass(frozen=True, slots=True)
class Off:
    """A piece on which walkers float (positive) or sink, by how many pixels, and a cell with it."""

    piece: int
    pixels: int
    cell: Cell


@dataclass(frozen=True, slots=True)
class Narrow:
    """A gap that a walker does not fit into, by its size in pixels, and the cell of its floor."""

    width: float
    height: float
    cell: Cell


def standing_cells(ground: Ground) -> dict[Cell, float]:
    """The cells in whose middle a walker can stand, with the height of its feet; the cell is the
    one that the feet are in. Seen from above, all painted cells with room."""
    if ground.level.view == "top-down":
        return dict(_open_cells(ground))
    return {cell: y for cell, y, room in floors(ground) if room >= ground.height}


def snags(
    ground: Ground,
    standing: Mapping[Cell, float],
    level: Collection[Cell],
    near: Point | None = None,
) -> Iterator[tuple[float, Snag | None]]:
    """Walk from the middle of every cell that one can stand in to the next one, both ways, where
    that is not a matter of course, as it is in `level` ones; those `near` a place, in pixels,
    first. Tells which share of them was walked, and what was found."""
    tile = ground.project.rules.tile
    told: set[tuple[int, Cell, str]] = set()
    ways: tuple[tuple[Keys, Literal["left", "right"], int], ...] = (
        (Keys(right=True), "right", 1),
        (Keys(left=True), "left", -1),
    )
    order = sorted(standing.items(), key=lambda item: _away(item[0], near, tile))
    for place, (cell, y) in enumerate(order):
        for keys, way, by in ways:
            beside = cell[0] + by, cell[1]
            if cell in level and beside in level and standing[beside] == y:
                continue
            start = Point(cell[0] * tile.width + tile.width / 2, y)
            motion = _sent(ground, start, keys, standing)
            snag = _snag(ground, motion, way) if motion.blocked else None
            if snag is None or (snag.piece, snag.cell, way) in told:
                snag = None
            else:
                told.add((snag.piece, snag.cell, way))
            yield place / len(standing), snag


def _away(cell: Cell, near: Point | None, tile: Size) -> tuple[float, Cell]:
    """How far a cell is from a place, and which it is."""
    if near is None:
        return 0.0, cell
    return math.dist((cell[0] * tile.width, cell[1] * tile.height), near), cell


def _sent(ground: Ground, start: Point, keys: Keys, standing: Collection[Cell]) -> Motion:
    """A walker sent one way until it comes past the middle of the next cell that one can stand in,
    or something stops it, or it leaves the ground."""
    tile = ground.project.rules.tile
    motion = ground.step(ground.begin(start), Keys())
    motion = stride(ground, motion, keys, MOST_STEPS, tile.width)
    for _ in range(MOST_STEPS):
        motion = ground.step(motion, keys)
        far = abs(motion.x - start.x) >= tile.width and _cell_of(ground, motion) in standing
        if motion.blocked or not motion.grounded or far:
            break
    return motion


def floats_and_sinks(project: Project, level: str, art: Art) -> Iterator[Off]:
    """Painted pieces whose shapes begin above or below what is drawn of them."""
    found: dict[int, Cell] = {}
    for layer in filter(is_solid, project.level(level).layers):
        for number in sorted(layer.cells.used()):
            if number not in found:
                found[number] = next(layer.cells.places_of({number}))
    for number, cell in found.items():
        pair = project.find(number)
        if pair is None or not pair[1].shapes:
            continue
        try:
            by = standing_error(solid(art.piece(*pair)), pair[1].shapes)
        except Refusal:
            continue
        if by:
            yield Off(number, by, cell)


def narrow_gaps(ground: Ground) -> Iterator[Narrow]:
    """Floors with room above them that a walker is too tall or too wide for, within cells and
    across their borders; of a stretch that is alike, its beginning."""
    body, tile = ground.body, ground.project.rules.tile
    last: dict[tuple[float, float], float] = {}
    samples = [
        (cell[0] + at, cell, y, room) for at in (0.5, 0.0) for cell, y, room in floors(ground, at)
    ]
    for column, cell, y, room in sorted(samples):
        middle = column * tile.width
        thin = Mover(ground.solids, 0.5, max(1.0, min(room, ground.height) - 1))
        left, _, _ = thin.across(middle, y - 0.5, -float(body.width), climbs=False)
        right, _, _ = thin.across(middle, y - 0.5, float(body.width), climbs=False)
        wide = right - left + 1
        low = room < body.height and wide > tile.width / 2
        if low or (wide < body.width and room >= body.height):
            before = last.get((y, room), -math.inf)
            last[y, room] = middle
            if middle - before > tile.width:
                yield Narrow(wide, room, cell)


def _open_cells(ground: Ground) -> Iterator[tuple[Cell, float]]:
    tile = ground.project.rules.tile
    area = Rect(0, 0, 0, 0)
    for layer in filter(is_walked, ground.level.layers):
        area = area.union(layer.cells.bounds())
    for row in range(area.y, area.bottom):
        for column in range(area.x, area.right):
            x, y = column * tile.width + tile.width / 2, (row + 1) * tile.height - 2.0
            if ground.covered(Motion(x, y, bodies=ground.moving.begin())) is None:
                yield (column, row), y


def _snag(ground: Ground, motion: Motion, way: Literal["left", "right"]) -> Snag | None:
    """Why a walker was stopped, if nobody would expect it."""
    front = motion.x + ground.half + 0.5 if way == "right" else motion.x - ground.half - 0.5
    head = motion.y - ground.height
    steps, ceilings = [0.0], [0.0]
    for slab in ground.solids.near(front - 1, head, front + 1, motion.y):
        if slab.piece == motion.blocked and slab.left - 1 <= front <= slab.right + 1:
            at = min(max(front, slab.left), slab.right)
            steps.append(motion.y - slab.top_at(at))
            ceilings.append(slab.bottom_at(at) - head)
    step, ceiling = max(steps), max(ceilings)
    if 0 < step <= SMALL_LIP:
        why = say("a step of {step:g} px", step=step)
    elif 0 < ceiling <= SMALL_LIP:
        why = say("a ceiling {ceiling:g} px too low", ceiling=ceiling)
    else:
        return None
    tile = ground.project.rules.tile
    cell = int(front // tile.width), int((motion.y - 1e-6) // tile.height)
    return Snag(motion.x, motion.y, way, motion.blocked, cell, why)


def _cell_of(ground: Ground, motion: Motion) -> Cell:
    tile = ground.project.rules.tile
    return int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)
