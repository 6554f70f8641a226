"""What is measured along one side of a picture: where it changes, what runs on, what repeats."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.cut.loose import Mask
from rushweed.core.gather.pictures import Picture

Profile = npt.NDArray[np.float64]

MOST_ROWS = 64
"""Rows of a larger picture are sampled evenly, for a share of them tells as much."""
BEYOND = 32
"""Repetition is looked for at distances up to half the side and so much more."""
BANDS = 32
"""For repetition rows are added up into about this many bands."""
CHANGED = 24
"""Brightness must change by more than this, of 255, to count as an edge."""


@dataclass(frozen=True, slots=True)
class Profiles:
    """Measures along one side of a picture, as plain lists: candidates are many and short.

    `stands_out` and `crossed` hold a value for the boundary between each pixel and the next: how
    much the picture changes there, and the share of rows in which content runs across; `usual`
    and `spread` are mean and deviation of the former. For each column, `flat` says whether it is
    of one colour from end to end, `filled` which share of it is something, `first` which is the
    nearest column from it on with something in it (else the length), `last` the nearest up to it
    (else −1). For each distance, `repeats` is how much more the picture is like itself moved by
    it than by any lesser one.
    """

    length: int
    extent: tuple[int, int]
    opaque: bool
    stands_out: list[float]
    usual: float
    spread: float
    crossed: list[float]
    flat: list[bool]
    filled: list[float]
    first: list[int]
    last: list[int]
    repeats: list[float]


def measure(picture: Picture, mask: Mask) -> tuple[Profiles, Profiles]:
    """The profiles across and down, of a picture of shape (height, width, 4)."""
    words = np.ascontiguousarray(picture).view(np.uint32)[..., 0]
    opaque = bool(np.count_nonzero(mask) > 0.97 * mask.size)
    return (
        _along(picture, words, mask, opaque),
        _along(picture.swapaxes(0, 1), words.T, mask.T, opaque),
    )


def _brightness(picture: Picture, mask: Mask) -> npt.NDArray[np.int16]:
    """Brightness from 0 to 255, and −64 where there is nothing."""
    green = picture[..., 1].astype(np.int16)
    light = (picture[..., 0] + 2 * green + picture[..., 2]) >> 2
    light[~mask] = -64
    return light


def _along(picture: Picture, words: npt.NDArray[np.uint32], mask: Mask, opaque: bool) -> Profiles:
    step = _odd(-(-picture.shape[0] // MOST_ROWS))
    shown = mask[::step]
    rows = _brightness(np.ascontiguousarray(picture[::step]), shown)
    length = picture.shape[1]
    change = np.abs(rows[:, 1:] - rows[:, :-1])
    share = 1 / len(rows)
    changed = (change > CHANGED).sum(axis=0) * share + change.sum(axis=0) * (share / 512)
    crossed = (shown[:, 1:] & shown[:, :-1]).sum(axis=0) * share
    columns = np.logical_or.reduce(mask, axis=0)
    inside = np.flatnonzero(columns)
    extent = (int(inside[0]), int(inside[-1]) + 1) if len(inside) else (0, length)
    stands_out = changed if opaque else changed * 0.25 - crossed
    return Profiles(
        length,
        extent,
        opaque,
        stands_out.tolist(),
        float(stands_out.mean()) if length > 1 else 0.0,
        float(stands_out.std()) or 1.0 if length > 1 else 1.0,
        crossed.tolist(),
        ((words == words[0]).all(axis=0) | ~columns).tolist(),
        (shown.sum(axis=0) * share).tolist(),
        *_nearest(columns),
        _repeats(rows).tolist(),
    )


def _odd(step: int) -> int:
    """The step or one more: an even one would meet the same few rows of every tile."""
    return step | 1


def _nearest(filled: npt.NDArray[np.bool_]) -> tuple[list[int], list[int]]:
    """For each column the nearest filled one from it on, and up to it."""
    places = np.arange(len(filled))
    last = np.maximum.accumulate(np.where(filled, places, -1))
    first = np.minimum.accumulate(np.where(filled, places, len(filled))[::-1])[::-1]
    return first.tolist(), last.tolist()


def _repeats(rows: npt.NDArray[np.int16]) -> Profile:
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
    repeats = np.zeros(length)
    repeats[:farthest] = alike - np.minimum.accumulate(alike)
    return repeats


def _fast_length(least: int) -> int:
    """A length of at least that which is quick to transform: a power of two, a few times."""
    return min(
        part << max(0, (-(-least // part) - 1).bit_length()) for part in (8, 9, 10, 12, 15, 25, 27)
    )
