"""Noticing art that was enlarged in a way that spoils it: unevenly, or smoothed."""

from __future__ import annotations

from dataclasses import replace
from math import gcd
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Indices
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.smoothed_part import smoothed_part
from rushweed.core.gather.smoothing import Smoothed, how_smoothed
from rushweed.core.gather.true_pixel import true_pixel
from rushweed.core.pixels import changes
from rushweed.core.project.sheet import Redrawn, Sheet, frames_share, size_of_part
from rushweed.core.values import Size
from rushweed.core.words import say

FEWEST = 16
"""With fewer places where neighbours differ, nothing can be told."""
LARGEST_FACTOR = 8.0
LEAST_FACTOR = 1.25
SURE = 18.0
"""Odds against chance, as a natural logarithm, for lines that all meet the steps of a factor."""
ASKED = 32
"""So many lines are asked first, for most factors fail at those."""
USED = 0.6
"""At least this part of the lines between supposed pixels must be met."""


class Enlargement(NamedTuple):
    """The end of a sentence about it, and what brings its pixels back."""

    warning: str
    redrawn: Redrawn


def enlargement_of(art: Art, sheet: Sheet) -> Enlargement | None:
    """How a sheet's picture was enlarged badly, kept as long as the picture is the same; None once
    it was brought back."""
    if sheet.redrawn is not None:
        return None
    contents = tuple(source.content for source in sheet.sources)
    key = ("enlargement", contents)
    return art.found(sheet, Enlargement | None, key, lambda: _how(art, sheet))


def _how(art: Art, sheet: Sheet) -> Enlargement | None:
    """How a sheet's picture was enlarged; of numbered frames, the first that tells."""
    if len(sheet.sources) == 1:
        return how_enlarged(art.gathered(sheet))
    for source in sheet.sources:
        found = how_enlarged(art.source(source))
        if found is not None:
            width, height = found.redrawn.size
            whole = replace(found.redrawn, size=Size(width * len(sheet.sources), height))
            if frames_share(sheet, whole):
                return found._replace(redrawn=whole)
    return None


def how_enlarged(picture: Picture) -> Enlargement | None:
    """How a picture, of shape (height, width, 4), was enlarged in a way that spoils it, and the
    pixels it was drawn with; None when nothing like it is seen."""
    if true_pixel(picture) > 1:
        return None
    part = part_enlarged(picture)
    if part is not None:
        words = say(
            "enlarged {factor} times and cut off within a pixel, as a part of a screen is",
            factor=part.factor,
        )
        return Enlargement(words, part)
    uneven = uneven_factor(picture)
    if uneven:
        height, width = picture.shape[:2]
        size = Size(max(1, round(width / uneven)), max(1, round(height / uneven)))
        words = say(
            "enlarged unevenly, about {uneven:.2g} times: its pixels differ in width", uneven=uneven
        )
        return Enlargement(words, Redrawn(size, "nearest"))
    return _how_smoothed(picture)


def _how_smoothed(picture: Picture) -> Enlargement | None:
    """How a picture was enlarged and smoothed: by a whole factor, begun and ended anywhere, or by
    another one."""
    height, width = picture.shape[:2]
    part = smoothed_part(picture)
    if part is not None:
        columns, rows = part.size
        if (columns * part.factor, rows * part.factor) != (width, height):
            words = say(
                "enlarged {factor} times, smoothed, and cut off, as a part of a screen is",
                factor=part.factor,
            )
            return Enlargement(words, part)
        found: Smoothed | None = Smoothed(columns, rows, part.kernel, part.factor)
    else:
        found = how_smoothed(picture)
    if found is None:
        return None
    words = say(
        "enlarged {factor:.3g} times and smoothed: its pixels are blurred", factor=found.factor
    )
    return Enlargement(words, Redrawn(Size(found.width, found.height), found.kernel))


def uneven_factor(picture: Picture) -> float:
    """The factor by which nearest-neighbour enlarging made a picture when it is not whole, so that
    some pixels are wider than others; 0 if there is none."""
    across, down = changes(picture)
    factor = max(_factor(across, picture.shape[1]), _factor(down, picture.shape[0]))
    return 0.0 if abs(factor - round(factor)) < 0.02 else factor


def part_enlarged(picture: Picture) -> Redrawn | None:
    """The whole factor by which nearest-neighbour enlarging made what this picture is a part of,
    when it does not begin or end with whole pixels; None if there is none."""
    lines = changes(picture)
    if min(map(len, lines)) < FEWEST:
        return None
    factor = gcd(*np.diff(lines[0]).tolist(), *np.diff(lines[1]).tolist())
    if not 1 < factor <= LARGEST_FACTOR:
        return None
    cut = Size(*(int(-along[0] % factor) for along in lines))
    whole = Size(picture.shape[1], picture.shape[0])
    return Redrawn(size_of_part(whole, factor, cut), "nearest", factor, cut)


def _factor(lines: Indices, side: int) -> float:
    """The largest factor whose rounded steps meet every line along one side."""
    if len(lines) < FEWEST:
        return 0.0
    first = max(side / LARGEST_FACTOR, side / (int(np.diff(lines).min()) + 1))
    last = min(int(side / LEAST_FACTOR), int(len(lines) / USED))
    for count in _likely(lines, side, np.arange(max(2, int(first)), last + 1)):
        if len(lines) * np.log(side / count) < SURE:
            return 0.0
        steps = np.arange(1, count) * side / count
        ties = steps[np.abs(steps - np.floor(steps) - 0.5) < 1e-6]
        for rounded in (np.rint(steps), np.floor(steps), np.ceil(steps)):
            met = np.zeros(side + 1, bool)
            met[rounded.astype(np.intp)] = True
            if rounded[0] == np.rint(steps[0]):
                met[np.floor(ties).astype(np.intp)] = met[np.ceil(ties).astype(np.intp)] = True
            if met[lines].all() and len(lines) * np.log(side / met.sum()) >= SURE:
                return side / count
    return 0.0


def _likely(lines: Indices, side: int, counts: Indices) -> list[int]:
    """Of so many supposed pixels along a side, those whose steps come near the first lines."""
    some = lines[:ASKED]
    steps = side / counts[:, None]
    share = some / steps
    above = (np.ceil(share) * steps - some < 1 + 1e-6).all(axis=1)
    below = (some - np.floor(share) * steps < 1 + 1e-6).all(axis=1)
    beside = (np.abs(np.rint(share) * steps - some) < 0.5 + 1e-6).all(axis=1)
    likely: list[int] = counts[above | below | beside].tolist()
    return likely
