"""Collision shapes as they are stored: pixels of the piece, y down, from its upper left corner."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal, NamedTuple

from rushweed.core.project.collision import LayerNumber
from rushweed.core.project.facts import SIDES, Side
from rushweed.core.value_ranges import Nearby, one_of
from rushweed.core.values import Point

Stops = Literal["all sides", "one-way", "sensor"]
Ring = tuple[Point, ...]
ROUND = 24
"""A circle is walked on, and handed to games that know none, with this many corners."""


@dataclass(frozen=True, slots=True)
class Box:
    """An upright rectangle."""

    x: Nearby
    y: Nearby
    width: Nearby
    height: Nearby
    kind: Literal["box"] = "box"

    def moved(self, dx: float, dy: float) -> Box:
        """The same box elsewhere."""
        return Box(self.x + dx, self.y + dy, self.width, self.height)

    @property
    def corners(self) -> Ring:
        right, bottom = self.x + self.width, self.y + self.height
        return (
            Point(self.x, self.y),
            Point(self.x, bottom),
            Point(right, bottom),
            Point(right, self.y),
        )

    @property
    def rings(self) -> tuple[Ring, ...]:
        """Its outer corners; a box has no holes."""
        return (self.corners,)


@dataclass(frozen=True, slots=True)
class Polygon:
    """A simple polygon, its corners counter-clockwise as seen on the screen; holes run clockwise
    and lie inside of it."""

    corners: Ring
    holes: tuple[Ring, ...] = ()
    kind: Literal["polygon"] = "polygon"

    def moved(self, dx: float, dy: float) -> Polygon:
        """The same polygon elsewhere."""

        def shifted(ring: Ring) -> Ring:
            return tuple(Point(corner.x + dx, corner.y + dy) for corner in ring)

        return Polygon(shifted(self.corners), tuple(map(shifted, self.holes)))

    @property
    def rings(self) -> tuple[Ring, ...]:
        """Its outer corners, then its holes."""
        return (self.corners, *self.holes)


@dataclass(frozen=True, slots=True)
class Circle:
    """A circle about (x, y)."""

    x: Nearby
    y: Nearby
    radius: Nearby
    kind: Literal["circle"] = "circle"

    def moved(self, dx: float, dy: float) -> Circle:
        """The same circle elsewhere."""
        return Circle(self.x + dx, self.y + dy, self.radius)

    @property
    def corners(self) -> Ring:
        """The circle as a polygon, counter-clockwise as seen on the screen, from its top, in
        thousandths of a pixel."""
        turns = (math.tau * step / ROUND for step in range(ROUND))
        return tuple(
            Point(
                round(self.x - self.radius * math.sin(turn), 3),
                round(self.y - self.radius * math.cos(turn), 3),
            )
            for turn in turns
        )

    @property
    def rings(self) -> tuple[Ring, ...]:
        """Its corners; a circle has no holes."""
        return (self.corners,)


Form = Annotated[Box | Polygon | Circle, one_of()]


class Stopping(NamedTuple):
    """How something stops walkers; a one-way thing, those that come from one side."""

    stops: Stops
    side: Side = "above"

    @classmethod
    def of(cls, stops: Stops, side: Side) -> Stopping:
        """That of something with a side, which matters to what is one-way alone."""
        return cls(stops, side if stops == "one-way" else "above")

    @property
    def carries(self) -> bool:
        """Whether one can stand on it."""
        return self.side == "above" and self.stops != "sensor"


ALL_SIDES = Stopping("all sides")
WAYS = (ALL_SIDES, *(Stopping("one-way", side) for side in SIDES))
"""Every way in which something stops walkers."""


@dataclass(frozen=True, slots=True)
class Shape:
    """A form and whom it stops: what is of a collision layer that meets its `layer`, a one-way
    shape only what comes to it from one `side`, a sensor nobody. `note` is what a sensor tells the
    game."""

    form: Form
    stops: Stops = "all sides"
    layer: LayerNumber = 0
    note: str = ""
    side: Side = "above"

    @property
    def stopping(self) -> Stopping:
        """How it stops, as it is drawn."""
        return Stopping.of(self.stops, self.side)

    @property
    def carries(self) -> bool:
        """Whether one can stand on it."""
        return self.stopping.carries

    def moved(self, dx: float, dy: float) -> Shape:
        """The same shape elsewhere."""
        return replace(self, form=self.form.moved(dx, dy))
