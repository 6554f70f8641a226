"""Bringing a picture back to the pixels it was drawn with before it was enlarged badly."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Indices
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.smoothed_part import part_drawn_again
from rushweed.core.gather.smoothing import drawn_again
from rushweed.core.project.sheet import Redrawn


def redrawn(picture: Picture, how: Redrawn) -> Picture:
    """The picture at the size it was drawn at: the middle of each pixel that was only repeated,
    else what comes nearest to it once enlarged and smoothed."""
    if how.kernel != "nearest" and how.factor:
        result = part_drawn_again(picture, how)
    elif how.kernel != "nearest":
        result = drawn_again(picture, *how.size, how.kernel)
    else:
        columns, rows = (
            _middles(count, side, how.factor, cut)
            for count, side, cut in zip(how.size, picture.shape[1::-1], how.cut, strict=True)
        )
        result = np.ascontiguousarray(picture[rows][:, columns])
    result.setflags(write=False)
    return result


def _middles(count: int, side: int, factor: int, cut: int) -> Indices:
    """Where the middle of each of so many pixels lies along a side."""
    middles = np.arange(count) + 0.5
    places = middles * factor - cut if factor else middles * side / count
    return places.astype(np.intp).clip(0, side - 1)
