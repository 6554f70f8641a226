"""What is solid within each cell of a level, by codes: cells that the same tiles cover in the same
way share one.

A tile may be larger than its cell, and reach into others; what it covers of each is a covering.

        ┌────┬────┐      a tile on cell A, two cells wide and high,
        │ ╱▔▔│▔╲  │      covers something of A and of the three
        ├────┼────┤      cells above and beside it: four coverings
        │ A  │    │
        └────┴────┘
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from rushweed.core.arrays import Indices, Numbers, Whole
from rushweed.core.newest import for_newest
from rushweed.core.orientation import turned_point
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.shape import Shape, Stopping
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.turning import turned_stopping
from rushweed.core.values import Rect, Size
from rushweed.core.weave.rings import FINE

if TYPE_CHECKING:
    from shapely import Geometry

Key = tuple[int, int]
Edge = tuple[float, float, float, float]
"""Its two ends: x, y, x, y."""
Spans = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Covered:
    """What is solid within a cell: edges inside of it, and what it covers of its borders, from
    the upper or left end on: left, right, top, bottom."""

    inner: tuple[Edge, ...]
    left: Spans
    right: Spans
    top: Spans
    bottom: Spans


@dataclass(frozen=True, slots=True)
class PaintedTile:
    """A piece as it is painted on cells of a size: all that says where it is solid; `of` is the
    collision layer that counts, None for all."""

    shapes: tuple[Shape, ...]
    size: Size
    turn: int
    stops: Stopping
    cell: Size
    of: int | None


Covering = tuple[PaintedTile, int, int]
"""A tile that covers something of the cell that lies so many cells to the right and below."""


def grouped(values: Whole) -> Iterator[tuple[int, Indices]]:
    """Each different value, with all the places that hold it."""
    if not len(values):
        return
    order = np.argsort(values, kind="stable")
    firsts = np.flatnonzero(np.diff(values[order], prepend=values[order[:1]] - 1))
    for first, last in zip(firsts, [*firsts[1:], len(order)], strict=True):
        yield int(values[order[first]]), order[first:last]


def coded(
    project: Project, level: Level, area: Rect, stops: Stopping, of: int | None
) -> tuple[Numbers, list[Covered]]:
    """A code for what is solid in each cell of an area, and what each code means; 0 is nothing."""
    codes = np.zeros((area.height, area.width), np.int32)
    meanings = _Meanings()
    for layer in level.layers:
        if not layer.visible or layer.parallax != 1 or not layer.solid:
            continue
        for covering, *places in _coverings(project, layer, area, stops, of):
            values, back = np.unique(codes[*places], return_inverse=True)
            further = [meanings.with_more(value, covering) for value in values.tolist()]
            codes[*places] = np.array(further, np.int32)[back]
    return codes, [_covered_by(meaning, project.rules.tile) for meaning in meanings.all]


class _Meanings:
    """What codes of cells stand for: all that covers something of such a cell."""

    def __init__(self) -> None:
        self.all: list[tuple[Covering, ...]] = [()]
        self._known: dict[tuple[int, Covering], int] = {}

    def with_more(self, code: int, covering: Covering) -> int:
        """The code of cells that one thing more covers."""
        if (code, covering) not in self._known:
            self._known[code, covering] = len(self.all)
            self.all.append((*self.all[code], covering))
        return self._known[code, covering]


def _coverings(
    project: Project, layer: Layer, area: Rect, stops: Stopping, of: int | None
) -> Iterable[tuple[Covering, Indices, Indices]]:
    """What a layer's tiles cover of the cells of an area, their own and those that large ones
    reach into: each with the rows and columns where it does."""
    project = in_levels(project)
    index = piece_index(project)
    beyond = farthest(project)
    numbers, turns = layer.cells.window(area.grown(beyond))
    at_rows, at_columns = np.nonzero(numbers)
    kinds = numbers[at_rows, at_columns].astype(np.int64) * 8 + turns[at_rows, at_columns]
    for kind, at in grouped(kinds):
        number, turn = divmod(kind, 8)
        found = index.get(number)
        if found is None or not found[1].shapes:
            continue
        tile = PaintedTile(found[1].shapes, found[1].rect.size, turn, stops, project.rules.tile, of)
        for dx, dy in _cells_of(tile):
            rows, columns = at_rows[at] - beyond + dy, at_columns[at] - beyond + dx
            inside = (rows >= 0) & (rows < area.height) & (columns >= 0) & (columns < area.width)
            if inside.any():
                yield (tile, dx, dy), rows[inside], columns[inside]


@for_newest
def _known_reaches(sheets: tuple[Sheet, ...]) -> dict[Size, int]:
    """By the size of cells; filled when it is asked for."""
    return {}


def farthest(project: Project) -> int:
    """The most cells that any piece's shapes reach beyond its own."""
    project = in_levels(project)
    tile, known = project.rules.tile, _known_reaches(project.sheets)
    if tile not in known:
        solid = [piece for _, piece in project.pieces() if piece.shapes]
        known[tile] = max((_reach_of(p, p.shapes or (), tile) for p in solid), default=0)
    return known[tile]


def reach_of_number(project: Project, number: int) -> int:
    """How many cells the tile of that number reaches beyond its own; 0 for none."""
    found = in_levels(project).find(number)
    shapes = found[1].shapes if found else None
    return _reach_of(found[1], shapes, project.rules.tile) if found and shapes else 0


def _reach_of(piece: Piece, shapes: Sequence[Shape], tile: Size) -> int:
    """How many cells shapes reach beyond the cell of their piece, however it is turned."""
    corners = [corner for shape in shapes for corner in shape.form.corners]
    low = min(min(corner) for corner in corners)
    high = max(max(corner) for corner in corners)
    inside = all(corner.x <= tile.width and corner.y <= tile.height for corner in corners)
    if piece.rect.size == tile and low >= 0 and inside:
        return 0
    return int((max(piece.rect.size) + max(high, -low)) // min(tile)) + 1


@lru_cache(maxsize=8192)
def _area_of(tile: PaintedTile) -> Geometry:
    """What a tile's shapes cover, in pixels from the corner of its own cell."""
    from shapely import Polygon, union_all
    from shapely.affinity import translate

    height = tile.size.width if tile.turn & 4 else tile.size.height
    areas = []
    for shape in tile.shapes:
        if turned_stopping(shape, tile.turn) == tile.stops and tile.of in (None, shape.layer):
            rings = [
                [turned_point(corner, tile.size, tile.turn) for corner in ring]
                for ring in shape.form.rings
            ]
            areas.append(Polygon(rings[0], rings[1:]).buffer(0))
    return translate(union_all(areas), 0, tile.cell.height - height)


@lru_cache(maxsize=1024)
def _cells_of(tile: PaintedTile) -> tuple[Key, ...]:
    """The cells that a tile's shapes cover something of, counted from its own."""
    whole = _area_of(tile)
    if whole.is_empty:
        return ()
    left, top, right, bottom = whole.bounds
    return tuple(
        (dx, dy)
        for dy in range(int(top // tile.cell.height), math.ceil(bottom / tile.cell.height))
        for dx in range(int(left // tile.cell.width), math.ceil(right / tile.cell.width))
        if _in_cell((tile, dx, dy)).area > 0
    )


@lru_cache(maxsize=8192)
def _in_cell(covering: Covering) -> Geometry:
    """What a tile's shapes cover of the cell that lies so many cells from its own."""
    from shapely import box
    from shapely.affinity import translate

    tile, dx, dy = covering
    moved = translate(_area_of(tile), -dx * tile.cell.width, -dy * tile.cell.height)
    return moved.intersection(box(0, 0, *tile.cell))


@lru_cache(maxsize=8192)
def _covered_by(meaning: tuple[Covering, ...], tile: Size) -> Covered:
    """Several tiles in one cell, as edges and covered borders."""
    from shapely import union_all

    whole = union_all([_in_cell(covering) for covering in meaning])
    inner = []
    spans: Mapping[str, list[tuple[float, float]]] = {
        "left": [], "right": [], "top": [], "bottom": []
    }  # fmt: skip
    for area in getattr(whole, "geoms", [whole]):
        if area.geom_type != "Polygon":
            continue
        for ring, is_hole in ((area.exterior, False), *((hole, True) for hole in area.interiors)):
            corners = [(_fine(x), _fine(y)) for x, y in ring.coords]
            if ring.is_ccw != is_hole:  # counter-clockwise with y up is clockwise on the screen
                corners.reverse()
            for (x, y), (to_x, to_y) in pairwise(corners):
                side = _side(x, y, to_x, to_y, tile)
                if side:
                    low, high = sorted((y, to_y) if side in ("left", "right") else (x, to_x))
                    spans[side].append((low, high))
                elif (x, y) != (to_x, to_y):
                    inner.append((x, y, to_x, to_y))
    return Covered(
        tuple(inner), *(tuple(spans[side]) for side in ("left", "right", "top", "bottom"))
    )


def _side(x: float, y: float, to_x: float, to_y: float, tile: Size) -> str:
    """Which border of the cell an edge lies on, empty for none."""
    if x == to_x:
        return "left" if x == 0 else "right" if x == tile.width else ""
    if y == to_y:
        return "top" if y == 0 else "bottom" if y == tile.height else ""
    return ""


def _fine(value: float) -> float:
    return round(value / FINE) * FINE
