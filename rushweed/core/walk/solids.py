"""What is solid in a level, found by place."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import chain

import numpy as np

from rushweed.core.arrays import Mask, Whole
from rushweed.core.bound.slabs import Slab, slabs
from rushweed.core.orientation import AS_DRAWN, SWAPPED
from rushweed.core.project.collision import meet
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Rect, Size
from rushweed.core.weave.posing import posed_shapes

BLOCK = 64
"""Cells a side of a block that is looked through at once for what is empty."""
SQUARE = 64
"""What is not found by its cell is kept in squares of this many pixels."""
WIDE = 1024
"""What lies in more squares than this is kept by itself."""
MOST_KEPT = 20_000
"""Blocks of cells whose slabs are kept together, for walkers ask for the same ones again."""


class Solids:
    """The slabs of a level's tiles, and of its props that do not move; or, with `sensors`, those of
    the sensors of its tiles and of all its props."""

    def __init__(self, project: Project, level: Level, sensors: bool = False) -> None:
        self._project, self._sensors = project, sensors
        self._layers = [layer for layer in level.layers if layer.is_walked]
        self._tile = project.rules.tile
        self._cells: dict[tuple[int, int], tuple[Slab, ...]] = {}
        self._near: dict[tuple[int, int, int, int], tuple[Slab, ...]] = {}
        self._blocks: dict[tuple[int, int], bytes] = {}
        self._far = frozenset(
            number
            for layer in self._layers
            for number in (layer.cells.used() if self._counts(layer) else ())
            if self._reaches_far(number)
        )
        used = frozenset().union(*(layer.cells.used() for layer in self._layers))
        self._ladders = frozenset(
            number
            for number in used
            if (found := project.find(number)) and found[1].facts.moves == "climbs"
        )
        self.free = [*self._of_props(), *self._of_far_tiles()]
        """The slabs that are not kept by cells."""
        self._squares: dict[tuple[int, int], list[Slab]] = {}
        self._wide: list[Slab] = []
        self._sort(self.free)

    def near(self, left: float, top: float, right: float, bottom: float) -> Sequence[Slab]:
        """Every slab that touches an area, and perhaps a few more."""
        width, height = self._tile
        spot = (
            int(left // width) - 1,
            int(top // height) - 1,
            int(right // width) + 1,
            int(bottom // height) + 1,
        )
        found = self._near.get(spot)
        if found is None:
            if len(self._near) > MOST_KEPT:
                self._near.clear()
            found = self._near[spot] = tuple(self._gathered(*spot))
        return found

    def is_empty(self, left: float, top: float, right: float, bottom: float) -> bool:
        """Whether no slab reaches into a cell that an area lies in."""
        width, height = self._tile
        columns = range(int(left // width), int(right // width) + 1)
        for row in range(int(top // height), int(bottom // height) + 1):
            for column in columns:
                key = column // BLOCK, row // BLOCK
                block = self._blocks.get(key)
                if block is None:
                    block = self._blocks[key] = self._block(*key)
                if block[row % BLOCK * BLOCK + column % BLOCK]:
                    return False
        return True

    def of_cells(self) -> Iterator[tuple[Slab, Whole, Whole]]:
        """The other slabs: each as it lies in the cell at 0, 0, with the columns and the rows of
        all cells that it lies in, of shape (cells,)."""
        for layer in self._layers:
            area = layer.cells.bounds()
            if not area.area:
                continue
            numbers, orientations = layer.cells.window(area)
            kinds = numbers.astype(np.int64) * 8 + orientations
            order = np.argsort(kinds, axis=None, kind="stable")
            found, begins = np.unique(kinds.ravel()[order], return_index=True)
            for kind, places in zip(found.tolist(), np.split(order, begins[1:]), strict=True):
                number, orientation = divmod(kind, 8)
                rows, columns = np.divmod(places, area.width)
                if number and self._counts(layer) and number not in self._far:
                    for slab in self._of_tile(number, orientation, 0, 0):
                        yield slab, columns + area.x, rows + area.y
                if number in self._ladders and not self._sensors:
                    above = numbers[np.maximum(rows - 1, 0), columns]
                    is_top = (rows == 0) | ~np.isin(above, list(self._ladders))
                    yield self._top(number, 0, 0), columns[is_top] + area.x, rows[is_top] + area.y

    def _block(self, column: int, row: int) -> bytes:
        """Which cells of a block some slab reaches into, row by row."""
        first, above = column * BLOCK, row * BLOCK
        filled = np.zeros((BLOCK + 2, BLOCK + 2), bool)  # with the cells around
        for layer in self._layers:
            numbers, orientations = layer.cells.window(
                Rect(first - 1, above - 1, BLOCK + 2, BLOCK + 2)
            )
            for kind in np.unique(numbers.astype(np.int64) * 8 + orientations).tolist():
                number, orientation = divmod(kind, 8)
                there = (numbers == number) & (orientations == orientation)
                for dx, dy in self._reached(layer, number, orientation):
                    filled |= _moved(there, dx, dy)
        width, height = self._tile
        area = Rect(first * width, above * height, BLOCK * width, BLOCK * height)
        for slab in self._freely_placed(area):
            left, right = int(slab.left // width), math.ceil(slab.right / width)
            top = int(min(slab.top_left, slab.top_right) // height)
            bottom = math.ceil(max(slab.bottom_left, slab.bottom_right) / height)
            rows = slice(max(0, top - above + 1), max(0, bottom - above + 1))
            filled[rows, max(0, left - first + 1) : max(0, right - first + 1)] = True
        return filled[1:-1, 1:-1].tobytes()

    def _reached(self, layer: Layer, number: int, orientation: int) -> set[tuple[int, int]]:
        """The cells that a tile's slabs reach into, counted from its own; none are far off."""
        width, height = self._tile
        own = self._counts(layer) and number and number not in self._far
        cells = {(0, 0)} if number in self._ladders else set()
        for slab in self._of_tile(number, orientation, 0, 0) if own else ():
            top, bottom = (
                min(slab.top_left, slab.top_right),
                max(slab.bottom_left, slab.bottom_right),
            )
            columns = range(int(slab.left // width), math.ceil(slab.right / width))
            rows = range(int(top // height), math.ceil(bottom / height))
            cells |= {(column, row) for column in columns for row in rows}
        return cells

    def _freely_placed(self, area: Rect) -> Iterator[Slab]:
        """The slabs that are not kept by cells, in an area and perhaps more."""
        yield from self._wide
        columns = range(area.x // SQUARE, area.right // SQUARE + 1)
        rows = range(area.y // SQUARE, area.bottom // SQUARE + 1)
        squares = (self._squares.get((c, r), ()) for r in rows for c in columns)
        yield from dict.fromkeys(chain.from_iterable(squares)) if self._squares else ()

    def _gathered(self, left: int, top: int, right: int, bottom: int) -> Iterator[Slab]:
        """The slabs of a block of cells, the last ones included, and whatever else is about."""
        for row in range(top, bottom + 1):
            for column in range(left, right + 1):
                known = self._cells.get((column, row))
                if known is None:
                    known = self._cells[column, row] = tuple(self._in_cell(column, row))
                yield from known
        width, height = self._tile
        cells = Rect(left, top, right - left + 1, bottom - top + 1)
        yield from self._freely_placed(
            Rect(cells.x * width, cells.y * height, cells.width * width, cells.height * height)
        )

    def _in_cell(self, column: int, row: int) -> Iterator[Slab]:
        for layer in self._layers:
            number, orientation = layer.cells.at(column, row)
            if number and self._counts(layer) and number not in self._far:
                yield from self._of_tile(number, orientation, column, row)
            if number in self._ladders and not self._sensors:
                yield from self._top_of(layer, number, column, row)

    def _counts(self, layer: Layer) -> bool:
        """Whether shapes on a layer count here; sensors do everywhere."""
        return layer.solid or self._sensors

    def _of_tile(self, number: int, orientation: int, column: int, row: int) -> Iterator[Slab]:
        found = self._project.find(number)
        if found is None or not found[1].shapes:
            return
        size = found[1].rect.size
        high = size.width if orientation & SWAPPED else size.height
        x, y = column * self._tile.width, (row + 1) * self._tile.height - high
        for slab in slabs(self._shapes(found[1]), size, orientation):
            yield slab.moved(x, y, number)

    def _top_of(self, layer: Layer, number: int, column: int, row: int) -> Iterator[Slab]:
        """The upper end of a ladder, on which one stands, if that is in this cell."""
        if layer.cells.at(column, row - 1)[0] in self._ladders:
            return
        yield self._top(number, column, row)

    def _top(self, number: int, column: int, row: int) -> Slab:
        (width, height), top = self._tile, float(row * self._tile.height)
        left = float(column * width)
        return Slab(left, left + width, top, top, top + height, top + height, "one-way", number)

    def _shapes(self, piece: Piece) -> tuple[Shape, ...]:
        shapes = stopping(self._project, piece.shapes or ())
        return sensors_of(shapes) if self._sensors else shapes

    def _reaches_far(self, number: int) -> bool:
        """Whether a tile's slabs may lie farther than a cell from its own."""
        width, height = self._tile
        for orientation in range(8):
            for slab in self._of_tile(number, orientation, 0, 0):
                top = min(slab.top_left, slab.top_right)
                bottom = max(slab.bottom_left, slab.bottom_right)
                if slab.left < -width or slab.right > 2 * width:
                    return True
                if top < -height or bottom > 2 * height:
                    return True
        return False

    def _of_far_tiles(self) -> Iterator[Slab]:
        for layer in filter(self._counts, self._layers if self._far else ()):
            cells = layer.cells
            for column, row in cells.places_of(self._far):
                yield from self._of_tile(*cells.at(column, row), column, row)

    def _of_props(self) -> Iterator[Slab]:
        for layer in filter(self._counts, self._layers):
            for prop in layer.props:
                if self._sensors or body_of(self._project, prop) == "fixed":
                    yield from prop_slabs(self._project, prop, self._sensors)

    def _sort(self, found: Iterable[Slab]) -> None:
        """Keep slabs by the squares that they lie in."""
        for slab in found:
            top = int(min(slab.top_left, slab.top_right) // SQUARE)
            bottom = int(max(slab.bottom_left, slab.bottom_right) // SQUARE)
            left, right = int(slab.left // SQUARE), int(slab.right // SQUARE)
            if (right - left + 1) * (bottom - top + 1) > WIDE:
                self._wide.append(slab)
                continue
            for row in range(top, bottom + 1):
                for column in range(left, right + 1):
                    self._squares.setdefault((column, row), []).append(slab)


def _moved(cells: Mask, dx: int, dy: int) -> Mask:
    """Cells moved so many columns and rows; what leaves the block is lost."""
    moved = np.zeros_like(cells)
    height, width = cells.shape
    moved[max(dy, 0) : height + min(dy, 0), max(dx, 0) : width + min(dx, 0)] = cells[
        max(-dy, 0) : height - max(dy, 0), max(-dx, 0) : width - max(dx, 0)
    ]
    return moved


def sensors_of(shapes: Iterable[Shape]) -> tuple[Shape, ...]:
    """The sensors among shapes, as if they were solid."""
    return tuple(replace(s, stops="all sides") for s in shapes if s.stops == "sensor")


def stopping(project: Project, shapes: tuple[Shape, ...]) -> tuple[Shape, ...]:
    """Those of some shapes that meet the project's walker."""
    layers = project.rules.collision
    if not layers:
        return shapes
    return tuple(shape for shape in shapes if meet(layers, project.walker.layer, shape.layer))


def prop_slabs(project: Project, prop: Prop, sensors: bool = False) -> Iterator[Slab]:
    """The slabs of a prop where it stands; with `sensors`, those of its sensors instead."""
    found = project.find(prop.piece)
    shapes = stopping(project, posed_shapes(found[1], prop)) if found else ()
    for slab in slabs(sensors_of(shapes) if sensors else shapes, Size(0, 0), AS_DRAWN):
        yield slab.moved(prop.x, prop.y, prop.piece)


def body_of(project: Project, prop: Prop) -> str:
    """How a prop moves: as it says, or as its piece does."""
    if prop.body is not None:
        return prop.body.kind
    found = project.find(prop.piece)
    return found[1].body.kind if found else "fixed"
