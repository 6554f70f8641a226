"""What is something and what is nothing in a picture."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.banded import banded
from rushweed.core.gather.pictures import Picture


def see_through(picture: Picture) -> bool:
    """Whether any pixel of a picture, of shape (height, width, 4), is less than opaque."""
    return any((band[..., 3] < 255).any() for band in banded(picture))


def solid(picture: Picture) -> npt.NDArray[np.bool_]:
    """Which pixels show anything at all, of shape (height, width)."""
    shown: npt.NDArray[np.bool_] = picture[..., 3] > 0
    return shown
