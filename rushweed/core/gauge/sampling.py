"""Drawing a picture larger or smaller the way graphics hardware samples it."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.rules import Filter


def scaled(picture: Picture, width: int, height: int, filter: Filter) -> Picture:  # noqa: A002
    """The picture drawn over width × height pixels of the screen.

    Texture coordinates are those of pixel centres; linear sampling weighs the four nearest
    texels of the premultiplied picture and clamps at the edges (Vulkan specification,
    "Texel Filtering"). Returns straight alpha.
    """
    if not picture.size or width < 1 or height < 1:
        return np.zeros((max(height, 0), max(width, 0), 4), np.uint8)
    rows = (np.arange(height) + 0.5) * picture.shape[0] / height
    columns = (np.arange(width) + 0.5) * picture.shape[1] / width
    if filter == "nearest":
        picked: Picture = picture[rows.astype(np.intp)[:, None], columns.astype(np.intp)]
        return picked
    return _straight(_linear(_linear(_premultiplied(picture), rows, 0), columns, 1))


def _linear(values: npt.NDArray[np.float32], places: npt.NDArray[np.float64], axis: int):  # type: ignore[no-untyped-def]
    last = values.shape[axis] - 1
    before = np.floor(places - 0.5).astype(np.intp)
    part = (places - 0.5 - before).astype(np.float32)
    shape = [1, 1, 1]
    shape[axis] = len(places)
    part = part.reshape(shape)
    low = values.take(np.clip(before, 0, last), axis)
    high = values.take(np.clip(before + 1, 0, last), axis)
    return low * (1 - part) + high * part


def _premultiplied(picture: Picture) -> npt.NDArray[np.float32]:
    values = picture.astype(np.float32)
    values[..., :3] *= values[..., 3:] / 255
    return values


def _straight(values: npt.NDArray[np.float32]) -> Picture:
    alpha = values[..., 3:]
    colour = np.divide(
        values[..., :3] * 255, alpha, out=np.zeros_like(values[..., :3]), where=alpha > 0
    )
    exact = np.concatenate([colour, alpha], axis=2)
    result: Picture = np.rint(np.clip(exact, 0, 255)).astype(np.uint8)
    return result
