"""Outlines of many tiles, exact and with few corners, and finding tiles drawn alike."""

from __future__ import annotations

import numpy as np
from measuring import Result, seconds
from scipy import ndimage

from rushweed.core.bound.fitting import fit_outlines
from rushweed.core.bound.twins import find_twins
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size

TILES, SIDE = 1024, 32
MANY, SMALL = 4096, 16
LONGEST_OUTLINES, LONGEST_TWINS = 0.6, 1.0


def measure() -> list[Result]:
    """Both at their best of three rounds."""
    return [_measure_outlines(), _measure_twins()]


def _measure_outlines() -> Result:
    dice = np.random.default_rng(2)
    clouds = dice.normal(size=(TILES, SIDE, SIDE))
    masks = {n: ndimage.gaussian_filter(cloud, 3) > -0.02 for n, cloud in enumerate(clouds)}
    took = min(seconds(lambda: fit_outlines(masks, 1.0, "nearest")) for _ in range(3))
    what = f"Outlines of {TILES} tiles of {SIDE} × {SIDE} px at 1 px"
    most = LONGEST_OUTLINES
    return Result(what, f"{took:.2f} s", f"≤ {most:g} s", took <= most)


def _measure_twins() -> Result:
    dice = np.random.default_rng(4)
    words = dice.integers(1, 6, (SMALL, MANY * SMALL)).astype(np.uint32)
    words[:, : 64 * SMALL] = words[:, 64 * SMALL : 128 * SMALL]
    pieces = tuple(
        Piece(n + 1, Rect(n * SMALL, 0, SMALL, SMALL), Point(8, 16)) for n in range(MANY)
    )
    source = Source("art/many.png", "0", Size(MANY * SMALL, SMALL))
    sheet = Sheet("many", (source,), pieces=pieces)
    found = find_twins(words, sheet, range(1, 65))
    assert len(found) == 64
    took = min(seconds(lambda: find_twins(words, sheet, range(1, 65))) for _ in range(3))
    what = f"Twins of 64 tiles among {MANY}"
    most = LONGEST_TWINS
    return Result(what, f"{took:.2f} s", f"≤ {most:g} s", took <= most)
