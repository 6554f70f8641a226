"""Probes: a walker sent through a level without hands, to find where it catches, floats, sinks,
cannot get to, and does not fit."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from rushweed.core.bound.standing import standing_error
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.reaching import reached_cells
from rushweed.core.walk.solids import is_walked
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.levels import bounds

Cell = tuple[int, int]
SMALL_LIP = 3.0
"""A step of at most so many pixels does not look like one."""
MOST_STEPS = 20_000
"""One sweep in one direction ends after so many steps."""
LARGEST = 4_000_000
"""Cells of a level that is still probed."""


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


@dataclass(frozen=True, slots=True)
class Probed:
    """What probes found in a level. `reached` are the cells a walker can stand in, in walking and
    jumping from the start; `unreached` the others that one could stand in."""

    snags: tuple[Snag, ...] = ()
    off: tuple[Off, ...] = ()
    narrow: tuple[Narrow, ...] = ()
    reached: frozenset[Cell] = field(default_factory=frozenset)
    unreached: frozenset[Cell] = field(default_factory=frozenset)
    starts_inside: int = 0


def probe(project: Project, level: str, art: Art) -> Probed:
    """All that probes find. Raises Refusal for a level that is too large, or not there."""
    ground = Ground(project, level)
    if bounds(ground.level).area > LARGEST:
        raise Refusal(f"“{level}” is too large to be probed at once. Probe a part of it.")
    inside = ground.covered(ground.begin())
    floors = standing_cells(ground)
    reached = reached_cells(ground, floors) if inside is None else frozenset()
    from_the_side = ground.level.view == "side"
    return Probed(
        tuple(snags(ground, floors)) if from_the_side else (),
        tuple(floats_and_sinks(project, level, art)) if from_the_side else (),
        tuple(narrow_gaps(ground)) if from_the_side else (),
        reached,
        frozenset(floors) - reached,
        inside.piece if inside else 0,
    )


def standing_cells(ground: Ground) -> dict[Cell, float]:
    """The cells in whose middle a walker can stand, with the height of its feet; the cell is the
    one that the feet are in. Seen from above, all painted cells with room."""
    if ground.level.view == "top-down":
        return dict(_open_cells(ground))
    return {cell: y for cell, y, room in _floors(ground) if room >= ground.height}


def snags(ground: Ground, floors: dict[Cell, float]) -> Iterator[Snag]:
    """Sweep every standing surface both ways."""
    width = ground.project.rules.tile.width
    told: set[tuple[int, Cell, str]] = set()
    for keys, way in ((Keys(right=True), "right"), (Keys(left=True), "left")):
        seen: set[Cell] = set()
        for cell in sorted(floors, key=lambda c: (c[1], c[0] if way == "right" else -c[0])):
            if cell in seen:
                continue
            motion = ground.begin(Point(cell[0] * width + width / 2, floors[cell]))
            motion = ground.step(motion, Keys())
            for _ in range(MOST_STEPS):
                here = _cell_of(ground, motion)
                motion = ground.step(motion, keys)
                if motion.blocked or not motion.grounded:
                    break
                now = _cell_of(ground, motion)
                if now != here and now in seen:
                    break
                seen.add(now)
            seen.add(cell)
            snag = _snag(ground, motion, way) if motion.blocked else None
            if snag is not None and (snag.piece, snag.cell, way) not in told:
                told.add((snag.piece, snag.cell, way))
                yield snag


def floats_and_sinks(project: Project, level: str, art: Art) -> Iterator[Off]:
    """Painted pieces whose shapes begin above or below what is drawn of them."""
    found: dict[int, Cell] = {}
    for layer in filter(is_walked, project.level(level).layers):
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
    """Floors with room above them that a walker is too tall or too wide for."""
    body = ground.body
    tile = ground.project.rules.tile
    for cell, y, room in _floors(ground):
        middle = cell[0] * tile.width + tile.width / 2
        thin = Mover(ground.solids, 0.5, max(1.0, min(room, ground.height) - 1))
        left, _, _ = thin.across(middle, y - 0.5, -float(body.width), climbs=False)
        right, _, _ = thin.across(middle, y - 0.5, float(body.width), climbs=False)
        wide = right - left + 1
        if (room < body.height and wide > tile.width / 2) or (
            wide < body.width and room >= body.height
        ):
            yield Narrow(wide, room, cell)


def _floors(ground: Ground) -> Iterator[tuple[Cell, float, float]]:
    """Every upper side of something solid in the middle of a cell with air above it: the cell that
    feet on it are in, their height, and the room above."""
    tile = ground.project.rules.tile
    area = bounds(ground.level)
    for column, row in _shaped_cells(ground):
        x, upper = column * tile.width + tile.width / 2, row * tile.height
        top = min(
            (
                slab.top_at(x)
                for slab in ground.solids.near(x - 0.5, upper, x + 0.5, upper)
                if slab.left <= x <= slab.right and upper <= slab.top_at(x) < upper + tile.height
            ),
            default=None,
        )
        if top is None or not area.area:
            continue
        thin = Mover(ground.solids, 0.5, 0.5)
        if thin.covered(x, top - 0.25):
            continue
        y, _, _ = thin.down(x, top - 0.25, -(ground.height + tile.height))
        room = top - y + 0.5
        if room > 1:
            yield (column, int((top - 1e-6) // tile.height)), top, room


def _shaped_cells(ground: Ground) -> list[Cell]:
    """All cells with something solid in them."""
    found: dict[Cell, None] = {}
    shaped = {
        piece.number
        for _, piece in ground.project.pieces()
        if any(shape.stops != "sensor" for shape in piece.shapes or ())
    }
    for layer in filter(is_walked, ground.level.layers):
        found.update(dict.fromkeys(layer.cells.places_of(shaped)))
    return sorted(found)


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


def _snag(ground: Ground, motion: Motion, way: str) -> Snag | None:
    """Why a walker was stopped, if nobody would expect it."""
    front = motion.x + ground.half + 0.5 if way == "right" else motion.x - ground.half - 0.5
    heights = [
        motion.y - slab.top_at(min(max(front, slab.left), slab.right))
        for slab in ground.solids.near(front - 1, motion.y - ground.height, front + 1, motion.y)
        if slab.piece == motion.blocked and slab.left - 1 <= front <= slab.right + 1
    ]
    lip = max((height for height in heights if height > 0), default=0.0)
    if not 0 < lip <= SMALL_LIP:
        return None
    tile = ground.project.rules.tile
    cell = int(front // tile.width), int((motion.y - 1e-6) // tile.height)
    why = f"a step of {lip:g} px"
    return Snag(motion.x, motion.y, way, motion.blocked, cell, why)  # type: ignore[arg-type]


def _cell_of(ground: Ground, motion: Motion) -> Cell:
    tile = ground.project.rules.tile
    return int(motion.x // tile.width), int((motion.y - 1e-6) // tile.height)
