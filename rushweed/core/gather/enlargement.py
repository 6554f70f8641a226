"""Noticing art that was enlarged in a way that spoils it: unevenly, or smoothed."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.true_pixel import true_pixel
from rushweed.core.project.sheet import Sheet

FEWEST = 16
"""With fewer places where neighbours differ, nothing can be told."""
LARGEST_FACTOR = 8.0
LEAST_FACTOR = 1.25
SURE = 18.0
"""Odds against chance, as a natural logarithm, for lines that all meet the steps of a factor."""
FEW_TIES = 0.25
"""Where fewer steps than this end in the middle of a pixel, those may be rounded either way."""
ASKED = 32
"""So many lines are asked first, for most factors fail at those."""
USED = 0.6
"""At least this part of the lines between supposed pixels must be met."""
PART = 96
"""So many pixels a side are looked at for smoothing, where most happens."""
SMOOTH = 1.6
"""A smoothed enlargement is explained this well by a smaller picture, on average, of 255."""
BESIDE = 2.0
"""One that lies a pixel beside it explains it so much worse; else the art is soft by itself."""
ROUGH = 14.0
"""That smaller picture has neighbours that differ at least so much, on average."""
SMALLEST, FEWEST_COLOURS = 24, 100
FACTORS = (4, 3, 2)

Lines = npt.NDArray[np.intp]
Weights = npt.NDArray[np.float64]


def warning_of(art: Art, sheet: Sheet) -> str:
    """The warning about a sheet's stored picture; kept as long as the picture is the same."""
    contents = tuple(source.content for source in sheet.sources)
    key = ("enlargement", contents)
    return art.memory.get(key, lambda: enlargement_warning(art.stored(sheet)))


def enlargement_warning(picture: Picture) -> str:
    """One sentence about how a picture, of shape (height, width, 4), was enlarged badly; empty
    when nothing like it is seen."""
    if true_pixel(picture) > 1:
        return ""
    uneven = uneven_factor(picture)
    if uneven:
        return f"enlarged unevenly, about {uneven:.2g} times: its pixels differ in width"
    smoothed = smoothed_factor(picture)
    return f"enlarged {smoothed} times and smoothed: its pixels are blurred" if smoothed else ""


def uneven_factor(picture: Picture) -> float:
    """The factor by which nearest-neighbour enlarging made a picture when it is not whole, so that
    some pixels are wider than others; 0 if there is none."""
    words = np.ascontiguousarray(picture).view(np.uint32)[..., 0]
    across = np.flatnonzero((words[:, 1:] != words[:, :-1]).any(axis=0)) + 1
    down = np.flatnonzero((words[1:] != words[:-1]).any(axis=1)) + 1
    sides = ((across, words.shape[1]), (down, words.shape[0]))
    factor = max(_factor(lines, side) for lines, side in sides)
    return 0.0 if abs(factor - round(factor)) < 0.02 else factor


def _factor(lines: Lines, side: int) -> float:
    """The largest factor whose rounded steps meet every line along one side."""
    if len(lines) < FEWEST:
        return 0.0
    first = max(side / LARGEST_FACTOR, side / (int(np.diff(lines).min()) + 1))
    last = min(int(side / LEAST_FACTOR), int(len(lines) / USED))
    for count in _likely(lines, side, np.arange(max(2, int(first)), last + 1)):
        if len(lines) * np.log(side / count) < SURE:
            return 0.0
        steps = np.arange(1, count) * side / count
        ties = np.abs(steps - np.floor(steps) - 0.5) < 1e-6
        either = steps[ties] if ties.mean() < FEW_TIES else steps[:0]
        half_up, half_down = np.floor(steps + 0.5), np.ceil(steps - 0.5)
        for rounded in (half_up, half_down, np.floor(steps), np.ceil(steps)):
            met = np.zeros(side + 1, bool)
            met[np.concatenate([rounded, np.floor(either)]).astype(np.intp)] = True
            if met[lines].all():
                return side / count
    return 0.0


def _likely(lines: Lines, side: int, counts: Lines) -> list[int]:
    """Of so many supposed pixels along a side, those whose steps come near the first lines."""
    some = lines[:ASKED]
    steps = side / counts[:, None]
    share = some / steps
    above = (np.ceil(share) * steps - some < 1 + 1e-6).all(axis=1)
    below = (some - np.floor(share) * steps < 1 + 1e-6).all(axis=1)
    beside = (np.abs(np.rint(share) * steps - some) < 0.5 + 1e-6).all(axis=1)
    likely: list[int] = counts[above | below | beside].tolist()
    return likely


def smoothed_factor(picture: Picture) -> int:
    """The whole factor by which a picture seems to have been enlarged with linear filtering; 0 if
    none.

    A smaller picture is sought, by least squares, whose linear enlargement is this one. Art that
    was drawn at its size is not explained so well by a quarter of its pixels.
    """
    part = _busiest(picture)
    if part is None:
        return 0
    for factor in FACTORS:
        missed, rough = _explained(part, factor)
        if missed > SMOOTH or rough < ROUGH:
            continue
        beside, _ = _explained(part[1:, 1:], factor)
        if beside > BESIDE * missed + 0.2:
            return factor
    return 0


def _explained(part: Weights, factor: int) -> tuple[float, float]:
    """By how much the linear enlargement of the best smaller picture misses this one, and how
    rough that smaller picture is; both are means, of 255."""
    height, width = (side // factor * factor for side in part.shape[:2])
    whole = part[:height, :width].transpose(2, 0, 1)
    rows, back_rows = _linear(height // factor, factor)
    columns, back_columns = _linear(width // factor, factor)
    small = back_rows @ whole @ back_columns.T
    missed = np.abs(rows @ small @ columns.T - whole)[:, factor:-factor, factor:-factor]
    rough = np.abs(np.diff(small, axis=1)).mean() + np.abs(np.diff(small, axis=2)).mean()
    return float(missed.mean()), float(rough)


def _busiest(picture: Picture) -> Weights | None:
    """The square of a picture where most changes, colours multiplied with alpha; None when it is
    too small, or holds too few colours to have been smoothed."""
    height, width = picture.shape[:2]
    side = min(PART, height, width)
    if side < SMALLEST:
        return None
    corners = [
        (y, x) for y in range(0, height - side + 1, side) for x in range(0, width - side + 1, side)
    ]
    y, x = max(corners, key=lambda corner: _change(picture, corner[0], corner[1], side))
    part = picture[y : y + side, x : x + side]
    if len(np.unique(np.ascontiguousarray(part).view(np.uint32))) < FEWEST_COLOURS:
        return None
    colours = part.astype(np.float64)
    colours[..., :3] *= colours[..., 3:] / 255
    return colours


def _change(picture: Picture, y: int, x: int, side: int) -> int:
    """How many neighbours differ in a square, by a sample of its rows."""
    green = picture[y : y + side : 4, x : x + side, 1]
    return int(np.count_nonzero(green[:, 1:] != green[:, :-1]))


@lru_cache(maxsize=32)
def _linear(count: int, factor: int) -> tuple[Weights, Weights]:
    """How linear filtering makes `count` × `factor` values of `count`, pixel centres in the middle
    of pixels as graphics hardware has them, of shape (count × factor, count); and its inverse."""
    places = (np.arange(count * factor) + 0.5) / factor - 0.5
    low = np.floor(places).astype(int)
    share = places - low
    weights: Weights = np.zeros((count * factor, count))
    index = np.arange(count * factor)
    np.add.at(weights, (index, low.clip(0, count - 1)), 1 - share)
    np.add.at(weights, (index, (low + 1).clip(0, count - 1)), share)
    return weights, np.asarray(np.linalg.pinv(weights), np.float64)
