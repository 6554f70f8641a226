"""BC1: two end colours of 5, 6 and 5 bits and two bits a pixel, 8 bytes a block.

After the Khronos Data Format specification, “S3TC Compressed Texture Image Formats”. When the
first end is the greater number, a block has four steps between its ends; else three, and the
fourth index stands for clear.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.blocks import (
    Blocks,
    Bytes,
    encode_each,
    to_blocks,
)
from rushweed.core.gauge.compression.flat_blocks import flat_blocks, improve_flat
from rushweed.core.gauge.compression.lines import (
    Fit,
    Plane,
    Points,
    expanded,
    fit_lines,
)

FOUR = np.array([0, 1 / 3, 2 / 3, 1], np.float32)
THREE = np.array([0, 1 / 2, 1], np.float32)
FOUR_CODES = np.array([0, 2, 3, 1], np.uint8)
THREE_CODES = np.array([0, 2, 1], np.uint8)
CLEAR = 3
BITS = (5, 6, 5)
TABLES = [[(expanded(bits), expanded(bits)) for bits in BITS]]
HALF = 128
"""Pixels of less alpha are clear."""


def encode(picture: Picture) -> Iterator[tuple[float, Bytes]]:
    """A picture as blocks of shape (count, 8); see `encode_each` for what it yields."""
    return encode_each(to_blocks(picture), _encode_blocks)


def encode_colours(
    fit: Fit, four: npt.NDArray[np.bool_], clear: npt.NDArray[np.bool_] | None = None
) -> Bytes:
    """Blocks of lines that have four steps or three, with some pixels (pixels, blocks) clear."""
    first, second = (_packed(fit.ends[end]) for end in (0, 1))
    codes = np.where(four, FOUR_CODES.take(fit.indices), THREE_CODES.take(fit.indices % 3))
    wrong = np.where(four, first < second, first > second)
    first, second = np.where(wrong, second, first), np.where(wrong, first, second)
    codes ^= (wrong & (four | (codes < 2))).astype(np.uint8)
    codes[:, four & (first == second)] = 0
    if clear is not None:
        codes[clear & ~four] = CLEAR
    bits = np.zeros(codes.shape[1], np.uint32)
    for place, code in enumerate(codes):
        bits |= code.astype(np.uint32) << (2 * place)
    ends = np.stack([first, second], axis=1).astype("<u2").view(np.uint8)
    return np.concatenate([ends, bits.astype("<u4")[:, None].view(np.uint8)], axis=1)


def fit_colours(blocks: Blocks, weights: Plane) -> Fit:
    """Lines of four steps through the colours of blocks; weights are (pixels, blocks)."""
    fit = fit_lines(points_of(blocks), weights, FOUR, TABLES)
    improve_flat(fit, flat_blocks(blocks, weights), FOUR, TABLES)
    return fit


def points_of(blocks: Blocks, channels: int = 3) -> Points:
    """The colours of blocks, by channels and pixels."""
    return np.ascontiguousarray(blocks[..., :channels].transpose(2, 1, 0), np.float32)


def _encode_blocks(blocks: Blocks) -> Bytes:
    clear = np.ascontiguousarray(blocks[..., 3].T < HALF)
    weights = (~clear).astype(np.float32)
    fit = fit_lines(points_of(blocks), weights, FOUR, TABLES)
    flat = flat_blocks(blocks, weights)
    improve_flat(fit, flat, FOUR, TABLES)
    four = ~clear.any(axis=0)
    fit.error[~four] = np.inf
    before = fit.error.copy()
    punched = np.flatnonzero(~four)
    if len(punched):
        points = points_of(blocks[punched])
        fit.improve(fit_lines(points, weights[:, punched], THREE, TABLES), punched)
    improve_flat(fit, flat, THREE, TABLES)
    four &= fit.error == before
    return encode_colours(fit, four, clear)


def _packed(ends: npt.NDArray[np.int16]) -> npt.NDArray[np.int32]:
    red, green, blue = ends.astype(np.int32)
    packed: npt.NDArray[np.int32] = red << 11 | green << 5 | blue
    return packed
