"""How many stored pixels one drawn pixel takes."""

from __future__ import annotations

import math

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.pixels import changes


def true_pixel(picture: Picture) -> int:
    """The whole factor by which nearest-neighbour enlarging made this picture; 1 if none.

    Colours can only change at multiples of the factor, so it is the greatest common divisor of
    all places where neighbouring columns or rows differ, and of both sides.

    >>> drawn = np.arange(24, dtype=np.uint8).reshape(2, 3, 4)
    >>> true_pixel(enlarged(drawn, 3))
    3
    """
    height, width = picture.shape[:2]
    columns, rows = changes(picture)
    if not len(columns) or not len(rows):
        return 1
    factor = math.gcd(width, height, *columns.tolist(), *rows.tolist())
    return factor if min(width, height) // factor >= 2 else 1


def enlarged(picture: Picture, factor: int) -> Picture:
    """The picture with each pixel `factor` × `factor` large."""
    return picture.repeat(factor, 0).repeat(factor, 1)


def shrunk(picture: Picture, factor: int) -> Picture:
    """The picture with one pixel for each block of `factor` × `factor`, its upper left one."""
    if factor == 1:
        return picture
    height, width = picture.shape[:2]
    result = np.ascontiguousarray(
        picture[: height // factor * factor : factor, : width // factor * factor : factor]
    )
    result.setflags(write=False)
    return result
