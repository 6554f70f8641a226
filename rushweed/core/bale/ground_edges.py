"""Outlines told as a game wants them: outer rings with their holes, and what ground each edge is
of."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

from rushweed.core.bound.geometry import signed_area
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Ring
from rushweed.core.values import Point, Size
from rushweed.core.walk.underfoot import tiles_at

INSIDE = 0.25
"""So many pixels from an edge, on its solid side, it is asked of what ground it is."""
FINE = 1e-6


class Nested(NamedTuple):
    """An outer ring and the holes in it."""

    outer: Ring
    holes: tuple[Ring, ...]


class Grounded(NamedTuple):
    """A ring with a corner wherever the ground changes, and the kind of ground of the edge that
    begins at each corner, None for no kind."""

    ring: Ring
    grounds: tuple[int | None, ...]


def nested(rings: Iterable[Ring]) -> list[Nested]:
    """Outer rings, counter-clockwise as seen on the screen, each with the clockwise ones that lie
    in it and in no smaller one."""
    outers: list[Ring] = []
    holes: list[Ring] = []
    for ring in rings:
        (outers if signed_area(ring) < 0 else holes).append(ring)
    order = sorted(range(len(outers)), key=lambda place: -signed_area(outers[place]))
    boxes = {place: _box(outers[place]) for place in order}
    inside: dict[int, list[Ring]] = {place: [] for place in order}
    for hole in holes:
        box = _box(hole)
        for place in order:
            if _encloses(boxes[place], box) and _holds(outers[place], hole):
                inside[place].append(hole)
                break
    return [Nested(outer, tuple(inside[place])) for place, outer in enumerate(outers)]


def grounded(project: Project, level: Level, ring: Ring) -> Grounded:
    """A ring of a level's outlines with the ground of each of its edges: that of the foremost tile
    with a shape and a kind of ground on the solid side."""
    corners: list[Point] = []
    grounds: list[int | None] = []
    for start, end in pairwise((*ring, ring[0])):
        last: object = FINE  # no ground
        for at, ground in _along(project, level, start, end):
            if ground != last:
                corners.append(at)
                grounds.append(ground)
                last = ground
    return Grounded(tuple(corners), tuple(grounds))


def has_grounds(project: Project, level: Level) -> bool:
    """Whether any tile of a level is of a kind of ground."""
    used = {number for layer in level.layers for number in layer.cells.used()}
    found = (project.find(number) for number in used)
    return any(pair is not None and pair[1].facts.ground is not None for pair in found)


def _along(
    project: Project, level: Level, start: Point, end: Point
) -> Iterator[tuple[Point, int | None]]:
    """Where an edge enters another cell, and the ground there."""
    dx, dy = end.x - start.x, end.y - start.y
    length = math.hypot(dx, dy)
    if not length:
        return
    aside = Point(dy / length * INSIDE, -dx / length * INSIDE)
    shares = [0.0, *_crossings(start, dx, dy, project.rules.tile), 1.0]
    for first, last in pairwise(shares):
        middle = (first + last) / 2
        x, y = start.x + dx * middle + aside.x, start.y + dy * middle + aside.y
        place = Point(round(start.x + dx * first, 6), round(start.y + dy * first, 6))
        yield (place if first else start), _ground_at(project, level, x, y)


def _crossings(start: Point, dx: float, dy: float, tile: Size) -> list[float]:
    """The shares of an edge at which it crosses borders of cells."""
    found = set()
    for begin, move, side in ((start.x, dx, tile.width), (start.y, dy, tile.height)):
        if move:
            low, high = sorted((begin, begin + move))
            lines = range(math.floor(low / side) + 1, math.ceil(high / side))
            found |= {(line * side - begin) / move for line in lines}
    return sorted(share for share in found if FINE < share < 1 - FINE)


def _ground_at(project: Project, level: Level, x: float, y: float) -> int | None:
    cell = math.floor(x / project.rules.tile.width), math.floor(y / project.rules.tile.height)
    tiles = tiles_at(project, level, cell)
    solid = (piece.facts.ground for piece, _ in tiles if piece.shapes)
    return next((ground for ground in solid if ground is not None), None)


def _box(ring: Ring) -> tuple[float, float, float, float]:
    xs, ys = [corner.x for corner in ring], [corner.y for corner in ring]
    return min(xs), min(ys), max(xs), max(ys)


def _encloses(
    outer: tuple[float, float, float, float], inner: tuple[float, float, float, float]
) -> bool:
    return (
        outer[0] <= inner[0]
        and outer[1] <= inner[1]
        and outer[2] >= inner[2]
        and outer[3] >= inner[3]
    )


def _holds(outer: Ring, hole: Ring) -> bool:
    """Whether a hole lies in a ring, by a place just inside of the hole's first edge."""
    a, b = hole[0], hole[1]
    length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    x = (a.x + b.x) / 2 + (b.y - a.y) / length * INSIDE / 8
    y = (a.y + b.y) / 2 - (b.x - a.x) / length * INSIDE / 8
    return _contains(outer, x, y)


def _contains(ring: Sequence[Point], x: float, y: float) -> bool:
    """The even-odd rule."""
    inside = False
    for a, b in pairwise((*ring, ring[0])):
        if (a.y > y) != (b.y > y) and x < (b.x - a.x) * (y - a.y) / (b.y - a.y) + a.x:
            inside = not inside
    return inside
