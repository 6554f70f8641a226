"""Painted cells as a bundle tells them: runs, plain rows, or packed blocks; whole or by chunks."""

from __future__ import annotations

import base64
import zlib
from collections.abc import Iterator
from typing import Any, Literal

import numpy as np

from rushweed.core.project.cells import CHUNK, Cells
from rushweed.core.project.level import Level
from rushweed.core.values import Rect

RowForm = Literal["runs", "plain", "packed"]
FAST = 6
"""How hard to compress blocks of cells."""


def told_cells(cells: Cells, form: RowForm) -> list[dict[str, Any]]:
    """All painted cells of a layer."""
    if form == "runs":
        return cells.rows()
    area = cells.bounds()
    if form == "packed":
        return [_packed(cells, area)] if area.area else []
    return _plain_rows(cells, area)


def chunks_of(level: Level, side: int, form: RowForm) -> Iterator[tuple[int, int, list[Any]]]:
    """The chunks of so many cells a side that hold any: the column and row of each among chunks,
    and by layer what is painted there. Row by row."""
    squares = {
        (column, row)
        for layer in level.layers
        for x, y in layer.cells.chunks
        for column in range(x * CHUNK // side, ((x + 1) * CHUNK - 1) // side + 1)
        for row in range(y * CHUNK // side, ((y + 1) * CHUNK - 1) // side + 1)
    }
    for column, row in sorted(squares, key=lambda square: square[::-1]):
        area = Rect(column * side, row * side, side, side)
        layers = [told_cells(_part(layer.cells, area), form) for layer in level.layers]
        if any(layers):
            yield column, row, layers


def _part(cells: Cells, area: Rect) -> Cells:
    return Cells().overlaid(area, *cells.window(area))


def _plain_rows(cells: Cells, area: Rect) -> list[dict[str, Any]]:
    """Rows cell by cell, all as wide as the area."""
    numbers, orientations = cells.window(area)
    return [
        {"y": area.y + row, "x": area.x, "numbers": numbers[row].tolist(),
         "orientations": orientations[row].tolist()}
        for row in range(area.height)
    ]  # fmt: skip


def _packed(cells: Cells, area: Rect) -> dict[str, Any]:
    """One block: numbers in 32 bits, little-endian, row by row, then orientations in 8 bits, as a
    zlib stream (RFC 1950) in base64."""
    numbers, orientations = cells.window(area)
    data = numbers.astype("<u4").tobytes() + orientations.astype(np.uint8).tobytes()
    packed = base64.b64encode(zlib.compress(data, FAST)).decode()
    return {
        "y": area.y, "x": area.x, "width": area.width, "height": area.height, "packed": packed
    }  # fmt: skip
