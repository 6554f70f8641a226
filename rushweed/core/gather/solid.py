"""What is something and what is nothing in a picture."""

from __future__ import annotations

from rushweed.core.arrays import Mask
from rushweed.core.gather.banded import banded
from rushweed.core.gather.pictures import Picture


def see_through(picture: Picture) -> bool:
    """Whether any pixel of a picture, of shape (height, width, 4), is less than opaque."""
    return any((band[..., 3] < 255).any() for band in banded(picture))


def solid(picture: Picture) -> Mask:
    """Which pixels show anything at all, of shape (height, width)."""
    shown: Mask = picture[..., 3] > 0
    return shown
