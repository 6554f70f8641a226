"""The eight turns and flips of a square, as numbers 0 to 7.

The lowest three bits say, in this order of doing: 4 swap x and y, 1 mirror left-right, 2 mirror
top-bottom.
"""

from __future__ import annotations

import numpy.typing as npt

from rushweed.core.values import Point, Size

AS_DRAWN = 0
FLIPPED = 1
FLIPPED_DOWN = 2
SWAPPED = 4


def turned(picture: npt.NDArray, orientation: int) -> npt.NDArray:  # type: ignore[type-arg]
    """A picture of shape (height, width, …) turned and flipped."""
    if orientation & SWAPPED:
        picture = picture.swapaxes(0, 1)
    if orientation & FLIPPED:
        picture = picture[:, ::-1]
    if orientation & FLIPPED_DOWN:
        picture = picture[::-1]
    return picture


def quarter(orientation: int) -> int:
    """An orientation after a quarter turn clockwise: swap x and y, then mirror.

    >>> quarter(quarter(quarter(quarter(3))))
    3
    """
    across, down = orientation & FLIPPED, orientation & FLIPPED_DOWN
    mirrors = (FLIPPED if down else 0) | (FLIPPED_DOWN if across else 0)
    return ((orientation ^ SWAPPED) & SWAPPED) | (mirrors ^ FLIPPED)


def turned_point(point: Point, size: Size, orientation: int) -> Point:
    """Where a point of a piece of that size comes to lie.

    >>> turned_point(Point(2, 5), Size(16, 8), FLIPPED)
    Point(x=14, y=5)
    """
    x, y = point
    width, height = size
    if orientation & SWAPPED:
        x, y = y, x
        width, height = height, width
    if orientation & FLIPPED:
        x = width - x
    if orientation & FLIPPED_DOWN:
        y = height - y
    return Point(x, y)
