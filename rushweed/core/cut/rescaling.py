"""Telling that a picture was saved anew at twice or half its size, or another whole factor."""

from __future__ import annotations

from fractions import Fraction

import numpy as np

from rushweed.core.arrays import Floats
from rushweed.core.gather.fitting import multiplied
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.true_pixel import enlarged

LARGEST = 8
ALIKE = 64
"""Means of blocks that differ by less than this, of 255, are alike."""
MOST_UNLIKE = 0.08
"""This share of the pixels may differ more, as where lines were drawn anew."""


def scale_between(before: Picture, after: Picture) -> Fraction:
    """By which factor `after` is `before` saved larger or smaller; 1 when it is not.

    Both are of shape (height, width, 4), straight alpha.
    """
    up = _factor(before, after)
    if up > 1:
        return Fraction(up) if _alike(before, _means(after, up)) else Fraction(1)
    down = _factor(after, before)
    if down > 1:
        return Fraction(1, down) if _alike(after, _means(before, down)) else Fraction(1)
    return Fraction(1)


def is_enlarged(small: Picture, large: Picture, factor: int) -> bool:
    """Whether a picture is another with each pixel so many pixels wide and high, and no more."""
    again = enlarged(small, factor)
    if again.shape != large.shape or not np.array_equal(again[..., 3], large[..., 3]):
        return False
    shown = again[..., 3] > 0
    return np.array_equal(again[shown], large[shown])


def _factor(small: Picture, large: Picture) -> int:
    """The whole factor between two sizes; 1 when there is none."""
    height, width = small.shape[:2]
    factor = int(large.shape[0]) // int(height)
    if not 2 <= factor <= LARGEST or large.shape[:2] != (height * factor, width * factor):
        return 1
    return factor


def _means(picture: Picture, factor: int) -> Floats:
    """The mean of each block, alpha multiplied in."""
    height, width = picture.shape[0] // factor, picture.shape[1] // factor
    blocks = multiplied(picture).reshape(height, factor, width, factor, 4)
    means: Floats = blocks.mean(axis=(1, 3), dtype=np.float32)
    return means


def _alike(small: Picture, means: Floats) -> bool:
    apart = np.abs(multiplied(small) - means).max(axis=2)
    return bool((apart > ALIKE).mean() <= MOST_UNLIKE)
