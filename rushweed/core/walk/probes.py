"""Probes: a walker sent through a level without hands, to find where it catches, floats, sinks,
cannot get to, and does not fit."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from operator import attrgetter
from typing import Literal

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask
from rushweed.core.bound.standing import standing_error
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.walk.flock import Flock
from rushweed.core.walk.floors import Cell, floors, goes_without_saying
from rushweed.core.walk.many_movers import NOTHING, ManyMovers
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.striding import stride
from rushweed.core.walk.walker import Ground
from rushweed.core.walk.walkers import Walkers
from rushweed.core.words import say

Way = Literal["left", "right"]
SMALL_LIP = 3.0
"""A step of at most so many pixels does not look like one."""
MOST_STEPS = 2000
"""A walk to the next cell is given up after so many steps."""
FIRST, MANY = 256, 16384
"""So many cells are walked from before anything is told, and between one word and the next."""


@dataclass(frozen=True, slots=True)
class Snag:
    """A spot where a walker stops though nothing visible blocks it: where its feet are, the way
    it walks, the piece that stops it, the cell of that, and why."""

    x: float
    y: float
    way: Way
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
    found = floors(ground)
    found = found.only(found.room >= ground.height)
    return dict(zip(found.cells(), found.y.tolist(), strict=True))


def snags(
    ground: Ground,
    standing: Mapping[Cell, float],
    level: Collection[Cell],
    near: Point | None = None,
) -> Iterator[tuple[float, list[Snag]]]:
    """Walk from the middle of every cell that one can stand in to the next one, both ways, where
    that is not a matter of course, as it is in `level` ones; those `near` a place, in pixels,
    first. Tells which share of them was walked, and what was found."""
    tile = ground.project.rules.tile
    told: set[tuple[int, Cell, str]] = set()
    cells = sorted(standing, key=lambda cell: _away(cell, near, tile))
    flock = Flock(ground)
    first, last = 0, FIRST
    while first < len(cells):
        part = cells[first:last]
        found = []
        for snag in _snags(ground, *_stopped(flock, part, standing, level)):
            if (snag.piece, snag.cell, snag.way) not in told:
                told.add((snag.piece, snag.cell, snag.way))
                found.append(snag)
        yield min(last, len(cells)) / len(cells), found
        first, last = last, last + MANY


def _away(cell: Cell, near: Point | None, tile: Size) -> tuple[float, Cell]:
    """How far a cell is from a place, and which it is."""
    if near is None:
        return 0.0, cell
    return math.dist((cell[0] * tile.width, cell[1] * tile.height), near), cell


def _stopped(
    flock: Flock, cells: Sequence[Cell], standing: Mapping[Cell, float], level: Collection[Cell]
) -> tuple[Walkers, AnyWhole, AnyWhole]:
    """Walkers sent both ways from some cells until they come past the middle of the next cell that
    one can stand in: those that something stops before, their ways, and the pieces that do it."""
    ground, width = flock.ground, flock.ground.project.rules.tile.width
    sent = [
        (cell, by)
        for cell in cells
        for by in (1, -1)
        if not goes_without_saying(cell, by, standing, level)
    ]
    ways = np.array([by for _, by in sent], np.int64)
    x = np.array([cell[0] * width + width / 2 for cell, _ in sent], np.float64)
    y = np.array([standing[cell] for cell, _ in sent], np.float64)

    def is_far(walkers: Walkers, which: AnyWhole) -> Mask:
        far = np.abs(walkers.x - x[which]) >= width
        where = np.flatnonzero(far)
        cells = flock.cells(walkers.only(where))
        far[where] = [cell in standing for cell in cells]
        return far

    walkers = flock.walks(Walkers.standing(x, y), ways, is_far, MOST_STEPS)
    pieces = np.where(walkers.blocked == NOTHING, 0, flock.table.pieces[walkers.blocked])
    for number in np.flatnonzero(walkers.by_itself).tolist():
        keys = Keys(left=bool(ways[number] < 0), right=bool(ways[number] > 0))
        motion = _sent(ground, Point(x[number], y[number]), keys, standing)
        walkers.x[number], walkers.y[number] = motion.x, motion.y
        pieces[number] = motion.blocked
    stopped = pieces != 0
    return walkers.only(stopped), ways[stopped], pieces[stopped]


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
    for layer in filter(attrgetter("stops"), project.level(level).layers):
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
    both = floors(ground).and_more(floors(ground, 0.0))
    low = both.room < body.height
    tall = np.maximum(1.0, np.minimum(both.room, ground.height) - 1)
    thin = ManyMovers(ground.table, np.full(len(tall), 0.5), tall)
    aside = np.full(len(tall), float(body.width))
    left, right = (thin.across(both.x, both.y - 0.5, way * aside)[0] for way in (-1, 1))
    wide = right - left + 1
    narrow = np.where(low, wide > tile.width / 2, wide < body.width)
    found = both.only(narrow)
    order = np.lexsort((found.room, found.y, found.rows, found.columns, found.x))
    last: dict[tuple[float, float], float] = {}
    for number, cell in zip(order.tolist(), found.only(order).cells(), strict=True):
        x, y, room = (float(part[number]) for part in found[2:])
        if x - last.get((y, room), -math.inf) > tile.width:
            yield Narrow(float(wide[narrow][number]), room, cell)
        last[y, room] = x


def _open_cells(ground: Ground) -> Iterator[tuple[Cell, float]]:
    tile = ground.project.rules.tile
    area = Rect(0, 0, 0, 0)
    for layer in filter(attrgetter("is_walked"), ground.level.layers):
        area = area.union(layer.cells.bounds())
    for row in range(area.y, area.bottom):
        for column in range(area.x, area.right):
            x, y = column * tile.width + tile.width / 2, (row + 1) * tile.height - 2.0
            if ground.covered(Motion(x, y, bodies=ground.moving.begin())) is None:
                yield (column, row), y


def _snags(ground: Ground, walkers: Walkers, ways: AnyWhole, pieces: AnyWhole) -> Iterator[Snag]:
    """Why walkers were stopped by these pieces, where nobody would expect it."""
    front, head = walkers.x + ways * (ground.half + 0.5), walkers.y - ground.height
    met = ground.table.meetings(front - 1, head, front + 1, walkers.y)
    met = met.only(ground.table.pieces[met.slab] == pieces[met.box])
    at = np.minimum(np.maximum(front[met.box], met.left), met.right)
    step, ceiling = np.zeros(len(ways)), np.zeros(len(ways))
    np.maximum.at(step, met.box, walkers.y[met.box] - met.top_at(at))
    np.maximum.at(ceiling, met.box, met.bottom_at(at) - head[met.box])
    tile = ground.project.rules.tile
    is_step = (step > 0) & (step <= SMALL_LIP)
    is_ceiling = (ceiling > 0) & (ceiling <= SMALL_LIP)
    for number in np.flatnonzero(is_step | is_ceiling).tolist():
        if is_step[number]:
            why = say("a step of {step:g} px", step=float(step[number]))
        else:
            why = say("a ceiling {ceiling:g} px too low", ceiling=float(ceiling[number]))
        x, y = float(walkers.x[number]), float(walkers.y[number])
        cell = int(front[number] // tile.width), int((y - 1e-6) // tile.height)
        yield Snag(x, y, "right" if ways[number] > 0 else "left", int(pieces[number]), cell, why)


def _cell_of(ground: Ground, motion: Motion) -> Cell:
    tile = ground.project.rules.tile
    return int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)
