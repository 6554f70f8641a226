"""Which widths and heights a texture may have, and making pictures fit."""

from __future__ import annotations

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.rules import Sides, Treatment
from rushweed.core.values import Size


def needed_sides(treatment: Treatment) -> Sides:
    """What the form of a treatment needs: block compression whole blocks, and with mipmaps powers
    of two, for else the smaller levels end within blocks."""
    if not treatment.compression.form.startswith("BC"):
        return "any"
    return "power of two" if treatment.mipmaps else "multiple of four"


def allowed_size(size: Size, sides: Sides) -> Size:
    """The smallest size of that kind which is not smaller.

    >>> allowed_size(Size(100, 61), "power of two")
    Size(width=128, height=64)
    """
    return Size(_allowed(size.width, sides), _allowed(size.height, sides))


def padded(picture: Picture, size: Size) -> Picture:
    """The picture with clear pixels at its right and below, up to a size."""
    height, width = picture.shape[:2]
    if (width, height) == tuple(size):
        return picture
    result = np.zeros((size.height, size.width, 4), np.uint8)
    result[:height, :width] = picture
    return result


def _allowed(side: int, sides: Sides) -> int:
    if sides == "multiple of four":
        return -(-side // 4) * 4
    if sides == "power of two":
        return 1 << max(0, side - 1).bit_length()
    return side
