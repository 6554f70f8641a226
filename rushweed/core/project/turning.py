"""Sides and facts of tiles that are turned and flipped."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.orientation import turned_point
from rushweed.core.project.facts import SIDES, Current, Facts, Side
from rushweed.core.project.shape import Shape, Stopping
from rushweed.core.values import Point, Size

STILL = Current()
MIDDLES: dict[Side, Point] = {
    "left": Point(0, 1),
    "right": Point(2, 1),
    "above": Point(1, 0),
    "below": Point(1, 2),
}
CLOCKWISE: tuple[Side, ...] = ("above", "right", "below", "left")


def turned_facts(facts: Facts, orientation: int) -> Facts:
    """Facts whose sides are turned and flipped."""
    sides = {turned_side(side, orientation) for side in facts.entry}
    current = turned_current(facts.current, orientation)
    return replace(facts, entry=tuple(s for s in SIDES if s in sides), current=current)


def turned_current(current: Current, orientation: int) -> Current:
    """Which way a tile carries when it is turned and flipped."""
    if current == STILL:
        return current
    way = Point(1 + current.across, 1 + current.down)
    across, down = turned_point(way, Size(2, 2), orientation)
    return Current(across - 1, down - 1)


def turned_side(side: Side, orientation: int) -> Side:
    """The side that one comes to be when its tile is turned and flipped."""
    place = turned_point(MIDDLES[side], Size(2, 2), orientation)
    return next(name for name, middle in MIDDLES.items() if middle == place)


def rotated_side(side: Side, degrees: int) -> Side:
    """The side that one comes nearest to when its thing is rotated clockwise.

    >>> rotated_side("above", 100)
    'right'
    """
    quarters = (degrees % 360 + 45) // 90
    return CLOCKWISE[(CLOCKWISE.index(side) + quarters) % 4]


def turned_stopping(shape: Shape, orientation: int) -> Stopping:
    """How a shape stops when its tile is turned and flipped."""
    stops, side = shape.stopping
    return Stopping(stops, turned_side(side, orientation) if stops == "one-way" else side)
