"""A picture as graphics memory holds it: its levels' bytes in one form."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import stored_multiplied, straight
from rushweed.core.gauge.compression import bc1, bc3, bc7
from rushweed.core.gauge.compression.blocks import Bytes, count_of
from rushweed.core.gauge.sampling import mip_levels
from rushweed.core.values import Size

TextureForm = Literal["RGBA8", "BC1", "BC3", "BC7"]
BLOCK_BYTES = {"RGBA8": 4, "BC1": 8, "BC3": 16, "BC7": 16}
"""Bytes of one block of 4 × 4 pixels; of one pixel for the plain form."""


@dataclass(frozen=True, slots=True, eq=False)
class Texture:
    """The bytes of each level, the largest first; `multiplied` when alpha is in the colours.
    `data` holds no colours but numbers, such as a normal map's, which nothing may bend."""

    form: TextureForm
    size: Size
    levels: tuple[bytes, ...]
    multiplied: bool = False
    data: bool = False


def make_data_texture(picture: Picture, mipmaps: bool = False) -> Texture:
    """Numbers as a texture, just as they are; each smaller level holds the means of four of the
    larger one's pixels, or of as many as there are."""
    levels = [picture]
    while mipmaps and max(levels[-1].shape[:2]) > 1:
        levels.append(_halved(levels[-1]))
    size = Size(picture.shape[1], picture.shape[0])
    return Texture("RGBA8", size, tuple(level.tobytes() for level in levels), data=True)


def _halved(picture: Picture) -> Picture:
    height, width = (max(1, side // 2) for side in picture.shape[:2])
    down, across = picture.shape[0] // height, picture.shape[1] // width
    part = picture[: height * down, : width * across].astype(np.float64)
    means = part.reshape(height, down, width, across, 4).mean(axis=(1, 3))
    half: Picture = np.rint(means).astype(np.uint8)
    return half


def make_texture(
    picture: Picture, form: TextureForm, mipmaps: bool = False, multiplied: bool = False
) -> Texture:
    """A picture as a texture, with all smaller levels if it has mipmaps."""
    size = Size(picture.shape[1], picture.shape[0])
    levels = [picture]
    if mipmaps:
        levels = [straight(level) for level in mip_levels(picture)]
        levels[0] = picture
    parts = [encoded(level, form, multiplied).tobytes() for level in levels]
    return Texture(form, size, tuple(parts), multiplied)


def encoded(picture: Picture, form: TextureForm, multiplied: bool = False) -> Bytes:
    """One level's blocks, or pixels for the plain form."""
    *_, (_, data) = encoding(picture, form, multiplied)
    return data


def encoding(
    picture: Picture, form: TextureForm, multiplied: bool = False
) -> Iterator[tuple[float, Bytes]]:
    """The same step by step: the share done, and at last all of it."""
    if multiplied:
        picture = stored_multiplied(picture)
    if form == "RGBA8":
        yield 1.0, np.ascontiguousarray(picture).reshape(-1, 4)
    elif form == "BC1":
        yield from bc1.encode(picture)
    elif form == "BC3":
        yield from bc3.encode(picture, multiplied)
    else:
        yield from bc7.encode(picture, multiplied)


def decoded(data: Bytes, form: TextureForm, size: Size, multiplied: bool = False) -> Picture:
    """The picture that one level's bytes stand for, straight alpha. Pillow reads the blocks, as it
    reads those of others: what we show does not hang on what we meant."""
    if form == "RGBA8":
        picture: Picture = data.reshape(size.height, size.width, 4)
    else:
        from PIL import Image

        number = int(form.removeprefix("BC"))
        picture = np.array(Image.frombytes("RGBA", size, data.tobytes(), "bcn", number))
    return straight(picture.astype(np.float32)) if multiplied else picture


def bytes_in_memory(size: Size, form: TextureForm, mipmaps: bool = False) -> int:
    """How many bytes a texture takes in graphics memory."""
    total, whole = 0, False
    while not whole:
        units = size.width * size.height if form == "RGBA8" else count_of(size)
        total += units * BLOCK_BYTES[form]
        whole = not mipmaps or max(size) == 1
        size = Size(max(1, size.width // 2), max(1, size.height // 2))
    return total
