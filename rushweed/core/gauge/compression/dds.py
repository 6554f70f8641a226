"""Writing DDS files, after Microsoft's published description of the DDS_HEADER structures."""

from __future__ import annotations

import struct

from rushweed.core.gauge.compression.texture import Texture

MAGIC = b"DDS "
HEADER_SIZE, PIXEL_FORMAT_SIZE = 124, 32
CAPS, HEIGHT, WIDTH, PIXEL_FORMAT, MIPMAP_COUNT, LINEAR_SIZE = 1, 2, 4, 0x1000, 0x20000, 0x80000
PITCH = 8
TEXTURE, COMPLEX, MIPMAP = 0x1000, 8, 0x400000
ALPHA_PIXELS, FOUR_CC, RGB = 1, 4, 0x40
FOUR_CODES = {"BC1": b"DXT1", "BC3": b"DXT5", "BC7": b"DX10"}
MULTIPLIED_CODES = {**FOUR_CODES, "BC3": b"DXT4"}
BC7_UNORM = 98
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
    if texture.form == "BC7":
        alpha = MULTIPLIED_ALPHA if texture.multiplied else STRAIGHT_ALPHA
        body += struct.pack("<5I", BC7_UNORM, TEXTURE_2D, 0, 1, alpha)
    return MAGIC + body + b"".join(texture.levels)


def _pixel_format(texture: Texture) -> bytes:
    if texture.form == "RGBA8":
        masks = (0xFF, 0xFF00, 0xFF0000, 0xFF000000)
        return struct.pack("<8I", PIXEL_FORMAT_SIZE, RGB | ALPHA_PIXELS, 0, 32, *masks)
    codes = MULTIPLIED_CODES if texture.multiplied else FOUR_CODES
    return struct.pack("<2I4s5I", PIXEL_FORMAT_SIZE, FOUR_CC, codes[texture.form], 0, 0, 0, 0, 0)
