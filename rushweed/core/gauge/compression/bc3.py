"""BC3: the colours of BC1 with four steps always, and alpha in eight steps of its own, 16 bytes a
block. After the Khronos Data Format specification, “S3TC Compressed Texture Image Formats”.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.bc1 import encode_colours, fit_colours
from rushweed.core.gauge.compression.blocks import (
    Blocks,
    Bytes,
    encode_each,
    to_blocks,
)
from rushweed.core.gauge.compression.lines import Plane, expanded, fit_lines

Levels = npt.NDArray[np.int32]
EIGHT = (np.arange(8) / 7).astype(np.float32)
SIX = (np.arange(6) / 5).astype(np.float32)
EIGHT_CODES = np.array([1, 7, 6, 5, 4, 3, 2, 0], np.uint8)
SIX_CODES = np.array([0, 2, 3, 4, 5, 1], np.uint8)
NONE, FULL = 6, 7
"""With six steps, the codes of alpha 0 and 255."""
TABLES = [[(expanded(8), expanded(8))]]


def encode(picture: Picture, multiplied: bool = False) -> Iterator[tuple[float, Bytes]]:
    """A picture as blocks of shape (count, 16); see `encode_each` for what it yields.

    Colours count by how much they are seen; where they are `multiplied` by alpha already, alike.
    """
    return encode_each(to_blocks(picture), lambda blocks: _encode_blocks(blocks, multiplied))


def seen_weights(blocks: Blocks, multiplied: bool) -> Plane:
    """How much an error in each pixel's colour counts, of shape (pixels, blocks)."""
    alpha: Plane = np.ascontiguousarray(blocks[..., 3].T, np.float32) / np.float32(255)
    return np.ones_like(alpha) if multiplied else alpha * alpha


def encode_levels(levels: npt.NDArray[np.uint8]) -> Bytes:
    """Alpha of shape (count, 16) as blocks of 8 bytes: two ends, and three bits a pixel."""
    points = np.ascontiguousarray(levels.T[None], np.float32)
    every = np.ones(points.shape[1:], np.float32)
    inner = ((points[0] > 0) & (points[0] < 255)).astype(np.float32)
    eight, six = fit_lines(points, every, EIGHT, TABLES), fit_lines(points, inner, SIX, TABLES)
    take_six = six.error < eight.error
    ends = np.where(take_six, six.ends[:, 0], eight.ends[::-1, 0])
    first, second = ends[0], ends[1]
    codes = np.where(take_six, SIX_CODES.take(six.indices % 6), EIGHT_CODES.take(eight.indices))
    codes = np.where(take_six & (points[0] == 0), NONE, codes)
    codes = np.where(take_six & (points[0] == 255), FULL, codes)
    wrong = np.where(take_six, first > second, first < second)
    first, second = np.where(wrong, second, first), np.where(wrong, first, second)
    turned = np.where(codes < 2, codes ^ 1, np.where(take_six, 7 - codes, 9 - codes))
    turned = np.where(take_six & (codes >= NONE), codes, turned)
    codes = np.where(wrong, turned, codes)
    codes[:, ~take_six & (first == second)] = 0
    bits = np.zeros(codes.shape[1], np.uint64)
    for place, code in enumerate(codes):
        bits |= code.astype(np.uint64) << np.uint64(16 + 3 * place)
    bits |= first.astype(np.uint64) | second.astype(np.uint64) << np.uint64(8)
    return bits.astype("<u8")[:, None].view(np.uint8)


def _encode_blocks(blocks: Blocks, multiplied: bool) -> Bytes:
    fit = fit_colours(blocks, seen_weights(blocks, multiplied))
    colours = encode_colours(fit, np.ones(len(blocks), bool))
    return np.concatenate([encode_levels(blocks[..., 3]), colours], axis=1)
