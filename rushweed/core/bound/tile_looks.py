"""What a tile is by its look: water, a ladder, grass that hides one's feet."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Floats, Mask, Whole
from rushweed.core.gather.pictures import Picture

FULL, CLEAR = 0.9, 0.1
"""A row or column of which so much is drawn is full; one of less than the other is clear."""
BLUE, COLOURED = 0.8, 0.2
"""Water is so much of it blue, and what is blue is so far from grey."""
GLASSY = 245
"""What one sees through has pixels that are less opaque than this."""
EVEN = 0.3
"""The brightness of water differs by so much of its mean; bricks have joints that are darker."""
RAILS = 0.34
"""The rail of a ladder lies within so much of its width from its side."""
GREEN, BLADES = 0.6, 2.0
"""Grass is so much of it green, and has so many blades side by side in its upper half."""
UPRIGHT, ROOTED = 1.6, 1.5
"""Blades stand, so that a column is drawn in so few runs, and are so much thicker below."""
DRAWN = 8
"""Pixels less opaque than this show nothing."""


def is_water(tile: Picture, glassy: bool = False) -> bool:
    """Whether a tile, of shape (height, width, 4), is blue, even, and full in its lower half, for
    above that waves may foam; with `glassy` also whether one sees through it."""
    drawn = tile[..., 3] > DRAWN
    if drawn.mean() < 0.5 or drawn[len(tile) // 2 :].mean() < FULL:
        return False
    tile, drawn = tile[len(tile) // 2 :], drawn[len(tile) // 2 :]
    if glassy and (tile[..., 3][drawn] >= GLASSY).mean() > CLEAR:
        return False
    red, green, blue = _colours(tile, drawn)
    strongest = np.maximum(np.maximum(red, green), 1)
    coloured = blue - red > COLOURED * strongest
    is_blue = (blue >= 0.95 * strongest) & (red <= green * 1.1) & coloured
    brightness = red + green + blue
    even = float(brightness.std()) <= EVEN * max(float(brightness.mean()), 1.0)
    return bool(is_blue.mean() >= BLUE and even)


def is_ladder(mask: Mask) -> bool:
    r"""Whether what is drawn of a tile, of shape (height, width), is two rails with rungs.

    . # # . . # # .      columns: a rail, what is between, a rail
    . # # # # # # .      rows between the rails: full at a rung,
    . # # . . # # .      clear elsewhere
    """
    width = mask.shape[1]
    columns = mask.mean(axis=0)
    rails = np.flatnonzero(columns >= FULL)
    gaps = np.flatnonzero(np.diff(rails) > 1)
    if len(gaps) != 1:
        return False
    left, right = int(rails[gaps[0]]) + 1, int(rails[gaps[0] + 1])
    if rails[0] > RAILS * width or rails[-1] < (1 - RAILS) * width - 1 or right - left < 2:
        return False
    rows = mask[:, left:right].mean(axis=1)
    rung, clear = rows >= FULL, rows <= CLEAR
    alike = (rung | clear).mean() >= FULL
    return bool(alike and min(_runs(rung[:, None])[0], _runs(clear[:, None])[0]) >= 2)


def is_tall_grass(tile: Picture) -> bool:
    """Whether a tile, of shape (height, width, 4), shows green blades that stand side by side."""
    drawn = tile[..., 3] > DRAWN
    if not 0.15 <= drawn.mean() < FULL:
        return False
    red, green, blue = _colours(tile, drawn)
    coloured = green - np.minimum(red, blue) > COLOURED * green
    if ((green > red) & (green > blue) & coloured).mean() < GREEN:
        return False
    rows = np.flatnonzero(drawn.any(axis=1))
    top, bottom = int(rows[0]), int(rows[-1]) + 1
    part = (bottom - top) // 4 + 1
    upper = drawn[top : (top + bottom + 1) // 2]
    upright = _runs(drawn)[drawn.any(axis=0)].mean() <= UPRIGHT
    rooted = drawn[bottom - part : bottom].mean() >= ROOTED * drawn[top : top + part].mean()
    return bool(upright and rooted and _runs(upper.T).mean() >= BLADES)


def _runs(mask: Mask) -> Whole:
    """How many runs each column of a mask has."""
    begins = mask & ~np.pad(mask, ((1, 0), (0, 0)))[:-1]
    runs: Whole = begins.sum(axis=0)
    return runs


def _colours(tile: Picture, drawn: Mask) -> tuple[Floats, Floats, Floats]:
    """Red, green and blue of what is drawn, each of shape (pixels,)."""
    colours = tile[drawn][:, :3].astype(np.float32)
    return colours[:, 0], colours[:, 1], colours[:, 2]
