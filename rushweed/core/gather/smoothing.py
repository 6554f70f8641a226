"""Art that was enlarged and smoothed: by how much, and the pixels it was drawn with."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Indices, Reals
from rushweed.core.gather.banded import banded
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Kernel

PART = 96
"""So many pixels a side are looked at, where most happens."""
SMOOTH = 1.6
"""A smoothed enlargement is explained this well by a smaller picture, on average, of 255."""
BESIDE = 2.0
"""One that lies a pixel beside it explains it so much worse; else the art is soft by itself."""
ROUGH = 14.0
"""That smaller picture has neighbours that differ at least so much, on average."""
SMALLEST, FEWEST_COLOURS = 24, 40
WHOLE = (2, 3, 4, 5, 6)
LEAST, LARGEST = 1.4, 6.0
"""Factors that are looked for."""
PEAKS = 3
"""So many of the strongest periods are tried."""

KERNELS: tuple[Kernel, ...] = ("linear", "cubic")
ROUNDS = {"linear": 1, "cubic": 12}
"""Cubic kernels overshoot, and what goes past the darkest and lightest is cut off: what was cut is
guessed anew so many times."""
SHARPNESS = -0.5
"""Of the cubic kernel: Keys, "Cubic convolution interpolation", IEEE ASSP 29 (1981)."""
RIDGE = 1e-6
"""What no value that is seen is made of is nothing."""


class Smoothed(NamedTuple):
    """A picture that was enlarged from so many pixels, by that kernel."""

    width: int
    height: int
    kernel: Kernel
    factor: float


def how_smoothed(picture: Picture) -> Smoothed | None:
    """From how many pixels a picture, of shape (height, width, 4), was enlarged and smoothed; None
    where it seems to be drawn at its size.

    Interpolated pixels bend at the steps of the factor alone, so that the second difference comes
    and goes with its period: Gallagher, "Detection of linear and cubic interpolation in JPEG
    compressed images", CRV (2005). Of the likely factors that one is taken whose smaller picture,
    found by least squares, explains this one, while the same a pixel beside does not.
    """
    corner = busiest(picture)
    if corner is None:
        return None
    height, width = picture.shape[:2]
    side = min(PART, height, width)
    y, x = corner
    part = multiplied(picture[y : y + side, x : x + side])
    for columns in _likely(picture):
        factor = width / columns
        rows = max(1, round(height / factor))
        for kernel in KERNELS:
            down, across = (rows, height), (columns, width)
            if missed_along(part, kernel, (x, *across)) > SMOOTH:
                continue
            missed, rough = explained(part, kernel, (y, *down), (x, *across))
            if missed > SMOOTH or rough < ROUGH:
                continue
            beside, _ = explained(part[1:, 1:], kernel, (y, *down), (x, *across))
            if beside > BESIDE * missed + 0.2:
                return Smoothed(columns, rows, kernel, factor)
    return None


def drawn_again(picture: Picture, width: int, height: int, kernel: Kernel) -> Picture:
    """The picture of that many pixels whose enlargement by the kernel is nearest to this one, by
    least squares."""
    whole = multiplied(picture)
    rows, columns = picture.shape[:2]
    for axis, (count, side) in enumerate(((height, rows), (width, columns))):
        values = np.moveaxis(whole, axis, 0)
        found = solved(kernel, count, *weights_of(kernel, count, side, np.arange(side)), values)
        whole = np.moveaxis(found, 0, axis)
    return from_multiplied(whole)


def from_multiplied(whole: Reals) -> Picture:
    """A picture whose colours are not multiplied with alpha any more."""
    alpha = whole[..., 3:].clip(0, 255)
    colours = whole[..., :3] / np.maximum(alpha, 1) * 255
    result: Picture = np.rint(np.dstack([colours, alpha]).clip(0, 255)).astype(np.uint8)
    result[result[..., 3] == 0] = 0
    return result


def solved(kernel: Kernel, count: int, taps: Indices, weights: Reals, values: Reals) -> Reals:
    """The `count` values along the first axis that come nearest to others once enlarged, each of
    which is made of some `taps` by so much."""
    from scipy.sparse import csc_matrix, identity
    from scipy.sparse.linalg import splu

    side = len(values)
    rows = np.repeat(np.arange(side), taps.shape[1])
    enlarging = csc_matrix((weights.ravel(), (rows, taps.ravel())), shape=(side, count))
    normal = splu((enlarging.T @ enlarging + RIDGE * identity(count)).tocsc())
    seen = values.reshape(side, -1)
    wanted, solved = seen, np.empty(0)
    for _ in range(ROUNDS[kernel]):
        solved = normal.solve(np.ascontiguousarray(enlarging.T @ wanted)).clip(0, 255)
        beyond = enlarging @ solved
        over, under = (seen >= 255) & (beyond > 255), (seen <= 0) & (beyond < 0)
        wanted = np.where(over | under, beyond, seen)
    return solved.reshape(count, *values.shape[1:])


def weights_of(kernel: Kernel, count: int, side: int, places: Indices) -> tuple[Indices, Reals]:
    """Which of `count` values each place of `side` is made of, and by how much; both of shape
    (places, taps). Pixel centres lie in the middle of pixels, and values end at the rim."""
    centres = (places + 0.5) * count / side - 0.5
    first = np.floor(centres).astype(np.intp)
    reach = np.arange(2) if kernel == "linear" else np.arange(-1, 3)
    apart = np.abs(centres[:, None] - (first[:, None] + reach))
    weights = 1 - apart if kernel == "linear" else _cubic(apart)
    return (first[:, None] + reach).clip(0, count - 1), weights


def _cubic(apart: Reals) -> Reals:
    a = SHARPNESS
    near = ((a + 2) * apart - (a + 3)) * apart**2 + 1
    far = ((apart - 5) * apart + 8) * apart * a - 4 * a
    return np.where(apart <= 1, near, far)


def _likely(picture: Picture) -> Iterator[int]:
    """From how many columns a picture may have been enlarged, the likeliest first."""
    height, width = picture.shape[:2]
    whole = [f for f in WHOLE if width % f == 0 and height % f == 0]
    yield from (width // factor for factor in whole)
    bends = _bends(picture)
    if len(bends) < SMALLEST:
        return
    power = np.abs(np.fft.rfft(bends - bends.mean()))
    power[: max(2, int(width / (2 * LARGEST)))] = 0
    seen = {width // factor for factor in whole}
    for place in np.argsort(power)[::-1][:PEAKS]:
        period = place / len(bends)
        for share in (period, 1 - period, period / 2):
            for columns in (round(width * share) + by for by in (0, -1, 1)):
                factor = width / max(columns, 1)
                if columns not in seen and LEAST <= factor <= LARGEST:
                    seen.add(columns)
                    yield columns


def _bends(picture: Picture) -> Reals:
    """By how much the columns of a picture but the outer ones bend, on average over its rows."""
    total = np.zeros(max(0, picture.shape[1] - 2))
    for band in banded(picture):
        bent = np.abs(np.diff(multiplied(band) @ np.ones(4), 2, axis=1))
        total += bent.sum(axis=0)
    return total / len(picture)


def explained(
    part: Reals, kernel: Kernel, down: tuple[int, int, int], across: tuple[int, int, int]
) -> tuple[float, float]:
    """By how much the enlargement of the best smaller picture misses a part of a picture, and how
    rough that smaller one is; both are means, of 255. For each axis where the part begins, how
    many values the whole was made of, and how many it has."""
    whole = part.transpose(2, 0, 1)
    rows, back_rows = _window(kernel, *down, part.shape[0])
    columns, back_columns = _window(kernel, *across, part.shape[1])
    small = back_rows @ whole @ back_columns.T
    rim = int(np.ceil(across[2] / across[1])) + 1
    missed = np.abs(rows @ small @ columns.T - whole)[:, rim:-rim, rim:-rim]
    rough = np.abs(np.diff(small, axis=1)).mean() + np.abs(np.diff(small, axis=2)).mean()
    return float(missed.mean()), float(rough)


def missed_along(part: Reals, kernel: Kernel, across: tuple[int, int, int]) -> float:
    """By how much the rows of a part are missed, whatever becomes of its columns."""
    basis = _basis(kernel, *across, part.shape[1])
    rows = part[::3].transpose(1, 0, 2).reshape(part.shape[1], -1)
    return float(np.abs(rows - basis @ (basis.T @ rows)).mean())


@lru_cache(maxsize=64)
def _basis(kernel: Kernel, begin: int, count: int, side: int, length: int) -> Reals:
    """Orthonormal columns that span every stretch of an enlargement."""
    matrix = _window_matrix(kernel, begin, count, side, length)
    basis: Reals = np.linalg.qr(matrix)[0]
    return basis


@lru_cache(maxsize=64)
def _window(kernel: Kernel, begin: int, count: int, side: int, length: int) -> tuple[Reals, Reals]:
    """How a stretch of `length` values of an enlargement comes of those near by, and its
    inverse."""
    matrix = _window_matrix(kernel, begin, count, side, length)
    return matrix, np.asarray(np.linalg.pinv(matrix, rcond=1e-3), np.float64)


def _window_matrix(kernel: Kernel, begin: int, count: int, side: int, length: int) -> Reals:
    taps, weights = weights_of(kernel, count, side, np.arange(begin, begin + length))
    low = taps.min()
    matrix = np.zeros((length, taps.max() - low + 1))
    np.add.at(matrix, (np.arange(length)[:, None], taps - low), weights)
    return matrix


def busiest(picture: Picture) -> tuple[int, int] | None:
    """The upper left corner of the square of a picture where most changes, down and across; None
    when it is too small, or holds too few colours to have been smoothed."""
    height, width = picture.shape[:2]
    side = min(PART, height, width)
    if side < SMALLEST:
        return None
    corners = [
        (y, x) for y in range(0, height - side + 1, side) for x in range(0, width - side + 1, side)
    ]
    y, x = max(corners, key=lambda corner: _change(picture, corner[0], corner[1], side))
    part = np.ascontiguousarray(picture[y : y + side, x : x + side])
    return (y, x) if len(np.unique(part.view(np.uint32))) >= FEWEST_COLOURS else None


def _change(picture: Picture, y: int, x: int, side: int) -> int:
    """How many neighbours differ in a square, by a sample of its rows."""
    green = picture[y : y + side : 4, x : x + side, 1]
    return int(np.count_nonzero(green[:, 1:] != green[:, :-1]))


def multiplied(picture: Picture) -> Reals:
    """Colours multiplied with alpha, as smoothing mixes them."""
    colours = picture.astype(np.float64)
    colours[..., :3] *= colours[..., 3:] / 255
    return colours
