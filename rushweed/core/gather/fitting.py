"""Pictures made to fit another size: nearest pixels, or the means of what each pixel covers."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import FitWay
from rushweed.core.values import Size

BAND = 1 << 18
"""So many values are summed up at a time."""


def fitted(picture: Picture, size: Size, way: FitWay) -> Picture:
    """A picture of shape (height, width, 4), straight alpha, at another size."""
    height, width = picture.shape[:2]
    if way == "nearest":
        rows, columns = nearest_of(height, size.height), nearest_of(width, size.width)
        result: Picture = picture[rows[:, None], columns]
        return result
    values = picture.astype(np.float64)
    values[..., :3] *= values[..., 3:] / 255
    values = _means(values, size.height)
    values = _means(values.swapaxes(0, 1), size.width).swapaxes(0, 1)
    alpha = values[..., 3:]
    values[..., :3] = np.divide(
        values[..., :3] * 255, alpha, out=np.zeros_like(values[..., :3]), where=alpha > 0
    )
    return np.floor(values + 0.5).clip(0, 255).astype(np.uint8)


def nearest_of(side: int, wanted: int) -> npt.NDArray[np.intp]:
    """Which pixel of a side each one of another length shows."""
    shown: npt.NDArray[np.intp] = (2 * np.arange(wanted) + 1) * side // (2 * wanted)
    return shown


def uneven_of(side: int, wanted: int) -> int:
    """How many pixels of a side are shown more or less often than most of them."""
    often = np.bincount(nearest_of(side, wanted), minlength=side)
    return int((often != np.bincount(often).argmax()).sum())


def _means(values: npt.NDArray[np.float64], wanted: int) -> npt.NDArray[np.float64]:
    """The means of equal parts of the first axis, pixels cut through counting as far as they lie
    in a part."""
    side = len(values)
    flat = values.reshape(side, -1)
    ends = np.arange(wanted + 1) * (side / wanted)
    whole = np.minimum(ends.astype(np.intp), side - 1)
    rest = (ends - whole)[:, None]
    result = np.empty((wanted, flat.shape[1]))
    step = max(1, BAND // side)
    for first in range(0, flat.shape[1], step):
        band = flat[:, first : first + step]
        sums = np.concatenate([np.zeros((1, band.shape[1])), np.cumsum(band, axis=0)])
        at = sums[whole] + band[whole] * rest
        result[:, first : first + step] = np.diff(at, axis=0) * (wanted / side)
    return result.reshape(wanted, *values.shape[1:])
