"""Writing KTX 2 files, after the Khronos KTX File Format specification, version 2.0, and the
Khronos Data Format specification, version 1.3, for the descriptor of the pixels."""

from __future__ import annotations

import struct

from rushweed.core.gauge.compression.texture import BLOCK_BYTES, Texture

IDENTIFIER = bytes([0xAB, 0x4B, 0x54, 0x58, 0x20, 0x32, 0x30, 0xBB, 0x0D, 0x0A, 0x1A, 0x0A])
VK_FORMATS = {"RGBA8": 43, "BC1": 134, "BC3": 138, "BC7": 146}
"""The numbers of Vulkan's formats whose colours are sRGB encoded, BC1 with alpha."""
VK_DATA = 37
"""The number of Vulkan's plain format whose channels are what they say."""
ZSTANDARD = 2
LEVEL = 9
"""How hard to compress; reading is as fast whatever it is."""

RGBSDA, BC1A, BC3, BC7 = 1, 128, 130, 134
MODELS = {"RGBA8": RGBSDA, "BC1": BC1A, "BC3": BC3, "BC7": BC7}
BT709, LINEAR_TRANSFER, SRGB_TRANSFER = 1, 1, 2
STRAIGHT, MULTIPLIED = 0, 1
LINEAR_QUALIFIER = 1 << 4
ALPHA_CHANNEL = 15
HEADER, INDEX_ENTRY = 80, 24
DESCRIPTOR_VERSION = 2
WRITER = b"KTXwriter\0Rushweed\0"
ALL_BITS = 0xFFFFFFFF


def ktx2_file(texture: Texture) -> bytes:
    """A texture and its mipmaps as a KTX 2 file whose levels are compressed with Zstandard."""
    import zstandard

    packed = [zstandard.ZstdCompressor(level=LEVEL).compress(level) for level in texture.levels]
    descriptor, keys = _descriptor(texture), _key_values()
    descriptor_at = HEADER + INDEX_ENTRY * len(packed)
    keys_at = descriptor_at + len(descriptor)
    at = keys_at + len(keys)
    places = []
    for level in reversed(packed):  # the smallest lies first in the file
        places.append(at)
        at += len(level)
    head = IDENTIFIER + struct.pack(
        "<9I",
        VK_DATA if texture.data else VK_FORMATS[texture.form],
        1,  # bytes of one value
        texture.size.width,
        texture.size.height,
        0,  # depth
        0,  # layers
        1,  # faces
        len(packed),
        ZSTANDARD,
    )
    index = struct.pack("<4I2Q", descriptor_at, len(descriptor), keys_at, len(keys), 0, 0)
    levels = b"".join(
        struct.pack("<3Q", place, len(level), len(plain))
        for place, level, plain in zip(reversed(places), packed, texture.levels, strict=True)
    )
    return head + index + levels + descriptor + keys + b"".join(reversed(packed))


def _descriptor(texture: Texture) -> bytes:
    """The data format descriptor: one basic block that tells the model and each channel."""
    samples = _samples(texture)
    size = 24 + 16 * len(samples)
    side = 0 if texture.form == "RGBA8" else 3
    flags = MULTIPLIED if texture.multiplied else STRAIGHT
    model = MODELS[texture.form]
    head = struct.pack(
        "<I2H4B4B8B",
        0,  # vendor and type of descriptor: Khronos, basic
        DESCRIPTOR_VERSION,
        size,
        model,
        BT709,
        LINEAR_TRANSFER if texture.data else SRGB_TRANSFER,
        flags,
        *(side, side, 0, 0),
        *(BLOCK_BYTES[texture.form], 0, 0, 0, 0, 0, 0, 0),
    )
    body = b"".join(
        struct.pack("<HBB4B2I", offset, length - 1, kind, 0, 0, 0, 0, 0, upper)
        for offset, length, kind, upper in samples
    )
    return struct.pack("<I", 4 + size) + head + body


def _samples(texture: Texture) -> list[tuple[int, int, int, int]]:
    """Where the bits of each channel begin, how many they are, which it is, and its greatest
    value. Alpha is never sRGB encoded, and says so where it stands beside colours that are."""
    form = texture.form
    if form == "RGBA8":
        colours = [(8 * channel, 8, channel, 255) for channel in range(3)]
        qualifier = 0 if texture.data else LINEAR_QUALIFIER
        return [*colours, (24, 8, ALPHA_CHANNEL | qualifier, 255)]
    if form == "BC1":
        return [(0, 64, 1, ALL_BITS)]  # channel 1 of its model: colour with alpha
    if form == "BC3":
        return [(0, 64, ALPHA_CHANNEL | LINEAR_QUALIFIER, ALL_BITS), (64, 64, 0, ALL_BITS)]
    return [(0, 128, 0, ALL_BITS)]


def _key_values() -> bytes:
    entry = struct.pack("<I", len(WRITER)) + WRITER
    return entry + bytes(-len(entry) % 4)
