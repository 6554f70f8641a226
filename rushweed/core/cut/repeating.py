"""Cutting a piece so that it repeats without a seam."""

from __future__ import annotations

from itertools import product
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Floats
from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Rect

DEEPEST = 3
"""At most this many pixels are cut off a side."""
DEAR = 1.0
"""What a pixel cut off costs, so that none is cut for next to nothing."""


class Mismatch(NamedTuple):
    """How much worse opposite edges meet than neighbours inside do, 0 to 255: left with right,
    top with bottom. An outline along the rim counts as well."""

    across: float
    down: float


class Repeat(NamedTuple):
    """The rectangle that repeats best, and how its edges meet before and after."""

    rect: Rect
    before: Mismatch
    after: Mismatch


def mismatch(picture: Picture) -> Mismatch:
    """How a piece, of shape (height, width, 4), meets itself when it is repeated."""
    colours = _premultiplied(picture)
    return Mismatch(_seam(colours), _seam(colours.swapaxes(0, 1)))


def best_repeat(picture: Picture, rect: Rect) -> Repeat:
    """What to cut off the rim of a piece so that its edges meet, at most a few pixels a side."""
    height, width = picture.shape[:2]
    top, bottom = _best_trim(_premultiplied(picture).swapaxes(0, 1))
    inner = picture[top : height - bottom]
    left, right = _best_trim(_premultiplied(inner))
    inner = inner[:, left : width - right]
    trimmed = Rect(
        rect.x + left, rect.y + top, rect.width - left - right, rect.height - top - bottom
    )
    return Repeat(trimmed, mismatch(picture), mismatch(inner))


def _best_trim(colours: Floats) -> tuple[int, int]:
    """How many columns to cut off at the left and at the right."""
    width = colours.shape[1]
    best, least = (0, 0), float("inf")
    for near, far in product(range(DEEPEST + 1), repeat=2):
        if width - near - far < 2:
            continue
        cost = _seam(colours[:, near : width - far]) + DEAR * (near + far)
        if cost < least:
            best, least = (near, far), cost
    return best


def _seam(colours: Floats) -> float:
    """How much more the last column differs from the first than neighbours inside usually do; or
    how much more the rim differs from what is beside it than any neighbours inside, as an
    outline does."""
    if colours.shape[1] < 2:
        return 0.0
    steps = np.abs(colours[:, 1:] - colours[:, :-1]).mean(axis=(0, 2))
    seam = float(np.abs(colours[:, -1] - colours[:, 0]).mean() - np.median(steps))
    outline = 0.0
    if len(steps) > 3 * DEEPEST:
        inner = steps[DEEPEST:-DEEPEST]
        outline = float(max(*steps[:DEEPEST], *steps[-DEEPEST:]) - inner.max())
    return max(0.0, seam, outline)


def _premultiplied(picture: Picture) -> Floats:
    colours = picture.astype(np.float32)
    colours[..., :3] *= colours[..., 3:] / 255
    return colours
