"""What is something and what is nothing in a picture."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture

BAND = 256
"""So many rows are looked at before it is asked whether that was enough."""


def see_through(picture: Picture) -> bool:
    """Whether any pixel of a picture, of shape (height, width, 4), is less than opaque."""
    bands = range(0, len(picture), BAND)
    return any((picture[top : top + BAND, :, 3] < 255).any() for top in bands)


def solid(picture: Picture) -> npt.NDArray[np.bool_]:
    """Which pixels show anything at all, of shape (height, width)."""
    shown: npt.NDArray[np.bool_] = picture[..., 3] > 0
    return shown
