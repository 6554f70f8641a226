"""Drawn things over a flat colour, saved through a lossy format, beside what was truly drawn."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from PIL import Image

from rushweed.core.values import Colour
from tools.corpus.figures import Picture, Random
from tools.corpus.laying import animated_rows, lay_out, some_size

KEYS = (Colour(0, 255, 0), Colour(255, 0, 255), Colour(0, 0, 0))
QUALITIES = (85, 60)
SOFTNESS = 4
"""Soft figures are drawn so many times larger, and averaged."""
NEAR_KEY = 60
"""Art whose every channel is so near to the key cannot be told from it by anybody."""


@dataclass(frozen=True, slots=True)
class Lossy:
    """`picture` is opaque, as it was read from the lossy file; `art` is what was drawn, with its
    alpha; both of shape (height, width, 4)."""

    art: Picture
    key: Colour
    quality: int
    picture: Picture
    soft: bool


def lossy_sheets(each: int = 10, seed: int = 0) -> Iterator[Lossy]:
    """`each` sheets for every key and quality: plain pixels, enlarged ones, soft edges."""
    for place, key in enumerate(KEYS):
        for quality in QUALITIES:
            for index in range(each):
                draw = np.random.default_rng([place, quality, seed + index])
                soft = index % 3 == 2
                art = _drawn(draw, key, soft, enlarged=1 + 2 * (index % 3 == 1))
                yield Lossy(art, key, quality, saved(over(art, key), quality), soft)


def over(art: Picture, key: Colour) -> Picture:
    """The art upon the flat colour."""
    alpha = art[..., 3:].astype(np.float64) / 255
    flat = art[..., :3] * alpha + np.array(key[:3]) * (1 - alpha)
    return np.dstack([np.rint(flat).astype(np.uint8), np.full(art.shape[:2], 255, np.uint8)])


def saved(picture: Picture, quality: int) -> Picture:
    """The picture as it comes back from a file of that quality."""
    file = BytesIO()
    Image.fromarray(picture[..., :3]).save(file, "JPEG", quality=quality)
    return np.array(Image.open(file).convert("RGBA"))


def _drawn(draw: Random, key: Colour, soft: bool, enlarged: int) -> Picture:
    """A small sheet of figures none of whose colours is the key's."""
    cell = some_size(draw)
    while True:
        larger = SOFTNESS if soft else 1
        sides = cell[0] * larger, cell[1] * larger
        art = lay_out(animated_rows(draw, sides, 2, 4), sides)
        colours = art[art[..., 3] > 0][:, :3].astype(int)
        if (np.abs(colours - np.array(key[:3])).max(axis=1) >= NEAR_KEY).all():
            break
    return averaged(art, SOFTNESS) if soft else art.repeat(enlarged, 0).repeat(enlarged, 1)


def averaged(art: Picture, by: int) -> Picture:
    """The art `by` times smaller; colours are weighed by their alpha."""
    height, width = art.shape[0] // by, art.shape[1] // by
    blocks = art[: height * by, : width * by].reshape(height, by, width, by, 4).astype(np.float64)
    alpha = blocks[..., 3:].mean(axis=(1, 3))
    colour = (blocks[..., :3] * blocks[..., 3:]).mean(axis=(1, 3)) / np.maximum(alpha, 1e-9)
    return np.rint(np.dstack([colour, alpha])).astype(np.uint8)


def spilled(result: Picture, sheet: Lossy) -> float:
    """The share of the pixels to be seen that are nearer to the key than to what was truly drawn;
    where nothing was, to the nearest that was."""
    from scipy import ndimage

    rows, columns = ndimage.distance_transform_edt(
        sheet.art[..., 3] == 0, return_distances=False, return_indices=True
    )
    true = sheet.art[rows, columns, :3].astype(int)
    seen = result[..., 3] > 0
    colours = result[..., :3].astype(int)
    to_key = ((colours - np.array(sheet.key[:3])) ** 2).sum(axis=2)
    to_art = ((colours - true) ** 2).sum(axis=2)
    return float((to_key < to_art)[seen].mean()) if seen.any() else 1.0


def off(result: Picture, art: Picture) -> float:
    """By how many levels a picture looks other than what was drawn, upon a middle grey."""
    shown = [
        picture[..., :3] * (picture[..., 3:] / 255) + 128 * (1 - picture[..., 3:] / 255)
        for picture in (result, art)
    ]
    return float(np.abs(shown[0] - shown[1]).mean())
