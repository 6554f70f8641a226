"""Art that is shaded with an ordered dither, whose pattern repeats where no tiles do."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

from tools.corpus.figures import Picture, Random, palette
from tools.corpus.laying import lay_out

PATTERN = np.array([[0, 2], [3, 1]])
"""The smallest ordered dither; larger ones are made of it."""


def glow(draw: Random) -> tuple:
    """One picture: a light, a cloud or a slope of sky that fades by a dither."""
    unit = int(draw.choice((1, 4, 4, 8, 8, 16)))
    width, height = (unit * int(side) for side in draw.integers(24 // unit + 1, 160 // unit, 2))
    if draw.random() < 0.5:
        height = width
    y, x = np.mgrid[0:height, 0:width]
    far = np.hypot((x - width / 2) / (width / 2), (y - height / 2) / (height / 2))
    sky = y / height + 0.1 * np.sin(x / draw.uniform(5, 40))
    cloud = ndimage.gaussian_filter(draw.random((height, width)), max(2, min(width, height) / 10))
    cloud = (cloud - cloud.min()) / np.ptp(cloud)
    slope = ((1 - far) * draw.uniform(0.9, 1.6), sky, cloud)[int(draw.integers(0, 3))]
    return dithered(draw, slope, palette(draw, 3), draw.random() < 0.7), (0, 0)


def dithered_tiles(draw: Random) -> tuple:
    """A tileset each tile of which is shaded by a dither."""
    side = int(draw.choice((16, 16, 16, 24, 32, 32, 48)))
    rows, columns = int(draw.integers(2, 9)), int(draw.integers(3, 13))
    made: list[list[Picture | None]] = []
    for _ in range(rows):
        colours, clear = palette(draw, 4), draw.random() < 0.3
        made.append([dithered(draw, _slope(draw, side), colours, clear) for _ in range(columns)])
    return lay_out(made, (side, side)), (side, side)


def dithered(draw: Random, slope: np.ndarray, colours: np.ndarray, clear: bool) -> Picture:
    """A slope from 0 to 1, shape (height, width), in few colours; the lowest may be nothing."""
    pattern = PATTERN if draw.random() < 0.25 else _larger(PATTERN)
    height, width = slope.shape
    repeats = -(-height // len(pattern)), -(-width // len(pattern))
    limits = (np.tile(pattern, repeats)[:height, :width] + 0.5) / pattern.size
    places = np.clip(np.floor(slope * (len(colours) - 1) + limits), 0, len(colours) - 1).astype(int)
    picture = np.full((height, width, 4), 255, np.uint8)
    picture[..., :3] = colours[places]
    if clear:
        picture[places == 0] = 0
    return picture


def _larger(pattern: np.ndarray) -> np.ndarray:
    """The dither of twice the sides (B. E. Bayer, An optimum method for two-level rendition of
    continuous-tone pictures, 1973)."""
    return np.block([[4 * pattern, 4 * pattern + 2], [4 * pattern + 3, 4 * pattern + 1]])


def _slope(draw: Random, side: int) -> np.ndarray:
    """How light a tile is: flat, falling to one side, or round."""
    y, x = np.mgrid[0:side, 0:side] / side
    level, turn = draw.uniform(0.1, 0.8), draw.uniform(0, 2 * np.pi)
    kind = draw.random()
    if kind < 0.3:
        return np.full((side, side), level)
    if kind < 0.8:
        return level + (np.cos(turn) * (x - 0.5) + np.sin(turn) * (y - 0.5)) * draw.uniform(0.3, 1)
    return 1.1 - 2 * np.hypot(x - draw.uniform(0.3, 0.7), y - draw.uniform(0.3, 0.7))
