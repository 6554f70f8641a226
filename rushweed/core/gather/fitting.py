"""Pictures made to fit another size: nearest pixels, or the means of what each pixel covers."""

from __future__ import annotations

from typing import Any

import numpy as np

from rushweed.core.arrays import Floats, Indices
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import FitWay
from rushweed.core.values import Size

BAND = 256
"""So many columns of the result are made at a time."""


def fitted(picture: Picture, size: Size, way: FitWay) -> Picture:
    """A picture of shape (height, width, 4), straight alpha, at another size."""
    height, width = picture.shape[:2]
    if way == "nearest":
        rows, columns = nearest_of(height, size.height), nearest_of(width, size.width)
        near: Picture = picture[rows[:, None], columns]
        return near
    result = np.empty((size.height, size.width, 4), np.uint8)
    rows, columns = _shares(height, size.height), _shares(width, size.width)
    for first in range(0, size.width, BAND):
        last = min(first + BAND, size.width)
        left, right = first * width // size.width, -(-last * width // size.width)
        part = multiplied(picture[:, left:right])
        means = (rows @ part.reshape(height, -1)).reshape(size.height, -1, 4)
        across = means.swapaxes(0, 1).reshape(right - left, -1)
        means = (columns[first:last, left:right] @ across).reshape(-1, size.height, 4)
        result[:, first:last] = _straight(means.swapaxes(0, 1))
    return result


def nearest_of(side: int, wanted: int) -> Indices:
    """Which pixel of a side each one of another length shows."""
    shown: Indices = (2 * np.arange(wanted) + 1) * side // (2 * wanted)
    return shown


def uneven_of(side: int, wanted: int) -> int:
    """How many pixels of a side are shown more or less often than most of them."""
    often = np.bincount(nearest_of(side, wanted), minlength=side)
    return int((often != np.bincount(often).argmax()).sum())


def _shares(side: int, wanted: int) -> Any:
    """Which share each pixel of a side has in each of so many equal parts of it, as a sparse matrix
    of shape (wanted, side), pixels cut through counting as far as they lie in a part."""
    from scipy.sparse import csr_array

    ends = np.union1d(np.arange(wanted + 1) * side, np.arange(side + 1) * wanted)
    shares = (np.diff(ends) / side).astype(np.float32)
    return csr_array((shares, (ends[:-1] // side, ends[:-1] // wanted)), shape=(wanted, side))


def multiplied(picture: Picture) -> Floats:
    """A picture of straight alpha with alpha multiplied into its colours."""
    values = picture.astype(np.float32)
    values[..., :3] *= values[..., 3:] / 255
    return values


def _straight(values: Floats) -> Picture:
    alpha, colours = values[..., 3:], np.zeros_like(values[..., :3])
    np.divide(values[..., :3] * 255, alpha, out=colours, where=alpha > 0)
    rounded = np.floor(np.concatenate([colours, alpha], axis=-1) + 0.5)
    straight: Picture = rounded.clip(0, 255).astype(np.uint8)
    return straight
