"""What ground each edge of an outline is of."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Ring
from rushweed.core.values import Point, Size

INSIDE = 0.25
"""So many pixels from an edge, on its solid side, it is asked of what ground it is."""
FINE = 1e-6


class Grounded(NamedTuple):
    """A ring with a corner wherever the ground changes, and the kind of ground of the edge that
    begins at each corner, None for no kind."""

    ring: Ring
    grounds: tuple[int | None, ...]


class Grounds:
    """The kinds of ground of a level's solid tiles."""

    def __init__(self, project: Project, level: Level) -> None:
        self._tile = project.rules.tile
        self._cells = [layer.cells for layer in reversed(level.layers) if layer.is_walked]
        found = (project.find(number) for cells in self._cells for number in cells.used())
        self._kinds = {
            piece.number: piece.facts.ground
            for _, piece in filter(None, found)
            if piece.shapes and piece.facts.ground is not None
        }

    def __bool__(self) -> bool:
        return bool(self._kinds)

    def of_ring(self, ring: Ring) -> Grounded:
        """A ring of the level's outlines with the ground of each of its edges: that of the foremost
        tile with a shape and a kind of ground on the solid side."""
        corners: list[Point] = []
        grounds: list[int | None] = []
        for start, end in pairwise((*ring, ring[0])):
            last: object = FINE  # no ground
            for at, ground in self._along(start, end):
                if ground != last:
                    corners.append(at)
                    grounds.append(ground)
                    last = ground
        return Grounded(tuple(corners), tuple(grounds))

    def _along(self, start: Point, end: Point) -> Iterator[tuple[Point, int | None]]:
        """Where an edge enters another cell, and the ground there."""
        dx, dy = end.x - start.x, end.y - start.y
        length = math.hypot(dx, dy)
        if not length:
            return
        aside = dy / length * INSIDE, -dx / length * INSIDE
        shares = [0.0, *_crossings(start, dx, dy, self._tile), 1.0]
        for first, last in pairwise(shares):
            middle = (first + last) / 2
            ground = self._at(start.x + dx * middle + aside[0], start.y + dy * middle + aside[1])
            if first:
                yield Point(round(start.x + dx * first, 6), round(start.y + dy * first, 6)), ground
            else:
                yield start, ground

    def _at(self, x: float, y: float) -> int | None:
        column, row = math.floor(x / self._tile.width), math.floor(y / self._tile.height)
        for cells in self._cells:
            ground = self._kinds.get(cells.at(column, row)[0])
            if ground is not None:
                return ground
        return None


def _crossings(start: Point, dx: float, dy: float, tile: Size) -> list[float]:
    """The shares of an edge at which it crosses borders of cells."""
    found = set()
    for begin, move, side in ((start.x, dx, tile.width), (start.y, dy, tile.height)):
        if move:
            low, high = sorted((begin, begin + move))
            lines = range(math.floor(low / side) + 1, math.ceil(high / side))
            found |= {(line * side - begin) / move for line in lines}
    return sorted(share for share in found if FINE < share < 1 - FINE)
