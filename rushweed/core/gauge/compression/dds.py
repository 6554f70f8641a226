"""Writing DDS files, after Microsoft's published description of the DDS_HEADER structures."""

from __future__ import annotations

import struct

import numpy as np

from rushweed.core.gauge.compression.texture import Texture

MAGIC = b"DDS "
HEADER_SIZE, PIXEL_FORMAT_SIZE = 124, 32
CAPS, HEIGHT, WIDTH, PIXEL_FORMAT, MIPMAP_COUNT, LINEAR_SIZE = 1, 2, 4, 0x1000, 0x20000, 0x80000
PITCH = 8
TEXTURE, COMPLEX, MIPMAP = 0x1000, 8, 0x400000
ALPHA_PIXELS, FOUR_CC, RGB = 1, 4, 0x40
FOUR_CODES = {"BC1": b"DXT1", "BC3": b"DXT5"}
EXTENDED = b"DX10"
NUMBERS = {"BC1": 71, "BC3": 77, "BC7": 98}
"""The numbers of DXGI's formats: the extended header names those that the short one cannot, and
says whether alpha is in the colours."""
TEXTURE_2D = 3
STRAIGHT_ALPHA, MULTIPLIED_ALPHA = 1, 2


def dds_file(texture: Texture) -> bytes:
    """A texture and its mipmaps as a DDS file: plain pixels, BC1, BC3 or BC7."""
    flags = CAPS | HEIGHT | WIDTH | PIXEL_FORMAT
    caps = TEXTURE
    if len(texture.levels) > 1:
        flags, caps = flags | MIPMAP_COUNT, caps | COMPLEX | MIPMAP
    plain = texture.form == "RGBA8"
    flags |= PITCH if plain else LINEAR_SIZE
    first = 4 * texture.size.width if plain else len(texture.levels[0])
    header = struct.pack(
        "<7I44x",
        HEADER_SIZE,
        flags,
        texture.size.height,
        texture.size.width,
        first,
        0,
        len(texture.levels),
    )
    body = header + _pixel_format(texture) + struct.pack("<5I", caps, 0, 0, 0, 0)
    if _code(texture) == EXTENDED:
        alpha = MULTIPLIED_ALPHA if texture.multiplied else STRAIGHT_ALPHA
        body += struct.pack("<5I", NUMBERS[texture.form], TEXTURE_2D, 0, 1, alpha)
    return MAGIC + body + b"".join(map(_turned, texture.levels) if plain else texture.levels)


def _turned(level: bytes) -> bytes:
    """Plain pixels with blue first, the one order that all readers take."""
    pixels = np.frombuffer(level, np.uint8).reshape(-1, 4)
    return pixels[:, [2, 1, 0, 3]].tobytes()


def _code(texture: Texture) -> bytes:
    """The short name of a form of blocks, or that of the extended header; empty for pixels."""
    if texture.form == "RGBA8":
        return b""
    if texture.multiplied:
        return EXTENDED
    return FOUR_CODES.get(texture.form, EXTENDED)


def _pixel_format(texture: Texture) -> bytes:
    if texture.form == "RGBA8":
        masks = (0xFF0000, 0xFF00, 0xFF, 0xFF000000)
        return struct.pack("<8I", PIXEL_FORMAT_SIZE, RGB | ALPHA_PIXELS, 0, 32, *masks)
    return struct.pack("<2I4s5I", PIXEL_FORMAT_SIZE, FOUR_CC, _code(texture), 0, 0, 0, 0, 0)
