"""A part of something that was enlarged and smoothed, such as of a picture of a screen."""

from __future__ import annotations

from itertools import product

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.smoothing import (
    BESIDE,
    KERNELS,
    PART,
    ROUGH,
    SMOOTH,
    WHOLE,
    busiest,
    explained,
    from_multiplied,
    missed_along,
    multiplied,
    solved,
    weights_of,
)
from rushweed.core.project.sheet import Kernel, Redrawn, size_of_part
from rushweed.core.values import Size

FAR = 1 << 12
"""So many pixels are supposed around a part: it ends nowhere."""


def smoothed_part(picture: Picture) -> Redrawn | None:
    """The whole factor by which what this picture, of shape (height, width, 4), is a part of was
    enlarged and smoothed, and how much of the first pixels is cut off; None if there is none.

    As for a whole picture, the smaller one is found by least squares, here for every place within
    a pixel at which the part may begin; one explains it, and those beside it do not.
    """
    corner = busiest(picture)
    if corner is None:
        return None
    y, x = corner
    side = min(PART, *picture.shape[:2])
    part = multiplied(picture[y : y + side, x : x + side])
    for factor, kernel in product(reversed(WHOLE), KERNELS):
        across = [cut for cut in range(factor) if _row_fits(part, kernel, x, factor, cut)]
        down = [
            cut
            for cut in range(factor)
            if across and _row_fits(part.swapaxes(0, 1), kernel, y, factor, cut)
        ]
        for left, top in product(across, down):
            if _is_explained(part, kernel, factor, (y, top), (x, left)):
                cut = Size(left, top)
                whole = Size(picture.shape[1], picture.shape[0])
                return Redrawn(size_of_part(whole, factor, cut), kernel, factor, cut)
    return None


def part_drawn_again(picture: Picture, how: Redrawn) -> Picture:
    """The pixels of a part whose enlargement by the kernel is nearest to this picture, by least
    squares; pixels that lie beyond it are found with them, and left out."""
    whole = multiplied(picture)
    axes = ((how.size.height, how.cut.height), (how.size.width, how.cut.width))
    for axis, (count, cut) in enumerate(axes):
        values = np.moveaxis(whole, axis, 0)
        begin, length = cut + 2 * how.factor, (count + 4) * how.factor
        places = np.arange(begin, begin + len(values))
        taps, weights = weights_of(how.kernel, count + 4, length, places)
        found = solved(how.kernel, count + 4, taps, weights, values)[2:-2]
        whole = np.moveaxis(found, 0, axis)
    return from_multiplied(whole)


def _row_fits(part: Reals, kernel: Kernel, at: int, factor: int, cut: int) -> bool:
    """Whether the rows of a part are enlarged rows that begin so."""
    return missed_along(part, kernel, _ways(at, factor, cut)) <= SMOOTH


def _ways(at: int, factor: int, cut: int) -> tuple[int, int, int]:
    """Where a stretch begins in something far larger, of how many values that was made, and how
    many it has."""
    begin = FAR // 2 * factor + (at + cut) % factor
    return begin, FAR, FAR * factor


def _is_explained(
    part: Reals, kernel: Kernel, factor: int, down: tuple[int, int], across: tuple[int, int]
) -> bool:
    ways = _ways(down[0], factor, down[1]), _ways(across[0], factor, across[1])
    missed, rough = explained(part, kernel, *ways)
    if missed > SMOOTH or rough < ROUGH:
        return False
    beside, _ = explained(part[1:, 1:], kernel, *ways)
    return beside > BESIDE * missed + 0.2
