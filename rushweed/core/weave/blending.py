"""Mixing colours, in whole numbers below 65536, so that all who draw a level get the same bits."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Words
from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Colour

FEW = 0.2
"""Up to this part of a picture's pixels are picked out to be mixed; of more, all are."""


def tinted(picture: Picture, tint: Colour) -> Picture:
    """A picture with its colours multiplied: (colour × tint + 127) // 255."""
    result = picture.copy()
    shades = np.array(tint[:3], np.uint16)
    result[..., :3] = (picture[..., :3].astype(np.uint16) * shades + 127) // 255
    return result


def byte_of(share: float) -> int:
    """An opacity from 0 to 255."""
    return math.floor(share * 255 + 0.5)


def blend(canvas: Picture, tile: Picture, x: int, y: int, *opacities: int) -> None:
    """Draw a picture with straight alpha onto an opaque canvas, its upper left corner at x, y, its
    alpha lessened by one opacity from 0 to 255 after the other."""
    left, top = max(x, 0), max(y, 0)
    right = min(x + tile.shape[1], canvas.shape[1])
    bottom = min(y + tile.shape[0], canvas.shape[0])
    if right <= left or bottom <= top:
        return
    part = tile[top - y : bottom - y, left - x : right - x]
    target = canvas[top:bottom, left:right]
    alpha = part[..., 3].astype(np.uint16)
    for opacity in opacities:
        if opacity != 255:
            alpha = (alpha * opacity + 127) // 255
    full = alpha == 255
    np.copyto(_whole(target), _whole(part), where=full)
    mixed = (alpha > 0) & ~full
    if np.count_nonzero(mixed) > FEW * mixed.size:
        target[..., :3] = _mix(part, target, alpha)
    else:
        target[mixed, :3] = _mix(part[mixed], target[mixed], alpha[mixed])


def _mix(above: Picture, below: Picture, alpha: npt.NDArray[np.uint16]) -> Picture:
    part = alpha[..., None]
    mixed = above[..., :3] * part + below[..., :3] * (255 - part)
    return ((mixed + 127) // 255).astype(np.uint8, copy=False)


def _whole(pixels: Picture) -> Words:
    """Pixels of shape (height, width), each as one number."""
    whole: Words = pixels.view(np.uint32)[..., 0]
    return whole
