"""What is solid in a level, found by place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rushweed.core.bound.slabs import Slab, slabs
from rushweed.core.orientation import AS_DRAWN
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
from rushweed.core.values import Size
from rushweed.core.weave.posing import posed_shapes

CELL = 64
"""Props that stay are kept in squares of this many pixels."""


class Solids:
    """The slabs of a level's tiles, and of its props that do not move."""

    def __init__(self, project: Project, level: Level) -> None:
        self._project = project
        self._layers = [layer for layer in level.layers if is_walked(layer)]
        self._tile = project.rules.tile
        self._cells: dict[tuple[int, int], tuple[Slab, ...]] = {}
        self._props = _by_square(
            slab
            for layer in self._layers
            for prop in layer.props
            if body_of(project, prop) == "fixed"
            for slab in prop_slabs(project, prop)
        )

    def near(self, left: float, top: float, right: float, bottom: float) -> Iterator[Slab]:
        """Every slab of the cells that touch this area, of tiles that reach into it, and of props
        about there."""
        width, height = self._tile
        first_column, last_column = int(left // width) - 1, int(right // width)
        first_row, last_row = int(top // height), int(bottom // height) + 1
        cells = self._cells
        for row in range(first_row, last_row + 1):
            for column in range(first_column, last_column + 1):
                known = cells.get((column, row))
                if known is None:
                    known = cells[column, row] = tuple(self._in_cell(column, row))
                yield from known
        if self._props:
            yield from self._props_near(left, top, right, bottom)

    def _props_near(self, left: float, top: float, right: float, bottom: float) -> Iterator[Slab]:
        for row in range(int(top // CELL), int(bottom // CELL) + 1):
            for column in range(int(left // CELL), int(right // CELL) + 1):
                yield from self._props.get((column, row), ())

    def _in_cell(self, column: int, row: int) -> Iterator[Slab]:
        for layer in self._layers:
            number, orientation = layer.cells.at(column, row)
            found = self._project.find(number) if number else None
            if found is None or not found[1].shapes:
                continue
            piece = found[1]
            size = piece.rect.size
            high = size.width if orientation & 4 else size.height
            x = column * self._tile.width
            y = (row + 1) * self._tile.height - high
            for slab in slabs(piece.shapes or (), size, orientation):
                yield slab.moved(x, y, number)


def is_walked(layer: Layer) -> bool:
    """Whether what is on a layer is met by walkers."""
    return layer.visible and layer.parallax == 1 and not layer.repeated


def body_of(project: Project, prop: Prop) -> str:
    """How a prop moves: as it says, or as its piece does."""
    if prop.body is not None:
        return prop.body.kind
    found = project.find(prop.piece)
    return found[1].body.kind if found else "fixed"


def prop_slabs(project: Project, prop: Prop, sensors: bool = False) -> Iterator[Slab]:
    """The slabs of a prop where it stands; with `sensors`, those of its sensors instead."""
    found = project.find(prop.piece)
    if found is None or not found[1].shapes:
        return
    shapes = posed_shapes(found[1], prop)
    if sensors:
        shapes = tuple(Shape(shape.form) for shape in shapes if shape.stops == "sensor")
    for slab in slabs(shapes, Size(0, 0), AS_DRAWN):
        yield slab.moved(prop.x, prop.y, prop.piece)


def _by_square(found: Iterable[Slab]) -> dict[tuple[int, int], list[Slab]]:
    squares: dict[tuple[int, int], list[Slab]] = {}
    for slab in found:
        top = min(slab.top_left, slab.top_right)
        bottom = max(slab.bottom_left, slab.bottom_right)
        for row in range(int(top // CELL), int(bottom // CELL) + 1):
            for column in range(int(slab.left // CELL), int(slab.right // CELL) + 1):
                squares.setdefault((column, row), []).append(slab)
    return squares
