"""Colours and their alpha: multiplied, divided again, and what lies under nothing."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture

Pixels = npt.NDArray[np.float32]
"""Values from 0 to 255 of shape (…, 4)."""


def premultiplied(picture: Picture) -> Pixels:
    """Straight pixels with their colours multiplied by alpha."""
    values = picture.astype(np.float32)
    values[..., :3] *= values[..., 3:] / 255
    return values


def straight(values: Pixels) -> Picture:
    """Multiplied pixels with their colours divided by alpha again; black where nothing is."""
    alpha = values[..., 3:]
    colour = np.divide(
        values[..., :3] * 255, alpha, out=np.zeros_like(values[..., :3]), where=alpha > 0
    )
    exact = np.concatenate([colour, alpha], axis=-1)
    result: Picture = np.rint(np.clip(exact, 0, 255)).astype(np.uint8)
    return result


def stored_multiplied(picture: Picture) -> Picture:
    """A picture as it is stored when the game wants colours multiplied by alpha."""
    result: Picture = np.rint(premultiplied(picture)).astype(np.uint8)
    return result


def spread_colours(picture: Picture) -> Picture:
    """The picture with the nearest visible colour under every pixel that is fully clear, so that
    linear filtering of straight colours mixes nothing foreign into its edges."""
    clear = picture[..., 3] == 0
    if not clear.any() or clear.all():
        return picture
    from scipy import ndimage

    nearest = ndimage.distance_transform_edt(clear, return_distances=False, return_indices=True)
    result: Picture = picture[tuple(nearest)]
    result[..., 3] = picture[..., 3]
    return result
