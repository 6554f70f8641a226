"""How large the lens shows what is selected, so that it fits beside the one-unit post."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

USUAL_UNIT = 48
"""Screen pixels for one unit, where that suits what is shown."""
TALLEST, WIDEST, LOWEST_GROUND, BELOW = 100, 236, 112, 24
SMALLEST = 24
"""Something that would stand lower than this is shown larger."""
LONGEST_POST = 264
"""The post may reach past the upper edge for something very small, but not without end."""


class Extent(NamedTuple):
    """How far a figure reaches above the ground, below it and across, in its own pixels, and how
    many of them make a unit."""

    above: float
    below: float
    across: float
    pixels_per_unit: int


class LensScale(NamedTuple):
    """Screen pixels for one unit, and how far below the upper edge the ground lies."""

    unit: float
    ground: int


def lens_scale(
    figures: Sequence[Extent], wider: int = 0, taller: int = 0, ratio: float = 1.0
) -> LensScale:
    """The scale at which figures side by side fit: the usual one if that does, each pixel of the
    first figure a whole number of the screen's own pixels, or a whole number of its pixels on each.
    The lens may be so many pixels `wider` and `taller` than it usually is."""
    lowest, usual = LOWEST_GROUND + taller, USUAL_UNIT * (TALLEST + taller) / TALLEST
    if not figures:
        return LensScale(usual, lowest)
    per_unit = figures[0].pixels_per_unit
    across = sum(one.across / one.pixels_per_unit for one in figures)
    high = max((one.above + one.below) / one.pixels_per_unit for one in figures)
    most = min((TALLEST + taller) / max(high, 1e-6), (WIDEST + wider) / max(across, 1e-6))
    unit = _whole(usual / per_unit, ratio, nearest=True) * per_unit
    if unit > most or high * unit < SMALLEST:
        unit = _whole(min(most, LONGEST_POST + 2 * taller) / per_unit, ratio) * per_unit
    below = max(one.below / one.pixels_per_unit for one in figures) * unit
    return LensScale(unit, round(min(lowest, lowest + BELOW - below)))


def _whole(scale: float, ratio: float, nearest: bool = False) -> float:
    """A scale that is not larger and on the screen a whole factor, or one part of a whole number;
    with `nearest`, the one it is nearest to."""
    own = scale * ratio
    if own >= 1:
        return max(1, round(own) if nearest else math.floor(own)) / ratio
    return 1 / max(1, round(1 / own) if nearest else math.ceil(1 / own)) / ratio
