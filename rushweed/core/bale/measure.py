"""From pixels, y down, to what a recipe wants."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.values import Point

PLACES = 6
"""Places in units are given with so many decimals."""


@dataclass(frozen=True, slots=True)
class Measure:
    """`floor` is the height that y is measured up from, in pixels, None for y down; lengths are
    divided by `divisor`."""

    floor: float | None = None
    divisor: int = 1

    def place(self, point: Point) -> Point:
        """A place."""
        y = point.y if self.floor is None else self.floor - point.y
        return Point(self.length(point.x), self.length(y))

    def way(self, point: Point) -> Point:
        """A place from another one: only its direction is turned."""
        y = point.y if self.floor is None else -point.y
        return Point(self.length(point.x), self.length(y))

    def length(self, value: float) -> float:
        """A length; whole ones as whole numbers."""
        result = value if self.divisor == 1 else round(value / self.divisor, PLACES)
        return int(result) if result == int(result) else result
