"""What is solid in a level, found by place."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.bound.slabs import Slab, slabs
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project


class Solids:
    """The solid slabs of a level, found by place."""

    def __init__(self, project: Project, level: Level) -> None:
        self._project = project
        self._layers = [layer for layer in level.layers if layer.visible and layer.parallax == 1]
        self._tile = project.rules.tile

    def near(self, left: float, top: float, right: float, bottom: float) -> Iterator[Slab]:
        """Every slab of the cells that touch this area, and of tiles that reach into it."""
        width, height = self._tile
        first_column, last_column = int(left // width) - 1, int(right // width)
        first_row, last_row = int(top // height), int(bottom // height) + 1
        for layer in self._layers:
            for row in range(first_row, last_row + 1):
                for column in range(first_column, last_column + 1):
                    number, orientation = layer.cells.at(column, row)
                    if number:
                        yield from self._of_cell(number, orientation, column, row)

    def _of_cell(self, number: int, orientation: int, column: int, row: int) -> Iterator[Slab]:
        found = self._project.find(number)
        if found is None or not found[1].shapes:
            return
        piece = found[1]
        x = column * self._tile.width
        y = (row + 1) * self._tile.height - piece.rect.height
        for slab in slabs(piece.shapes or (), piece.rect.size, orientation):
            yield slab.moved(x, y, number)
