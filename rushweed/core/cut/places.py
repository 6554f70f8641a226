"""Matching rectangles of one picture: which new cut shows what an old one showed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.cut.loose import part_of
from rushweed.core.cut.near import Near
from rushweed.core.values import Rect

SAME_ENOUGH = 0.5
"""An old and a new cut are the same when they share more than this part of their union."""


def match_places(old: Sequence[Rect], new: Sequence[Rect], mask: Mask) -> Iterator[tuple[int, int]]:
    """Pairs of an old and a new rectangle, by index and each once, that show the same of a picture
    whose mask says what is drawn: those first that share most of what is drawn in them, and where
    that is alike, most of their area.

        +---------+              A cell and the loose piece in it share little area,
        |  +---+  |              but all that is drawn.
        |  |@@@|  |
        +--+---+--+
    """
    near = Near(old)
    found = []
    drawn = _Drawn(mask)
    for index, rect in enumerate(new):
        for other in near.to(rect):
            shared = sameness(old[other], rect)
            seen = drawn.sameness(old[other], rect)
            if max(shared, seen) > SAME_ENOUGH:
                found.append((-seen, -shared, index, other))
    gone_on: set[int] = set()
    taken: set[int] = set()
    for _, _, index, other in sorted(found):
        if index not in taken and other not in gone_on:
            taken.add(index)
            gone_on.add(other)
            yield other, index


def sameness(one: Rect, other: Rect) -> float:
    """The part of their union that two rectangles share, from 0 to 1."""
    shared = one.intersection(other).area
    return shared / (one.area + other.area - shared) if shared else 0.0


class _Drawn:
    """Counts what is drawn in rectangles of a picture."""

    def __init__(self, mask: Mask) -> None:
        self._mask = mask
        self._known: dict[Rect, int] = {}

    def sameness(self, one: Rect, other: Rect) -> float:
        """The part of what is drawn in either rectangle that is drawn in both, from 0 to 1."""
        shared = self._count(one.intersection(other))
        return shared / (self._count(one) + self._count(other) - shared) if shared else 0.0

    def _count(self, rect: Rect) -> int:
        if rect not in self._known:
            self._known[rect] = int(np.count_nonzero(part_of(self._mask, rect)))
        return self._known[rect]
