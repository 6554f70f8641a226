"""What is solid in a level as outlines without inner seams, kept up to date cell by cell.

Shapes are cut at the borders of cells. What two cells cover on both sides of their common border
is no outline; what only one of them covers is. So a cell's outline depends on nothing but itself
and its four neighbours.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache, partial
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rushweed.core.orientation import turned_point
from rushweed.core.project.cells import CHUNK
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.shape import ALL_SIDES, Ring, Shape, Stopping
from rushweed.core.project.sheet import Piece
from rushweed.core.project.turning import turned_stopping
from rushweed.core.values import Rect, Size
from rushweed.core.weave.rings import FINE, Segments, chained

if TYPE_CHECKING:
    from shapely import Geometry

BLOCK = 16
"""Outlines are kept in blocks of so many cells a side."""
MOST_AT_ONCE = 1 << 24
"""So many cells are looked at in one go."""
Key = tuple[int, int]
Spans = tuple[tuple[float, float], ...]
NONE = np.zeros((0, 4))


@dataclass(frozen=True, slots=True)
class _Part:
    """What is solid within a cell: edges inside of it, and what it covers of its borders, from
    the upper or left end on: left, right, top, bottom."""

    inner: tuple[tuple[float, float, float, float], ...]
    left: Spans
    right: Spans
    top: Spans
    bottom: Spans


@dataclass(frozen=True, slots=True)
class _Tile:
    """A piece as it is painted on cells of a size: all that says where it is solid; `of` is the
    collision layer that counts, None for all."""

    shapes: tuple[Shape, ...]
    size: Size
    turn: int
    stops: Stopping
    cell: Size
    of: int | None


_Covering = tuple[_Tile, int, int]
"""A tile that covers something of the cell that lies so many cells to the right and below."""


class SolidOutlines:
    """The outlines of what stops walkers in one level in one way."""

    def __init__(self, project: Project, level: Level, stops: Stopping = ALL_SIDES) -> None:
        self._stops = stops
        self._project, self._level = in_levels(project), level
        self._blocks: dict[Key, Segments] = {}

    def segments(self, area: Rect) -> Segments:
        """The edges in and around an area of cells, by whole blocks, in pixels of the level."""
        wanted = list(_blocks_of(area))
        for key in wanted:
            if key not in self._blocks:
                place = Rect(key[0] * BLOCK, key[1] * BLOCK, BLOCK, BLOCK)
                self._blocks[key] = edges_in(self._project, self._level, place, self._stops)
        found = [self._blocks[key] for key in wanted]
        return np.concatenate(found) if found else NONE

    def follow(self, project: Project, level: Level) -> None:
        """Take over a changed level; only blocks with changed cells, and their neighbours, are
        forgotten."""
        project = in_levels(project)
        if project.sheets is not self._project.sheets or _other_layers(self._level, level):
            self._blocks.clear()
        else:
            for old, new in zip(self._level.layers, level.layers, strict=True):
                if old.cells is not new.cells:
                    self._forget(old, new)
        self._project, self._level = project, level

    def _forget(self, old: Layer, new: Layer) -> None:
        before, after = old.cells.chunks, new.cells.chunks
        reach = cache(partial(_reach_of_number, self._project))
        for key in before.keys() | after.keys():
            one, other = before.get(key), after.get(key)
            if one is other:
                continue
            blank = np.zeros((CHUNK, CHUNK), np.int32)
            first, second = (pair if pair else (blank, blank) for pair in (one, other))
            changed = (first[0] != second[0]) | (first[1] != second[1])
            if not changed.any():
                continue
            numbers = np.unique([first[0][changed], second[0][changed]]).tolist()
            ends = [np.flatnonzero(changed.any(axis))[[0, -1]].tolist() for axis in (0, 1)]
            beyond = 1 + max(map(reach, numbers))
            (left, right), (top, bottom) = ends
            area = Rect(left, top, right + 1 - left, bottom + 1 - top)
            area = area.moved(key[0] * CHUNK, key[1] * CHUNK).grown(beyond)
            for block in self._blocks.keys() & set(_blocks_of(area)):
                del self._blocks[block]


def merged_outlines(
    project: Project, level: Level, stops: Stopping = ALL_SIDES, layer: int | None = None
) -> list[Ring]:
    """The rings around all that is solid in a level, of one collision layer or of all: outer ones
    counter-clockwise as seen on the screen, holes clockwise; in pixels of the level."""
    found = [edges_in(project, level, part, stops, layer) for part in _occupied(project, level)]
    return chained(np.concatenate(found)) if found else []


def _occupied(project: Project, level: Level) -> Iterable[Rect]:
    """Areas without overlap that hold all that is painted, and what it reaches into: one, or where
    little lies far apart, those around it."""
    area = _painted(project, level)
    if area.area <= MOST_AT_ONCE:
        return [area] if area.area else []
    reach = 1 + _farthest(project) // CHUNK
    near = range(-reach, reach + 1)
    keys = {key for layer in level.layers for key in layer.cells.chunks}
    grown = {(x + dx, y + dy) for x, y in keys for dx in near for dy in near}
    return [Rect(x * CHUNK, y * CHUNK, CHUNK, CHUNK) for x, y in sorted(grown)]


def edges_in(
    project: Project, level: Level, area: Rect, stops: Stopping, layer: int | None = None
) -> Segments:
    """The outline's edges of the cells in an area, each common border with the cell at its left
    or above."""
    tile = project.rules.tile
    codes, parts = _coded(
        project, level, Rect(area.x - 1, area.y - 1, area.width + 1, area.height + 1), stops, layer
    )
    found = [NONE]
    inside = codes[1:, 1:]
    rows, columns = np.nonzero(inside)
    for code, at in grouped(inside[rows, columns].astype(np.int64)):
        if parts[code].inner:
            places = columns[at] + area.x, rows[at] + area.y
            found.append(_placed(parts[code].inner, *places, tile))
    pairs = (
        (codes[1:, :-1], codes[1:, 1:], True),
        (codes[:-1, 1:], codes[1:, 1:], False),
    )
    for before, after, upright in pairs:
        rows, columns = np.nonzero((before > 0) | (after > 0))
        both = before[rows, columns].astype(np.int64) << 32 | after[rows, columns]
        for pair, at in grouped(both):
            edges = _border(parts[pair >> 32], parts[pair & 0xFFFFFFFF], upright)
            if edges:
                found.append(_placed(edges, columns[at] + area.x, rows[at] + area.y, tile))
    return np.concatenate(found)


def grouped(values: npt.NDArray[np.int64]) -> Iterator[tuple[int, npt.NDArray[np.intp]]]:
    """Each different value, with all the places that hold it."""
    if not len(values):
        return
    order = np.argsort(values, kind="stable")
    firsts = np.flatnonzero(np.diff(values[order], prepend=values[order[:1]] - 1))
    for first, last in zip(firsts, [*firsts[1:], len(order)], strict=True):
        yield int(values[order[first]]), order[first:last]


def _placed(
    edges: Iterable[tuple[float, float, float, float]],
    columns: npt.NDArray[np.intp],
    rows: npt.NDArray[np.intp],
    tile: Size,
) -> Segments:
    """Edges of a cell at several cells."""
    shapes = np.array(list(edges), np.float64).reshape(-1, 4)
    corners = np.stack([columns * tile.width, rows * tile.height] * 2, axis=-1)
    placed: Segments = (shapes[None] + corners[:, None]).reshape(-1, 4)
    return placed


def _border(
    before: _Part, after: _Part, upright: bool
) -> tuple[tuple[float, float, float, float], ...]:
    """The edges on the border between two cells, in pixels of the one at the right or below."""
    first = before.right if upright else before.bottom
    second = after.left if upright else after.top
    edges: list[tuple[float, float, float, float]] = []
    for low, high, covers in _differing(first, second):
        if upright:  # the cell before is solid on the left: its right edge runs upwards
            edges.append((0, high, 0, low) if covers else (0, low, 0, high))
        else:  # the cell above is solid: its lower edge runs to the right
            edges.append((low, 0, high, 0) if covers else (high, 0, low, 0))
    return tuple(edges)


def _differing(first: Spans, second: Spans) -> Iterable[tuple[float, float, bool]]:
    """The stretches that only one of two covers, and whether it is the first."""
    places = sorted({place for span in (*first, *second) for place in span})
    for low, high in pairwise(places):
        middle = (low + high) / 2
        one, other = (any(a < middle < b for a, b in spans) for spans in (first, second))
        if one != other:
            yield low, high, one


# -- what is solid in a cell -------------------------------------------------------------


def _coded(
    project: Project, level: Level, area: Rect, stops: Stopping, of: int | None
) -> tuple[npt.NDArray[np.int32], list[_Part]]:
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
    return codes, [_part_of(meaning, project.rules.tile) for meaning in meanings.all]


class _Meanings:
    """What codes of cells stand for: all that covers something of such a cell."""

    def __init__(self) -> None:
        self.all: list[tuple[_Covering, ...]] = [()]
        self._known: dict[tuple[int, _Covering], int] = {}

    def with_more(self, code: int, covering: _Covering) -> int:
        """The code of cells that one thing more covers."""
        if (code, covering) not in self._known:
            self._known[code, covering] = len(self.all)
            self.all.append((*self.all[code], covering))
        return self._known[code, covering]


def _coverings(
    project: Project, layer: Layer, area: Rect, stops: Stopping, of: int | None
) -> Iterable[tuple[_Covering, npt.NDArray[np.intp], npt.NDArray[np.intp]]]:
    """What a layer's tiles cover of the cells of an area, their own and those that large ones
    reach into: each with the rows and columns where it does."""
    project = in_levels(project)
    index = piece_index(project)
    farthest = _farthest(project)
    numbers, turns = layer.cells.window(area.grown(farthest))
    at_rows, at_columns = np.nonzero(numbers)
    kinds = numbers[at_rows, at_columns].astype(np.int64) * 8 + turns[at_rows, at_columns]
    for kind, at in grouped(kinds):
        number, turn = divmod(kind, 8)
        found = index.get(number)
        if found is None or not found[1].shapes:
            continue
        tile = _Tile(found[1].shapes, found[1].rect.size, turn, stops, project.rules.tile, of)
        for dx, dy in _cells_of(tile):
            rows, columns = at_rows[at] - farthest + dy, at_columns[at] - farthest + dx
            inside = (rows >= 0) & (rows < area.height) & (columns >= 0) & (columns < area.width)
            if inside.any():
                yield (tile, dx, dy), rows[inside], columns[inside]


_farthest_memory: list[tuple[object, Size, int]] = []


def _farthest(project: Project) -> int:
    """The most cells that any piece's shapes reach beyond its own; kept for the newest few."""
    project = in_levels(project)
    for sheets, tile, cells in _farthest_memory:
        if sheets is project.sheets and tile == project.rules.tile:
            return cells
    tile = project.rules.tile
    most = max((_reach_of(p, p.shapes, tile) for _, p in project.pieces() if p.shapes), default=0)
    _farthest_memory.insert(0, (project.sheets, tile, most))
    del _farthest_memory[4:]
    return most


def _reach_of_number(project: Project, number: int) -> int:
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
def _area_of(tile: _Tile) -> Geometry:
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
def _cells_of(tile: _Tile) -> tuple[Key, ...]:
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
def _in_cell(covering: _Covering) -> Geometry:
    """What a tile's shapes cover of the cell that lies so many cells from its own."""
    from shapely import box
    from shapely.affinity import translate

    tile, dx, dy = covering
    moved = translate(_area_of(tile), -dx * tile.cell.width, -dy * tile.cell.height)
    return moved.intersection(box(0, 0, *tile.cell))


@lru_cache(maxsize=8192)
def _part_of(meaning: tuple[_Covering, ...], tile: Size) -> _Part:
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
    return _Part(tuple(inner), *(tuple(spans[side]) for side in ("left", "right", "top", "bottom")))


def _side(x: float, y: float, to_x: float, to_y: float, tile: Size) -> str:
    """Which border of the cell an edge lies on, empty for none."""
    if x == to_x:
        return "left" if x == 0 else "right" if x == tile.width else ""
    if y == to_y:
        return "top" if y == 0 else "bottom" if y == tile.height else ""
    return ""


def _fine(value: float) -> float:
    return round(value / FINE) * FINE


def _blocks_of(area: Rect) -> Iterable[Key]:
    for row in range(area.y // BLOCK, (area.bottom - 1) // BLOCK + 1):
        for column in range(area.x // BLOCK, (area.right - 1) // BLOCK + 1):
            yield column, row


def _other_layers(old: Level, new: Level) -> bool:
    """Whether layers were added, moved, hidden or shown, or are solid or not now."""
    pairs = zip(old.layers, new.layers, strict=False)
    return len(old.layers) != len(new.layers) or any(
        (one.visible, one.parallax, one.solid) != (other.visible, other.parallax, other.solid)
        for one, other in pairs
    )


def _painted(project: Project, level: Level) -> Rect:
    """The cells that anything may be solid in, with the next ones around them: tiles reach as far
    beyond their cells as they are large."""
    area = Rect(0, 0, 0, 0)
    for layer in level.layers:
        if layer.parallax == 1:
            area = area.union(layer.cells.bounds())
    return area.grown(_farthest(project) + 1) if area.area else area
