"""Rectangles found again by where they lie, without looking at all of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from itertools import product

from rushweed.core.values import Rect


class Near:
    """Tells which of some rectangles may overlap another one. They are sorted into squares about
    as large as they are themselves, so that each lies in few and each square holds few."""

    def __init__(self, rects: Sequence[Rect]) -> None:
        sides = sorted(max(rect.width, rect.height) for rect in rects)
        self._step = max(1, sides[len(sides) // 2]) if sides else 1
        self._squares: dict[tuple[int, int], list[int]] = defaultdict(list)
        for index, rect in enumerate(rects):
            for square in self._covered(rect):
                self._squares[square].append(index)

    def to(self, rect: Rect) -> list[int]:
        """The indexes of what may overlap a rectangle, in their order."""
        if not self._squares:
            return []
        found = (self._squares.get(square, ()) for square in self._covered(rect))
        return sorted({index for indexes in found for index in indexes})

    def _covered(self, rect: Rect) -> Iterator[tuple[int, int]]:
        across = range(rect.x // self._step, (rect.right - 1) // self._step + 1)
        down = range(rect.y // self._step, (rect.bottom - 1) // self._step + 1)
        return product(across, down)
