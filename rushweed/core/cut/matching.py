"""Matching the pieces of a picture with those of a newer one, by content and place.

Pieces with equal pixels are found first, wherever they went; of several alike each goes the way
its neighbours went. Then come those drawn alike in other colours, those changed a little, and
last those that were drawn anew where they stood.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterator
from typing import Literal, NamedTuple

from rushweed.core.arrays import Floats
from rushweed.core.cut.likeness import Pieces, alike
from rushweed.core.values import Rect

How = Literal["same", "moved", "recoloured", "changed", "redrawn", "new", "gone", "back", "scaled"]
ENOUGH = 0.5
"""Pieces at one place are the same, changed, when this share of their pixels is alike."""
SURELY = 0.7
"""Pieces far from each other must be alike in this share."""


class Match(NamedTuple):
    """An old rectangle and the new one it became, by their indexes, and in which way.

    `old` is None for what is new, `new` is None for what is gone.
    """

    old: int | None
    new: int | None
    how: How


def match_pieces(before: Pieces, after: Pieces, in_cells: bool = False) -> list[Match]:
    """What became of each old piece, in their order, then what is new. With `in_cells` what was
    drawn moved within its cells: what lies in the same one is the same piece, whatever it looks
    like elsewhere."""
    matching = _Matching(before, after)
    if in_cells:
        matching.in_the_same_cell()
    matching.by_key(lambda pieces, index: pieces.content(index), "same", anywhere=True)
    matching.by_key(lambda pieces, index: pieces.pattern(index), "recoloured", anywhere=False)
    matching.at_place("changed", ENOUGH)
    matching.by_likeness()
    matching.at_place("redrawn", 0.0)
    return matching.result()


class _Matching:
    """Pairs found so far."""

    def __init__(self, before: Pieces, after: Pieces) -> None:
        self.before, self.after = before, after
        self.became: dict[int, tuple[int, How]] = {}
        self.taken: set[int] = set()
        self.places = {rect: index for index, rect in enumerate(after.rects)}

    def result(self) -> list[Match]:
        matches = []
        for old in range(len(self.before.rects)):
            pair = self.became.get(old)
            matches.append(Match(old, *pair) if pair else Match(old, None, "gone"))
        fresh = (n for n in range(len(self.after.rects)) if n not in self.taken)
        return matches + [Match(None, new, "new") for new in fresh]

    def by_key(
        self, key: Callable[[Pieces, int], Hashable | None], how: How, anywhere: bool
    ) -> None:
        """Pair what has equal keys: first what is one of a kind, then where it is expected, then,
        if `anywhere`, in reading order."""
        old, new = (
            self._groups(self.before, key, self.left()),
            self._groups(self.after, key, self.free()),
        )
        shared = [(old[k], new[k]) for k in old if k in new]
        for group, others in shared:
            if len(group) == len(others) == 1:
                self.pair(group[0], others[0], how)
        expected = dict(self.expected())
        for group, others in shared:
            open_ones = set(others) - self.taken
            for index in group:
                for place in () if index in self.became else expected[index]:
                    if place in open_ones and place not in self.taken:
                        self.pair(index, place, how)
                        break
            if anywhere:
                rest = [index for index in group if index not in self.became]
                spare = [index for index in others if index not in self.taken]
                for index, place in zip(rest, spare, strict=False):
                    self.pair(index, place, how)

    def in_the_same_cell(self) -> None:
        """Pair what has the very same rectangle."""
        for index, rect in enumerate(self.before.rects):
            place = self.places.get(rect)
            if place is not None:
                near = self._likeness(index, place) >= ENOUGH
                same = self.before.content(index) == self.after.content(place)
                self.pair(index, place, "same" if same else "changed" if near else "redrawn")

    def at_place(self, how: How, least: float) -> None:
        """Pair what stands where it is expected, if it is at least that much alike."""
        for index, places in self.expected():
            for place in places:
                if place in self.taken:
                    continue
                if not least or self._likeness(index, place) >= least:
                    self.pair(index, place, how)
                    break

    def by_likeness(self) -> None:
        """Pair what is left and surely alike, the likest first."""
        old, new = self.left(), self.free()
        if not old or not new:
            return
        for index, place in _mutual(self.before.features(old), self.after.features(new)):
            if self._likeness(old[index], new[place]) >= SURELY:
                self.pair(old[index], new[place], "changed")

    def pair(self, old: int, new: int, how: How) -> None:
        if how == "same" and self.before.rects[old] != self.after.rects[new]:
            how = "moved"
        self.became[old] = (new, how)
        self.taken.add(new)

    def left(self) -> list[int]:
        return [i for i in range(len(self.before.rects)) if i not in self.became]

    def free(self) -> list[int]:
        return [i for i in range(len(self.after.rects)) if i not in self.taken]

    def expected(self) -> Iterator[tuple[int, list[int]]]:
        """For each unmatched old piece the new ones that stand where its neighbours in reading
        order lead to, or where it stood."""
        shifts = self._neighbours_shifts()
        for index in self.left():
            rect = self.before.rects[index]
            found = []
            for shift in dict.fromkeys((*shifts[index], (0, 0))):
                place = self._standing_at(
                    Rect(rect.x + shift[0], rect.y + shift[1], rect.width, rect.height)
                )
                if place is not None:
                    found.append(place)
            yield index, found

    def _neighbours_shifts(self) -> list[tuple[tuple[int, int], tuple[int, int]]]:
        count = len(self.before.rects)
        forward, backward = [(0, 0)] * count, [(0, 0)] * count
        for order, shifts in ((range(count), forward), (range(count - 1, -1, -1), backward)):
            last = None
            for index in order:
                if index in self.became:
                    one, other = self.before.rects[index], self.after.rects[self.became[index][0]]
                    last = (other.x - one.x, other.y - one.y)
                shifts[index] = last or (0, 0)
        return list(zip(forward, backward, strict=True))

    def _standing_at(self, rect: Rect) -> int | None:
        exact = self.places.get(rect)
        return exact if exact is not None else self.after.overlapping(rect)

    def _likeness(self, old: int, new: int) -> float:
        return alike(self.before.pixels(old), self.after.pixels(new))

    @staticmethod
    def _groups(
        pieces: Pieces, key: Callable[[Pieces, int], Hashable | None], indexes: list[int]
    ) -> dict[Hashable, list[int]]:
        groups: dict[Hashable, list[int]] = defaultdict(list)
        for index in indexes:
            value = key(pieces, index)
            if value is not None:
                groups[value].append(index)
        return groups


def _mutual(old: Floats, new: Floats) -> Iterator[tuple[int, int]]:
    """Pairs of rows that are each other's nearest."""
    far = (old**2).sum(axis=1)[:, None] + (new**2).sum(axis=1) - 2 * (old @ new.T)
    nearest, back = far.argmin(axis=1), far.argmin(axis=0)
    for index, place in enumerate(nearest.tolist()):
        if back[place] == index:
            yield index, place
