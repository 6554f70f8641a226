"""Collision shapes as they are stored: pixels of the piece, y down, from its upper left corner."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rushweed.core.values import Point

Stops = Literal["all sides", "one-way", "sensor"]


@dataclass(frozen=True, slots=True)
class Box:
    """An upright rectangle."""

    x: float
    y: float
    width: float
    height: float
    kind: Literal["box"] = "box"

    def moved(self, dx: float, dy: float) -> Box:
        """The same box elsewhere."""
        return Box(self.x + dx, self.y + dy, self.width, self.height)

    @property
    def corners(self) -> tuple[Point, ...]:
        right, bottom = self.x + self.width, self.y + self.height
        return (
            Point(self.x, self.y),
            Point(self.x, bottom),
            Point(right, bottom),
            Point(right, self.y),
        )


@dataclass(frozen=True, slots=True)
class Polygon:
    """A simple polygon, its corners counter-clockwise as seen on the screen."""

    corners: tuple[Point, ...]
    kind: Literal["polygon"] = "polygon"

    def moved(self, dx: float, dy: float) -> Polygon:
        """The same polygon elsewhere."""
        return Polygon(tuple(Point(corner.x + dx, corner.y + dy) for corner in self.corners))


Form = Box | Polygon


@dataclass(frozen=True, slots=True)
class Shape:
    """A form and whom it stops. A one-way shape stops only what comes down onto it."""

    form: Form
    stops: Stops = "all sides"

    def moved(self, dx: float, dy: float) -> Shape:
        """The same shape elsewhere."""
        return Shape(self.form.moved(dx, dy), self.stops)
