"""Where parts of a picture went in a newer one, found by their exact pixels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from itertools import product

import numpy as np

from rushweed.core.arrays import Words
from rushweed.core.cut.likeness import Pieces, alike, part, pixels
from rushweed.core.cut.matching import ENOUGH
from rushweed.core.values import Rect, Size

ASKED = 12
"""Of so many pieces it is asked where they went, to learn where a grid went."""
MOST_PLACES = 4000
"""A pixel that is found at more places than this tells nothing."""


def find_exactly(wanted: Words, picture: Words) -> tuple[int, int] | None:
    """Where a part, of shape (height, width), lies in a picture: x and y, or None.

    The rarest of its pixels is looked for, then the whole part around it.
    """
    height, width = wanted.shape
    room = picture.shape[0] - height, picture.shape[1] - width
    values, first, counts = np.unique(wanted, return_index=True, return_counts=True)
    visible = np.flatnonzero(values)
    if not len(visible) or min(room) < 0:
        return None
    rarest = visible[counts[visible].argmin()]
    y, x = divmod(int(first[rarest]), width)
    rows, columns = np.nonzero(picture[y : y + room[0] + 1, x : x + room[1] + 1] == values[rarest])
    if len(rows) > MOST_PLACES:
        return None
    for top, left in zip(rows.tolist(), columns.tolist(), strict=True):
        if np.array_equal(picture[top : top + height, left : left + width], wanted):
            return left, top
    return None


def grid_shifts(old: Pieces, picture: Words) -> list[tuple[int, int]]:
    """How far some of the old pieces went, each way once, the most common first."""
    votes: Counter[tuple[int, int]] = Counter()
    for index in range(0, len(old.rects), max(1, len(old.rects) // ASKED)):
        place = find_exactly(old.words(index), picture)
        if place is not None:
            rect = old.rects[index]
            votes[place[0] - rect.x, place[1] - rect.y] += 1
    return [shift for shift, _ in votes.most_common()]


def moved_within(old: Pieces, new: Pieces, picture: Words) -> bool:
    """Whether what is drawn moved within cells that stayed where they were, as when all figures of
    a sheet are drawn a pixel lower: not as far as from one cell to another."""
    places = set(new.rects)
    shifts = grid_shifts(old, picture)
    return bool(shifts) and not any(rect.moved(*shifts[0]) in places for rect in old.rects)


def drift(before: Words, old: Rect, after: Words, new: Rect) -> Size:
    """How far the pixels of a piece went to the right and down when its picture was drawn anew and
    the piece became another rectangle. Of one size, it went as a whole. Else what was drawn lies
    on what is drawn now where most pixels are the same: in the middle of the foot, at a corner, or
    where it was in the picture."""
    wide, high = new.width - old.width, new.height - old.height
    corner = Size(new.x - old.x, new.y - old.y)
    if not wide and not high:
        return corner
    places = [(wide // 2, high), *product((0, wide), (0, high)), (wide // 2, high // 2)]
    ways = [Size(corner.width + across, corner.height + down) for across, down in places]
    was = part(before, old)
    return max((*ways, Size(0, 0)), key=lambda way: _same_pixels(was, after, old, way))


def _same_pixels(was: Words, after: Words, old: Rect, way: Size) -> int:
    """How many shown pixels of a piece are shown that far away."""
    place = Rect(max(old.x, 0), max(old.y, 0), was.shape[1], was.shape[0]).moved(*way)
    there = part(after, place)
    left, top = max(-place.x, 0), max(-place.y, 0)
    here = was[top : top + there.shape[0], left : left + there.shape[1]]
    there = there[: here.shape[0], : here.shape[1]]
    return int(np.count_nonzero((here == there) & (here != 0)))


class Follower:
    """Finds where rectangles that no layout cut went, led by those around them."""

    def __init__(self, before: Words, after: Words, pairs: Sequence[tuple[Rect, Rect]]) -> None:
        self._before, self._after = before, after
        self._whole = Rect(0, 0, after.shape[1], after.shape[0])
        self._pairs = pairs

    def place(self, rect: Rect) -> Rect | None:
        """Where a rectangle went, or None when there is nothing like it any more."""
        places = (self._led(rect), rect)
        for place in places:
            if self.same(rect, place):
                return place
        found = find_exactly(part(self._before, rect), self._after)
        if found is not None:
            return Rect(*found, rect.width, rect.height)
        best = max(places, key=lambda place: self._alike(rect, place))
        return best if self._alike(rect, best) >= ENOUGH else None

    def same(self, rect: Rect, place: Rect) -> bool:
        """Whether one rectangle showed exactly what the other shows now."""
        return np.array_equal(part(self._before, rect), part(self._after, place))

    def _led(self, rect: Rect) -> Rect:
        """Where the nearest piece that was found leads."""
        if not self._pairs:
            return rect

        def distance(pair: tuple[Rect, Rect]) -> int:
            return abs(pair[0].x - rect.x) + abs(pair[0].y - rect.y)

        old, new = min(self._pairs, key=distance)
        return Rect(rect.x + new.x - old.x, rect.y + new.y - old.y, rect.width, rect.height)

    def _alike(self, rect: Rect, place: Rect) -> float:
        if place.intersection(self._whole) != place:
            return 0.0
        return alike(pixels(part(self._before, rect)), pixels(part(self._after, place)))
