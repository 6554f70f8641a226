"""Pictures as blocks of 4 × 4 pixels, the unit of block compression."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.values import Size

Blocks = npt.NDArray[np.uint8]
"""Pixels of shape (count, 16, 4), row by row within a block, block rows from the top."""

Bytes = npt.NDArray[np.uint8]
"""Compressed blocks of shape (count, bytes of one)."""

SIDE = 4
AT_ONCE = 4096
"""Blocks worked on at a time: their planes stay in a core's own cache."""


def count_of(size: Size) -> int:
    """How many blocks a picture takes."""
    return -(-size.width // SIDE) * -(-size.height // SIDE)


def to_blocks(picture: Picture) -> Blocks:
    """A picture's blocks; where it ends within one, its last row and column are repeated."""
    height, width = picture.shape[:2]
    rows, columns = -(-height // SIDE), -(-width // SIDE)
    extra = ((0, rows * SIDE - height), (0, columns * SIDE - width), (0, 0))
    whole = np.pad(picture, extra, mode="edge")
    parts = whole.reshape(rows, SIDE, columns, SIDE, 4).swapaxes(1, 2)
    return np.ascontiguousarray(parts).reshape(-1, SIDE * SIDE, 4)


def encode_each(blocks: Blocks, encode: Callable[[Blocks], Bytes]) -> Iterator[tuple[float, Bytes]]:
    """Encode blocks, equal ones once. Yields the share done and all there is, at last whole."""
    kinds, places = unlike(blocks)
    parts: list[Bytes] = []
    for start in range(0, len(kinds), AT_ONCE):
        parts.append(encode(kinds[start : start + AT_ONCE]))
        done = min(1.0, (start + AT_ONCE) / len(kinds))
        if done < 1:
            yield done, parts[-1]
    yield 1.0, np.concatenate(parts)[places]


def unlike(
    blocks: npt.NDArray[np.uint8],
) -> tuple[npt.NDArray[np.uint8], npt.NDArray[np.intp]]:
    """One of each kind of block (of pixels or of bytes), and for every block which it is."""
    words = np.ascontiguousarray(blocks).reshape(len(blocks), -1).view(np.uint64)
    factors = np.random.default_rng(7).integers(1, 1 << 63, words.shape[1], np.uint64) | np.uint64(
        1
    )
    mixed = (words ^ (words >> np.uint64(29))) * factors
    marks = np.bitwise_xor.reduce(mixed ^ (mixed >> np.uint64(32)), axis=1)
    _, first, places = np.unique(marks, return_index=True, return_inverse=True)
    if (words[first][places] == words).all():
        return blocks[first], places
    return blocks, np.arange(len(blocks))
