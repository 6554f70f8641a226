"""What is measured along one side of a picture: where it changes, what runs on, what repeats."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Floats, Mask, Whole
from rushweed.core.gather.pictures import Picture

MOST_ROWS = 144
"""Rows of a larger picture are sampled evenly, for a share of them tells as much."""
BANDS = 32
"""For repetition rows are added up into about this many bands."""
BEYOND = 32
"""Repetition is looked for at distances up to half the side and so much more."""
CHANGED, ALIKE = 24, 10
"""Brightness changes when it differs by more than the first, of 255; up to the second it is the
same."""


@dataclass(frozen=True, slots=True)
class Profiles:
    """Measures along one side of a picture of that length, one value a column.

    For the boundary between each column and the next: `stands_out`, how much the picture changes
    there, and its mean `usual` and deviation `spread`; `crossed`, the share of rows in which
    content runs across; `runs_on`, the share in which it does so without changing. For each
    column: `filled`, the share that is something; `empty`, whether nothing is; `even`, the share
    of it that is like the pixel below; `light`, its mean brightness from 0 to 1; `first` and
    `last`, the nearest column from it on, and up to it, with something in it; `run`, the number
    of the stretch of empty columns it lies in, 0 for none or one at the rim. For each distance,
    `repeats` is how much more the picture is like itself moved by it than by any lesser one.
    `changes` is how much brightness changes between neighbours, of shape (rows, length − 1), in
    every so manieth row.
    """

    length: int
    extent: tuple[int, int]
    opaque: bool
    stands_out: Floats
    usual: float
    spread: float
    crossed: Floats
    runs_on: Floats
    filled: Floats
    empty: Mask
    even: Floats
    light: Floats
    first: Whole
    last: Whole
    run: Whole
    runs: int
    repeats: Floats
    changes: npt.NDArray[np.int16]
    every: int


def measure(picture: Picture, mask: Mask) -> tuple[Profiles, Profiles]:
    """The profiles across and down, of a picture of shape (height, width, 4)."""
    opaque = bool(np.count_nonzero(mask) > 0.97 * mask.size)
    return (
        _along(picture, mask, opaque),
        _along(picture.swapaxes(0, 1), mask.T, opaque),
    )


def brightness(picture: Picture, mask: Mask) -> npt.NDArray[np.int16]:
    """Brightness from 0 to 255, and −64 where there is nothing."""
    light = picture[..., 1].astype(np.int16)
    light *= 2
    light += picture[..., 0]
    light += picture[..., 2]
    light >>= 2
    np.copyto(light, np.int16(-64), where=~mask)
    return light


def _along(picture: Picture, mask: Mask, opaque: bool) -> Profiles:
    step = -(-picture.shape[0] // MOST_ROWS) | 1
    shown = np.ascontiguousarray(mask[::step])
    rows = np.ascontiguousarray(brightness(picture[::step], mask[::step]))
    length, share = picture.shape[1], np.float32(1 / len(rows))
    change = np.abs(rows[:, 1:] - rows[:, :-1])
    both = shown[:, 1:] & shown[:, :-1]
    changed = (change > CHANGED).sum(axis=0) * share + change.sum(axis=0) * (share / 512)
    crossed = both.sum(axis=0) * share
    runs_on = (both & (change <= ALIKE)).sum(axis=0) * share
    below = np.abs(rows[1:] - rows[:-1]) <= ALIKE if len(rows) > 1 else np.ones((1, length), bool)
    columns = np.logical_or.reduce(mask, axis=0)
    inside = np.flatnonzero(columns)
    extent = (int(inside[0]), int(inside[-1]) + 1) if len(inside) else (0, length)
    stands_out = changed if opaque else changed * 0.25 - crossed
    run, runs = _runs(~columns, extent)
    return Profiles(
        length,
        extent,
        opaque,
        stands_out.astype(np.float32),
        float(stands_out.mean()) if length > 1 else 0.0,
        float(stands_out.std()) or 1.0 if length > 1 else 1.0,
        crossed.astype(np.float32),
        runs_on.astype(np.float32),
        (shown.sum(axis=0) * share).astype(np.float32),
        ~columns,
        below.mean(axis=0).astype(np.float32),
        (rows.mean(axis=0) / 255).astype(np.float32),
        *_nearest(columns),
        run,
        runs,
        _repeats(rows),
        change,
        step,
    )


def _nearest(filled: Mask) -> tuple[Whole, Whole]:
    """For each column the nearest filled one from it on, and up to it."""
    places = np.arange(len(filled))
    last = np.maximum.accumulate(np.where(filled, places, -1))
    first = np.minimum.accumulate(np.where(filled, places, len(filled))[::-1])[::-1]
    return first, last


def _runs(empty: Mask, extent: tuple[int, int]) -> tuple[Whole, int]:
    """Numbers for the stretches of empty columns between what is drawn."""
    inner = empty.copy()
    inner[: extent[0]] = inner[extent[1] :] = False
    begins = inner & ~np.concatenate([[False], inner[:-1]])
    return np.where(inner, np.cumsum(begins), 0), int(begins.sum())


def _repeats(rows: npt.NDArray[np.int16]) -> Floats:
    """Autocorrelation along the rows for every distance up to half of them at once
    (Wiener–Khinchin theorem), normalised, above its least value up to there."""
    count, length = rows.shape
    band = -(-count // BANDS)
    bands = rows[: count // band * band].reshape(-1, band, length).sum(axis=1, dtype=np.float32)
    values = bands - bands.mean()
    farthest = min(length, length // 2 + BEYOND)
    size = _fast_length(length + farthest)
    spectrum = np.fft.rfft(values, size, axis=1)
    power = (spectrum.real**2 + spectrum.imag**2).sum(axis=0)
    shared = np.fft.irfft(power, size)[:farthest]
    energy = np.concatenate([[0.0], (values**2).sum(axis=0).cumsum()])
    before, after = energy[length : length - farthest : -1], energy[-1] - energy[:farthest]
    alike = shared / np.sqrt(np.maximum(before * after, 1e-9))
    repeats = np.zeros(length + 1, np.float32)
    repeats[:farthest] = alike - np.minimum.accumulate(alike)
    return repeats


def _fast_length(least: int) -> int:
    """A length of at least that which is quick to transform: a power of two, a few times."""
    return min(
        part << max(0, (-(-least // part) - 1).bit_length()) for part in (8, 9, 10, 12, 15, 25, 27)
    )
