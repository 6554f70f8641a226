"""Shapes cut into slabs with upright sides, on which one can stand and at which one stops."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from rushweed.core.orientation import turned_point
from rushweed.core.project.facts import Side
from rushweed.core.project.shape import Shape, Stopping, Stops
from rushweed.core.project.turning import turned_side
from rushweed.core.values import Point, Size


@dataclass(frozen=True, slots=True)
class Slab:
    """A trapezium with upright sides from `left` to `right`: its upper edge runs from
    `top_left` to `top_right`, its lower one from `bottom_left` to `bottom_right`. In pixels. A
    one-way slab stops what comes from its `side`.
    """

    left: float
    right: float
    top_left: float
    top_right: float
    bottom_left: float
    bottom_right: float
    stops: Stops
    piece: int = 0
    body: int = -1
    side: Side = "above"

    def moved(self, x: float, y: float, piece: int, body: int = -1) -> Slab:
        """The same slab elsewhere, of a piece, and of a body of the world by its place there."""
        return Slab(
            self.left + x,
            self.right + x,
            self.top_left + y,
            self.top_right + y,
            self.bottom_left + y,
            self.bottom_right + y,
            self.stops,
            piece,
            body,
            self.side,
        )

    @property
    def stopping(self) -> Stopping:
        """How it stops."""
        return Stopping.of(self.stops, self.side)

    @property
    def carries(self) -> bool:
        """Whether one can stand on it."""
        return self.stopping.carries

    def top_at(self, x: float) -> float:
        """The height of the upper edge at x, which lies between left and right."""
        if self.top_left == self.top_right:
            return self.top_left
        part = (x - self.left) / (self.right - self.left)
        return self.top_left + (self.top_right - self.top_left) * part

    def bottom_at(self, x: float) -> float:
        """The height of the lower edge at x."""
        if self.bottom_left == self.bottom_right:
            return self.bottom_left
        part = (x - self.left) / (self.right - self.left)
        return self.bottom_left + (self.bottom_right - self.bottom_left) * part

    def top_between(self, left: float, right: float) -> float:
        """The highest place of the upper edge within a span that overlaps the slab."""
        if self.top_left == self.top_right:
            return self.top_left
        return min(self.top_at(max(left, self.left)), self.top_at(min(right, self.right)))

    def bottom_between(self, left: float, right: float) -> float:
        """The lowest place of the lower edge within a span that overlaps the slab."""
        if self.bottom_left == self.bottom_right:
            return self.bottom_left
        return max(self.bottom_at(max(left, self.left)), self.bottom_at(min(right, self.right)))


@lru_cache(maxsize=4096)
def slabs(shapes: tuple[Shape, ...], size: Size, orientation: int) -> tuple[Slab, ...]:
    """A piece's solid shapes as slabs, in pixels of the piece turned like that."""
    found: list[Slab] = []
    for shape in shapes:
        if shape.stops != "sensor":
            rings = [
                [turned_point(corner, size, orientation) for corner in ring]
                for ring in shape.form.rings
            ]
            side = turned_side(shape.side, orientation)
            found.extend(_sliced(rings, shape.stops, side))
    return tuple(found)


def _sliced(rings: list[list[Point]], stops: Stops, side: Side) -> Iterator[Slab]:
    """Cut a polygon, its outer ring and its holes, upright at each of its corners."""
    edges = [(ring[i - 1], corner) for ring in rings for i, corner in enumerate(ring)]
    places = sorted({corner.x for ring in rings for corner in ring})
    for left, right in itertools.pairwise(places):
        crossing = sorted(
            (
                (_height(a, b, left), _height(a, b, right))
                for a, b in edges
                if _spans(a, b, left, right)
            ),
            key=sum,
        )
        for upper, lower in zip(crossing[::2], crossing[1::2], strict=True):
            yield Slab(left, right, *upper, *lower, stops, side=side)


def _spans(a: Point, b: Point, left: float, right: float) -> bool:
    return min(a.x, b.x) <= left and max(a.x, b.x) >= right


def _height(a: Point, b: Point, x: float) -> float:
    return a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x)
