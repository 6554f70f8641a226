"""Tiles laid onto a picture, whole rows of cells at once."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import groupby

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Point, Size
from rushweed.core.weave.blending import blend

AT_ONCE = 1 << 18
"""Pixels that are put together at once."""
MANY = 0.25
"""Rows of which less than this part is painted are quicker drawn tile by tile."""
Codes = npt.NDArray[np.int64]
"""Piece numbers times eight plus orientations; 0 for nothing."""


def lay_tiles(
    canvas: Picture,
    codes: Codes,
    tile_of: Callable[[int], Picture],
    cell: Size,
    corner: Point,
    opacity: int,
) -> None:
    """Draw cells of shape (rows, columns), the first with its upper left corner at `corner`, row
    after row. Tiles of other sizes than a cell stand on its lower left corner."""
    values, places = np.unique(codes, return_inverse=True)
    places = places.reshape(codes.shape)
    nothing = np.zeros((cell.height, cell.width, 4), np.uint8)
    tiles = [tile_of(code) if code else nothing for code in values.tolist()]
    fits = np.array([tile.shape == nothing.shape for tile in tiles])
    stack = np.stack([tile if fit else nothing for tile, fit in zip(tiles, fits, strict=True)])
    together = fits[places].all(axis=1) & ((codes > 0).mean(axis=1) >= MANY)
    x = int(corner.x)
    for first, end, at_once in _runs(together, codes.shape[1] * nothing.size // 4):
        y = int(corner.y) + first * cell.height
        if at_once:
            blend(canvas, joined(stack[places[first:end]]), x, y, opacity)
            continue
        for row, column in np.argwhere(codes[first:end]).tolist():
            tile = tiles[places[first + row, column]]
            bottom = y + (row + 1) * cell.height
            blend(canvas, tile, x + column * cell.width, bottom - tile.shape[0], opacity)


def _runs(together: npt.NDArray[np.bool_], area: int) -> Iterator[tuple[int, int, bool]]:
    """Rows that are drawn alike, from the first to the one after the last: not too many at once,
    where one of them has so many pixels."""
    most = max(1, AT_ONCE // max(1, area))
    for at_once, group in groupby(range(len(together)), lambda row: bool(together[row])):
        rows = list(group)
        step = most if at_once else len(rows)
        for first in range(rows[0], rows[-1] + 1, step):
            yield first, min(first + step, rows[-1] + 1), at_once


def joined(tiles: npt.NDArray[np.uint8]) -> Picture:
    """One picture of tiles of shape (rows, columns, height, width, 4)."""
    rows, columns, height, width, _ = tiles.shape
    return tiles.transpose(0, 2, 1, 3, 4).reshape(rows * height, columns * width, 4)
