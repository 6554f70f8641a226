"""Reading a sheet, against decoding the same picture."""

from __future__ import annotations

import io

import numpy as np
from measuring import Result, ratio
from PIL import Image

from rushweed.core.cut.inspect import inspect
from rushweed.core.gather.pictures import Picture, encode_png
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size

CELL = 64
SIDES = {512: 1.0, 2048: 0.5, 8192: 1.0}
"""Lengths of sides, and how long reading may take against decoding."""


def measure() -> list[Result]:
    """Sheets of creatures in even cells, of three sizes."""
    return [_measure(side, most) for side, most in SIDES.items()]


def _measure(side: int, most: float) -> Result:
    picture = creatures(side)
    data = encode_png(picture)
    assert inspect(picture).grids[0].layout == EvenCells(Size(CELL, CELL))
    return ratio(
        f"Reading a sheet of {side} × {side} px, key and pixel size too, against decoding it",
        lambda: inspect(picture),
        lambda: Image.open(io.BytesIO(data)).load(),
        most,
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
