"""What is something and what is nothing in a picture."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture


def solid(picture: Picture) -> npt.NDArray[np.bool_]:
    """Which pixels show anything at all, of shape (height, width)."""
    shown: npt.NDArray[np.bool_] = picture[..., 3] > 0
    return shown
