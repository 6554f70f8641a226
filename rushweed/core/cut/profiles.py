"""What is measured along one side of a picture: where it changes, what runs on, what repeats."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.cut.loose import Mask
from rushweed.core.gather.pictures import Picture

Profile = npt.NDArray[np.float64]

MOST_ROWS = 256
"""Rows of a larger picture are sampled evenly, for a share of them tells as much."""
BANDS = 48
"""For repetition rows are added up into about this many bands."""
CHANGED = 24
"""Brightness must change by more than this, of 255, to count as an edge."""


@dataclass(frozen=True, slots=True)
class Profiles:
    """Measures along one side of a picture, as plain lists: candidates are many and short.

    `stands_out` and `crossed` hold a value for the boundary between each pixel and the next: how
    much the picture changes there, and the share of rows in which content runs across; `usual`
    and `spread` are mean and deviation of the former. For each column, `flat` says whether it is
    of one colour from end to end, `filled` which share of it is something. For each distance,
    `repeats` is how much more the picture is like itself moved by it than by any lesser one.
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
    repeats: list[float]


def measure(picture: Picture, mask: Mask) -> tuple[Profiles, Profiles]:
    """The profiles across and down, of a picture of shape (height, width, 4)."""
    words = np.ascontiguousarray(picture).view(np.uint32)[..., 0]
    opaque = bool(mask.mean() > 0.97)
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
    step = -(-picture.shape[0] // MOST_ROWS)
    shown = mask[::step]
    rows = _brightness(picture[::step], shown)
    length = picture.shape[1]
    change = np.abs(rows[:, 1:] - rows[:, :-1])
    share = 1 / len(rows)
    changed = (change > CHANGED).sum(axis=0) * share + change.sum(axis=0) * (share / 512)
    crossed = (shown[:, 1:] & shown[:, :-1]).sum(axis=0) * share
    inside = np.flatnonzero(mask.any(axis=0))
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
        ((words == words[0]).all(axis=0) | ~mask.any(axis=0)).tolist(),
        (shown.sum(axis=0) * share).tolist(),
        _repeats(rows).tolist(),
    )


def _repeats(rows: npt.NDArray[np.int16]) -> Profile:
    """Autocorrelation along the rows for every distance at once (Wiener–Khinchin theorem),
    normalised, above its least value up to there."""
    count, length = rows.shape
    band = max(1, count // BANDS)
    bands = rows[: count // band * band].reshape(-1, band, length).sum(axis=1, dtype=np.float32)
    values = bands - bands.mean()
    size = 1 << (2 * length - 1).bit_length()
    spectrum = np.fft.rfft(values, size, axis=1)
    power = (spectrum.real**2 + spectrum.imag**2).sum(axis=0)
    shared = np.fft.irfft(power, size)[:length]
    energy = np.concatenate([[0.0], (values**2).sum(axis=0).cumsum()])
    before, after = energy[length:0:-1], energy[-1] - energy[:length]
    alike = shared / np.sqrt(np.maximum(before * after, 1e-9))
    repeats: Profile = alike - np.minimum.accumulate(alike)
    return repeats
