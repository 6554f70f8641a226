"""What is solid in a level as outlines without inner seams, kept up to date cell by cell.

Shapes are cut at the borders of cells. What two cells cover on both sides of their common border
is no outline; what only one of them covers is. So a cell's outline depends on nothing but itself
and its four neighbours.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache, partial
from itertools import pairwise
from typing import TYPE_CHECKING, Any

import numpy as np
import numpy.typing as npt

from rushweed.core.orientation import turned_point
from rushweed.core.project.cells import CHUNK
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.shape import Ring, Shape, Stops
from rushweed.core.project.sheet import Piece
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


NOTHING = _Part((), (), (), (), ())


class SolidOutlines:
    """The outlines of what stops walkers in one level, all sides or one-way."""

    def __init__(self, project: Project, level: Level, stops: Stops = "all sides") -> None:
        self._stops = stops
        self._project, self._level = project, level
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
            for row, column in np.argwhere(changed).tolist():
                x, y = key[0] * CHUNK + column, key[1] * CHUNK + row
                numbers = int(first[0][row, column]), int(second[0][row, column])
                beyond = 1 + max(map(reach, numbers))
                for block in _blocks_of(Rect(x, y, 1, 1).grown(beyond)):
                    self._blocks.pop(block, None)


def merged_outlines(project: Project, level: Level, stops: Stops = "all sides") -> list[Ring]:
    """The rings around all that is solid in a level: outer ones counter-clockwise as seen on the
    screen, holes clockwise; in pixels of the level."""
    found = [edges_in(project, level, part, stops) for part in _occupied(project, level)]
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


def edges_in(project: Project, level: Level, area: Rect, stops: Stops) -> Segments:
    """The outline's edges of the cells in an area, each common border with the cell at its left
    or above."""
    tile = project.rules.tile
    codes, parts = _coded(
        project, level, Rect(area.x - 1, area.y - 1, area.width + 1, area.height + 1), stops
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
    project: Project, level: Level, area: Rect, stops: Stops
) -> tuple[npt.NDArray[np.int32], list[_Part]]:
    """A code for what is solid in each cell of an area, and what each code means; 0 is nothing."""
    tile = project.rules.tile
    combined = np.zeros((area.height, area.width), np.int64)
    meanings: list[tuple[Any, ...]] = [()]
    for layer in level.layers:
        if not layer.visible or layer.parallax != 1:
            continue
        for codes, names in _layer_codes(project, layer, area, stops):
            combined, meanings = _combine(combined, meanings, codes, names)
    parts = [NOTHING, *(_part_of(meaning, tile) for meaning in meanings[1:])]
    return combined.astype(np.int32), parts


def _combine(
    one: npt.NDArray[np.int64],
    meanings: list[tuple[Any, ...]],
    other: npt.NDArray[np.int64],
    names: list[Any],
) -> tuple[npt.NDArray[np.int64], list[tuple[Any, ...]]]:
    if not other.any():
        return one, meanings
    both = one * len(names) + other
    values, places = np.unique(both, return_inverse=True)
    made = [
        meanings[value // len(names)] + ((names[value % len(names)],) if value % len(names) else ())
        for value in values.tolist()
    ]
    if values[0] != 0:
        return places.reshape(one.shape).astype(np.int64) + 1, [(), *made]
    return places.reshape(one.shape).astype(np.int64), made


def _layer_codes(
    project: Project, layer: Layer, area: Rect, stops: Stops
) -> Iterable[tuple[npt.NDArray[np.int64], list[Any]]]:
    """What a layer's tiles bring into cells: their own, and those that large ones reach into."""
    index = piece_index(project)
    tile = project.rules.tile
    reach = _reach(project, layer, area, stops)
    for dx, dy in sorted(reach):
        shifted = Rect(area.x - dx, area.y - dy, area.width, area.height)
        numbers, turns = layer.cells.window(shifted)
        codes = numbers.astype(np.int64) * 8 + turns
        values, places = np.unique(codes, return_inverse=True)
        names: list[Any] = [None]
        lookup = np.zeros(len(values), np.int64)
        for place, code in enumerate(values.tolist()):
            number, turn = divmod(code, 8)
            found = index.get(number)
            if found is None or not found[1].shapes:
                continue
            name = (found[1].shapes, found[1].rect.size, turn, stops, dx, dy)
            if _piece_in_cell(*name, tile) is not None:
                lookup[place] = len(names)
                names.append(name)
        if len(names) > 1:
            yield lookup[places.reshape(codes.shape)], names


def _reach(project: Project, layer: Layer, area: Rect, stops: Stops) -> set[Key]:
    """By how many cells tiles of a layer in and around an area reach beyond their own."""
    index = piece_index(project)
    farthest = _farthest(project)
    found = {(0, 0)}
    if not farthest:
        return found
    wide = Rect(
        area.x - farthest,
        area.y - farthest,
        area.width + 2 * farthest,
        area.height + 2 * farthest,
    )
    for number in np.unique(layer.cells.window(wide)[0]).tolist():
        piece = index[number][1] if number in index else None
        shapes = [shape for shape in piece.shapes or () if shape.stops == stops] if piece else []
        cells = _reach_of(piece, shapes, project.rules.tile) if piece and shapes else 0
        span = range(-cells, cells + 1)
        found |= {(dx, dy) for dx in span for dy in span}
    return found


_farthest_memory: list[tuple[object, Size, int]] = []


def _farthest(project: Project) -> int:
    """The most cells that any piece's shapes reach beyond its own; kept for the newest few."""
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
    found = piece_index(project).get(number)
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
def _piece_in_cell(
    shapes: tuple[Shape, ...], size: Size, turn: int, stops: Stops, dx: int, dy: int, tile: Size
) -> Geometry | None:
    """What a tile's shapes cover of the cell that lies so many cells from its own."""
    from shapely import Polygon, box, union_all
    from shapely.affinity import translate

    height = size.width if turn & 4 else size.height
    areas = []
    for shape in shapes:
        if shape.stops == stops:
            rings = [[turned_point(c, size, turn) for c in ring] for ring in shape.form.rings]
            areas.append(Polygon(rings[0], rings[1:]).buffer(0))
    whole = translate(union_all(areas), -dx * tile.width, tile.height - height - dy * tile.height)
    part = whole.intersection(box(0, 0, *tile))
    return part if part.area > 0 else None


@lru_cache(maxsize=8192)
def _part_of(meaning: tuple[Any, ...], tile: Size) -> _Part:
    """Several tiles in one cell, as edges and covered borders."""
    from shapely import union_all

    whole = union_all([_piece_in_cell(*name, tile) for name in meaning])
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
    """Whether layers were added, moved, hidden or shown."""
    pairs = zip(old.layers, new.layers, strict=False)
    return len(old.layers) != len(new.layers) or any(
        one.visible != other.visible or one.parallax != other.parallax for one, other in pairs
    )


def _painted(project: Project, level: Level) -> Rect:
    """The cells that anything may be solid in, with the next ones around them: tiles reach as far
    beyond their cells as they are large."""
    area = Rect(0, 0, 0, 0)
    for layer in level.layers:
        if layer.parallax == 1:
            area = area.union(layer.cells.bounds())
    return area.grown(_farthest(project) + 1) if area.area else area
