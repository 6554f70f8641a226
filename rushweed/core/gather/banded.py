"""A picture some rows at a time: nothing as large as all of it is made; one may rest between."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.gather.pictures import Picture
from rushweed.core.resting import rest

AT_ONCE = 1 << 18
"""Pixels of a band."""


def banded(picture: Picture) -> Iterator[Picture]:
    """The rows of a picture, of shape (height, width, …), from above, at least one at a time."""
    rows = max(1, AT_ONCE // max(1, picture.shape[1]))
    for first in range(0, len(picture), rows):
        rest()
        yield picture[first : first + rows]
