"""Guessing the grid of a sheet, against decoding the same picture."""

from __future__ import annotations

import io

import numpy as np
from measuring import Result, ratio
from PIL import Image

from rushweed.core.cut.grid import guess_grids
from rushweed.core.gather.pictures import Picture, encode_png
from rushweed.core.gather.solid import solid

CELL = 64
SIDES = (512, 2048, 8192)


def measure() -> list[Result]:
    """Sheets of creatures in even cells, of three sizes."""
    return [_measure(side) for side in SIDES]


def _measure(side: int) -> Result:
    picture = creatures(side)
    mask = solid(picture)
    data = encode_png(picture)
    assert guess_grids(picture, mask)[0].grid.cell == (CELL, CELL)
    return ratio(
        f"Guessing the grid of {side} × {side} px, against decoding it",
        lambda: guess_grids(picture, mask),
        lambda: Image.open(io.BytesIO(data)).load(),
        1.0,
        rounds=15 if side < 2048 else 5,
    )


def creatures(side: int) -> Picture:
    """Bodies of a few colours, no two alike, each in a cell of its own."""
    draw = np.random.default_rng(3)
    down, across = np.mgrid[:CELL, :CELL] - CELL // 2
    picture = np.zeros((side, side, 4), np.uint8)
    for top in range(0, side, CELL):
        for left in range(0, side, CELL):
            wide, high = draw.uniform(10, 29, 2)
            body = (across / wide) ** 2 + ((down + high - CELL // 2) / high) ** 2 < 1
            colours = draw.integers(30, 230, (4, 4), dtype=np.uint8)
            colours[:, 3] = 255
            part = picture[top : top + CELL, left : left + CELL]
            part[body] = colours[((across + 2 * down) // 5 % 4)[body]]
    return picture
