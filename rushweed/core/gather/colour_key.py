"""The flat colour that stands for nothing."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import ColourKey
from rushweed.core.values import Colour

VIVID = (
    Colour(255, 0, 255),
    Colour(0, 255, 0),
    Colour(0, 255, 255),
    Colour(255, 0, 0),
    Colour(0, 0, 255),
    Colour(255, 255, 0),
)


def keyed(picture: Picture, key: ColourKey) -> npt.NDArray[np.bool_]:
    """Which pixels the key makes nothing: those within its tolerance in every channel.

    Returns booleans of shape (height, width).
    """
    wanted = np.array(key.colour[:3], np.int16)
    near = np.abs(picture[..., :3].astype(np.int16) - wanted) <= key.tolerance
    found: npt.NDArray[np.bool_] = near.all(axis=2)
    return found


def apply_key(picture: Picture, key: ColourKey | None) -> Picture:
    """The picture with keyed pixels wholly clear."""
    if key is None:
        return picture
    result = picture.copy()
    result[keyed(picture, key)] = 0
    result.setflags(write=False)
    return result


def guess_key(picture: Picture) -> ColourKey | None:
    """The colour key a picture without alpha seems to use, or None.

    A key is the colour of all four corners. A vivid one covers half of the rim and a tenth of
    the picture; any other nearly all of the rim and a third of the picture.
    """
    if (picture[..., 3] < 255).any():
        return None
    corners = {tuple(map(int, picture[y, x])) for y in (0, -1) for x in (0, -1)}
    if len(corners) != 1:
        return None
    colour = Colour(*corners.pop())
    same = keyed(picture, ColourKey(colour))
    rim = np.concatenate([same[0], same[-1], same[:, 0], same[:, -1]])
    needed = 0.5 if colour in VIVID else 0.9
    covered = 0.1 if colour in VIVID else 0.3
    if same.all() or rim.mean() < needed or same.mean() < covered:
        return None
    return ColourKey(colour)
