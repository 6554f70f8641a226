"""Sets of hem tiles with known marks: an area of some grain, and a rim of any width around it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

import numpy as np
import numpy.typing as npt

LEFT, RIGHT, TOP, BOTTOM = 8, 32, 2, 128
CORNERS = {1: (LEFT, TOP), 4: (RIGHT, TOP), 64: (LEFT, BOTTOM), 256: (RIGHT, BOTTOM)}
MIDDLE = 16
Pixels = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class HemSet:
    """How a set is drawn. `rim` is in pixels; without `clear` the rim is of another colour."""

    count: int
    width: int
    height: int
    rim: int
    clear: bool
    rough: int = 0
    """By how many pixels the rim's edge goes in and out."""


def marks_of(count: int) -> list[int]:
    """The parts of the tiles of a set of so many."""
    every = [
        MIDDLE | sum(side for side, on in zip((LEFT, RIGHT, TOP, BOTTOM), sides, strict=True) if on)
        for sides in product((False, True), repeat=4)
    ]
    with_corners = [
        parts | sum(corner for corner, on in zip(open_ones, chosen, strict=True) if on)
        for parts in every
        for open_ones in [[c for c, (a, b) in CORNERS.items() if parts & a and parts & b]]
        for chosen in product((False, True), repeat=len(open_ones))
    ]
    full = 511
    sides_alone = [max(p for p in with_corners if p & ~sum(CORNERS) == one) for one in every]
    nine = [
        p for p in sides_alone if sum(bool(p & s) for s in (LEFT, RIGHT)) and p & (TOP | BOTTOM)
    ]
    inner = [full - corner for corner in CORNERS]
    return {
        9: nine,
        13: nine + inner,
        16: sides_alone,
        47: with_corners,
        256: with_corners * 5 + with_corners[:21],
    }[count]


def draw_set(one: HemSet, seed: int = 0) -> tuple[list[Pixels], list[int]]:
    """The tiles of a set, and their marks."""
    dice = np.random.default_rng((seed, one.count, one.width, one.rim))
    area, other = _two_colours(dice)
    marks = marks_of(one.count)
    return [_tile(one, parts, area, other, dice) for parts in marks], marks


def _two_colours(dice: np.random.Generator) -> tuple[npt.NDArray[np.int_], npt.NDArray[np.int_]]:
    while True:
        area, other = dice.integers(20, 236, (2, 3))
        if np.abs(area - other).sum() > 150:
            return area, other


def _tile(
    one: HemSet,
    parts: int,
    area: npt.NDArray[np.int_],
    other: npt.NDArray[np.int_],
    dice: np.random.Generator,
) -> Pixels:
    belongs = np.ones((one.height, one.width), bool)
    rim = one.rim
    for side, place in ((LEFT, 0), (TOP, 1), (RIGHT, 2), (BOTTOM, 3)):
        if not parts & side:
            turned = {0: belongs, 1: belongs.T, 2: belongs[:, ::-1], 3: belongs[::-1].T}[place]
            for line in turned:
                line[: max(1, rim + int(dice.integers(-one.rough, one.rough + 1)))] = False
    for corner, (across, down) in CORNERS.items():
        if parts & across and parts & down and not parts & corner:
            rows = slice(0, rim) if down == TOP else slice(-rim, None)
            columns = slice(0, rim) if across == LEFT else slice(-rim, None)
            belongs[rows, columns] = False
    grain = dice.integers(-14, 15, (one.height, one.width, 1))
    speckles = dice.random((one.height, one.width, 1)) < 0.08
    picture = np.zeros((one.height, one.width, 4), np.uint8)
    colours = np.where(belongs[..., None], area - 40 * speckles, other) + grain
    picture[..., :3] = np.clip(colours, 0, 255)
    picture[..., 3] = np.where(belongs | (not one.clear), 255, 0)
    return picture
