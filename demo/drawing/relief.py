"""A normal map for the ground, from how light its pixels are."""

from __future__ import annotations

import numpy as np

from drawing.pix import Pix


def normals(picture: Pix, strength: float = 2.0) -> np.ndarray:
    """Normals of shape (height, width, 4) packed as red = x, green = up, blue = toward us."""
    pixels = picture.pixels().astype(np.float64)
    height = pixels[..., :3] @ (0.299, 0.587, 0.114) / 255 * (pixels[..., 3] > 0)
    down, across = np.gradient(height)
    vectors = np.dstack([-across * strength, down * strength, np.ones_like(height)])
    vectors /= np.linalg.norm(vectors, axis=2, keepdims=True)
    packed = np.rint((vectors + 1) / 2 * 255).astype(np.uint8)
    return np.dstack([packed, np.full(height.shape, 255, np.uint8)])
