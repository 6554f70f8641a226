"""What the bits of a BC7 block mean: its eight modes, its partitions, and how wide its indices are.

After the Khronos Data Format specification, “BPTC Compressed Texture Image Formats”.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Numbers = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Mode:
    """How many parts a block has, and the bits of each field. With `own_low_bits` each end colour
    has a lowest bit that all its channels share; with `shared_low_bits` both ends of a part do."""

    number: int
    parts: int
    partition_bits: int
    rotation_bits: int
    selection_bits: int
    colour_bits: int
    alpha_bits: int
    own_low_bits: bool
    shared_low_bits: bool
    index_bits: int
    second_bits: int

    @property
    def channels(self) -> int:
        return 4 if self.alpha_bits else 3

    def bits_of(self, channel: int) -> int:
        """How many bits one channel of an end colour has, without the shared lowest one."""
        return self.alpha_bits if channel == 3 else self.colour_bits

    @property
    def first_low_bit(self) -> int:
        """Where the lowest bits of the end colours stand in the block."""
        ends = 2 * self.parts * (3 * self.colour_bits + self.alpha_bits)
        return self.first_end_bit + ends

    @property
    def first_end_bit(self) -> int:
        fields = self.partition_bits + self.rotation_bits + self.selection_bits
        return self.number + 1 + fields

    @property
    def low_bits(self) -> int:
        """How many lowest bits are stored."""
        return 2 * self.parts if self.own_low_bits else self.parts if self.shared_low_bits else 0


MODES = (
    Mode(0, 3, 4, 0, 0, 4, 0, True, False, 3, 0),
    Mode(1, 2, 6, 0, 0, 6, 0, False, True, 3, 0),
    Mode(2, 3, 6, 0, 0, 5, 0, False, False, 2, 0),
    Mode(3, 2, 6, 0, 0, 7, 0, True, False, 2, 0),
    Mode(4, 1, 0, 2, 1, 5, 6, False, False, 2, 3),
    Mode(5, 1, 0, 2, 0, 7, 8, False, False, 2, 2),
    Mode(6, 1, 0, 0, 0, 7, 7, True, False, 4, 0),
    Mode(7, 2, 6, 0, 0, 5, 5, True, False, 2, 0),
)
WEIGHTS = {
    2: np.array([0, 21, 43, 64]),
    3: np.array([0, 9, 18, 27, 37, 46, 55, 64]),
    4: np.array([0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64]),
}
"""How many 64ths of the second end each index takes, by the bits of an index."""

_HALVES = (
    "cccc 8888 eeee ecc8 c880 feec fec8 ec80 c800 ffec fe80 e800 ffe8 ff00 fff0 f000 "
    "f710 008e 7100 08ce 008c 7310 3100 8cce 088c 3110 6666 366c 17e8 0ff0 718e 399c "
    "aaaa f0f0 5a5a 33cc 3c3c 55aa 9696 a55a 73ce 13c8 324c 3bdc 6996 c33c 9966 0660 "
    "0272 04e4 4e40 2720 c936 936c 39c6 639c 9336 9cc6 817e e718 ccf0 0fcc 7744 ee22"
)
_THIRDS = (
    "aa685050 6a5a5040 5a5a4200 5450a0a8 a5a50000 a0a05050 5555a0a0 5a5a5050 aa550000 aa555500 "
    "aaaa5500 90909090 94949494 a4a4a4a4 a9a59450 2a0a4250 a5945040 0a425054 a5a5a500 55a0a0a0 "
    "a8a85454 6a6a4040 a4a45000 1a1a0500 0050a4a4 aaa59090 14696914 69691400 a08585a0 aa821414 "
    "50a4a450 6a5a0200 a9a58000 5090a0a8 a8a09050 24242424 00aa5500 24924924 24499224 50a50a50 "
    "500aa550 aaaa4444 66660000 a5a0a5a0 50a050a0 69286928 44aaaa44 66666600 aa444444 54a854a8 "
    "95809580 96969600 a85454a8 80959580 aa141414 96960000 aaaa1414 a05050a0 a0a5a5a0 96000000 "
    "40804080 a9a8a9a8 aaaaaa44 2a4a5254"
)
_SECOND_OF_TWO = (
    "15 15 15 15 15 15 15 15 15 15 15 15 15 15 15 15 15 2 8 2 2 8 8 15 2 8 2 2 8 8 2 2 "
    "15 15 6 8 2 8 15 15 2 8 2 2 2 15 15 6 6 2 6 8 15 15 2 2 15 15 15 15 15 2 2 15"
)
_SECOND_OF_THREE = (
    "3 3 15 15 8 3 15 15 8 8 6 6 6 5 3 3 3 3 8 15 3 3 6 10 5 8 8 6 8 5 15 15 "
    "8 15 3 5 6 10 8 15 15 3 15 5 15 15 15 15 3 15 5 5 5 8 5 10 5 10 8 13 15 12 3 3"
)
_THIRD_OF_THREE = (
    "15 8 8 3 15 15 3 8 15 15 15 15 15 15 15 8 15 8 15 3 15 8 15 8 3 15 6 10 15 15 10 8 "
    "15 3 15 10 10 8 9 10 6 15 8 15 3 6 6 8 15 3 15 15 15 15 15 15 15 15 15 15 3 15 15 8"
)


def _partitions(table: str, bits: int) -> npt.NDArray[np.uint8]:
    words = np.array([int(word, 16) for word in table.split()], np.int64)[:, None]
    return (words >> (bits * np.arange(16)) & (1 << bits) - 1).astype(np.uint8)


def _anchors(*tables: str) -> npt.NDArray[np.uint8]:
    columns = [np.array(table.split(), np.uint8) for table in tables]
    return np.stack([np.zeros(64, np.uint8), *columns], axis=1)


PARTITIONS = {
    1: np.zeros((1, 16), np.uint8),
    2: _partitions(_HALVES, 1),
    3: _partitions(_THIRDS, 2),
}
"""Which part each pixel belongs to, of shape (partitions, 16), by the number of parts."""

ANCHORS = {
    1: np.zeros((1, 1), np.uint8),
    2: _anchors(_SECOND_OF_TWO),
    3: _anchors(_SECOND_OF_THREE, _THIRD_OF_THREE),
}
"""The pixel of each part whose index lacks its highest bit, by the number of parts."""


def index_widths(mode: Mode, partition: Numbers) -> Numbers:
    """How many bits the index of each pixel has, of shape (16, blocks)."""
    anchors = ANCHORS[mode.parts][partition].T
    widths = np.full((16, len(partition)), mode.index_bits, np.int64)
    for anchor in anchors:
        widths[anchor, np.arange(len(partition))] -= 1
    return widths


def low_bit_of(mode: Mode, part: int, end: int) -> int:
    """The place among the lowest bits of the one that an end colour has."""
    return 2 * part + end if mode.own_low_bits else part
