"""Sizes that the names of pictures speak of."""

from __future__ import annotations

import re

from rushweed.core.cut.seeing.divisions import LARGEST, SMALLEST
from rushweed.core.values import Size

SIZE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?[x×] ?(\d{1,4})(?!\d)", re.IGNORECASE)
SIDE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?px(?![a-z])", re.IGNORECASE)


def sizes_in(name: str) -> frozenset[Size]:
    """The sizes a picture's name speaks of, such as `fen_16x24` or `crab 32px`."""
    found = {Size(int(width), int(height)) for width, height in SIZE_IN_NAME.findall(name)}
    found |= {Size(int(side), int(side)) for side in SIDE_IN_NAME.findall(name)}
    return frozenset(size for size in found if min(size) >= SMALLEST and max(size) <= LARGEST)
