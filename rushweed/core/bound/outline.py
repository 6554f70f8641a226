"""Outlines along the edges of pixels."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.bound.geometry import signed_area
from rushweed.core.values import Point

Mask = npt.NDArray[np.bool_]
Ring = tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class Outline:
    """The border of one area: its outer ring, counter-clockwise as seen on the screen, and the
    rings of its holes, clockwise. Corners are whole pixels."""

    outer: Ring
    holes: tuple[Ring, ...]


def trace(mask: Mask) -> list[Outline]:
    """The exact outlines of a mask of shape (height, width), areas joined by sides.

    Pixels that touch only at a corner do not join areas; a ring may touch itself there, but
    never crosses itself.
    Every border is followed with the solid pixels on its left (Moore-neighbour following on
    the dual grid; G. Pavlidis, "Algorithms for Graphics and Image Processing", 1982).
    """
    rings = _rings(mask)
    outers = [ring for ring in rings if signed_area(ring) < 0]
    holes: list[list[Ring]] = [[] for _ in outers]
    for ring in rings:
        if signed_area(ring) > 0:
            holes[_owner(ring, outers)].append(ring)
    return [Outline(outer, tuple(inner)) for outer, inner in zip(outers, holes, strict=True)]


def _rings(mask: Mask) -> list[Ring]:
    leaving = _edges(mask)
    rings = []
    while leaving:
        start = next(iter(leaving))
        rings.append(_follow(leaving, start))
    return rings


def _edges(mask: Mask) -> dict[tuple[int, int], list[tuple[int, int]]]:
    """For every corner the directions of the border edges that leave it, solid on the left."""
    padded = np.pad(mask, 1)
    leaving: dict[tuple[int, int], list[tuple[int, int]]] = {}
    inside, above = padded[1:, 1:-1], padded[:-1, 1:-1]
    left_side, here = padded[1:-1, :-1], padded[1:-1, 1:]

    def add(places: npt.NDArray[np.intp], direction: tuple[int, int], dx: int, dy: int) -> None:
        for y, x in places.tolist():
            leaving.setdefault((x + dx, y + dy), []).append(direction)

    add(np.argwhere(inside & ~above), (-1, 0), 1, 0)
    add(np.argwhere(~inside & above), (1, 0), 0, 0)
    add(np.argwhere(here & ~left_side), (0, 1), 0, 0)
    add(np.argwhere(~here & left_side), (0, -1), 0, 1)
    return leaving


def _follow(leaving: dict[tuple[int, int], list[tuple[int, int]]], start: tuple[int, int]) -> Ring:
    corners: list[Point] = []
    place, previous, first = start, (0, 0), leaving[start][0]
    while place in leaving:
        if place == start and corners and _left_of(previous) == first:
            break
        choices = leaving[place]
        direction = choices[0] if len(choices) == 1 else _sharp_left(choices, previous)
        choices.remove(direction)
        if not choices:
            del leaving[place]
        if direction != previous:
            corners.append(Point(*place))
        place, previous = (place[0] + direction[0], place[1] + direction[1]), direction
    if len(corners) > 1 and _in_line(corners[-1], corners[0], corners[1]):
        del corners[0]
    return tuple(corners)


def _sharp_left(choices: list[tuple[int, int]], previous: tuple[int, int]) -> tuple[int, int]:
    """Where two areas touch at a corner, stay with the same area."""
    left = _left_of(previous)
    return left if left in choices else choices[0]


def _left_of(direction: tuple[int, int]) -> tuple[int, int]:
    return direction[1], -direction[0]


def _in_line(a: Point, b: Point, c: Point) -> bool:
    return (a.x == b.x == c.x) or (a.y == b.y == c.y)


def _owner(hole: Ring, outers: list[Ring]) -> int:
    """The smallest outer ring around a hole."""
    from rushweed.core.bound.geometry import contains

    x, y = _inner_point(hole)
    around = [i for i, outer in enumerate(outers) if contains(outer, x, y)]
    return min(around, key=lambda i: -signed_area(outers[i]))


def _inner_point(ring: Ring) -> tuple[float, float]:
    top = min(ring, key=lambda p: (p.y, p.x))
    return top.x + 0.5, top.y - 0.5
