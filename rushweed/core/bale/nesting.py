"""Which holes lie in which outer rings."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections import defaultdict
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import NamedTuple

from rushweed.core.bound.geometry import contains, signed_area
from rushweed.core.project.shape import Ring
from rushweed.core.values import Point

BESIDE = 1 / 32
"""So many pixels from a hole's edge, on its solid side, it is asked what is to the left."""
ALONG = 0.25
"""So many pixels along the edge from its corner."""
BAND = 16.0
"""Edges are kept by bands so many pixels high."""


class Nested(NamedTuple):
    """An outer ring and the holes in it."""

    outer: Ring
    holes: tuple[Ring, ...]


def nested(rings: Iterable[Ring]) -> list[Nested]:
    """Outer rings, counter-clockwise as seen on the screen, each with the clockwise ones that lie
    in it and in no smaller one.

    From the solid side of a hole's edge one goes left until the next edge: it is of the outer ring,
    or of another hole in it. So each hole costs as much as its row has edges nearby.
    """
    outers: list[Ring] = []
    holes: list[Ring] = []
    for ring in rings:
        (outers if signed_area(ring) < 0 else holes).append(ring)
    whole = [*outers, *holes]
    edges = _Edges(whole)
    beside = [edges.left_of(*_solid_place(hole)) for hole in holes]
    inside: dict[int, list[Ring]] = defaultdict(list)
    for place, hole in enumerate(holes):
        outer = _outer_of(place, beside, len(outers))
        inside[outer if outer >= 0 else _smallest_around(hole, outers)].append(hole)
    return [Nested(outer, tuple(inside[place])) for place, outer in enumerate(outers)]


def _outer_of(hole: int, beside: Sequence[int], outers: int) -> int:
    """The outer ring that one comes to from hole to hole; -1 where there is none."""
    met: set[int] = set()
    ring = beside[hole]
    while ring >= outers and ring not in met:
        met.add(ring)
        ring = beside[ring - outers]
    return ring if ring < outers else -1


def _smallest_around(hole: Ring, outers: Sequence[Ring]) -> int:
    """The smallest outer ring that a hole lies in; -1 where there is none."""
    x, y = _solid_place(hole)
    around = [place for place, outer in enumerate(outers) if contains(outer, x, y)]
    return max(around, key=lambda place: signed_area(outers[place]), default=-1)


def _solid_place(hole: Ring) -> tuple[float, float]:
    """A place just outside of a hole, beside the corner that lies farthest left: the hole itself
    does not lie to the left of it."""
    corner = min(range(len(hole)), key=lambda place: (hole[place].x, hole[place].y))
    before, here, after = hole[corner - 1], hole[corner], hole[(corner + 1) % len(hole)]
    up = abs(after.y - here.y) >= abs(here.y - before.y)
    a, b = (here, after) if up else (before, here)
    length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    along = min(ALONG / length, 0.5) * (1 if up else -1)
    x = here.x + (b.x - a.x) * along + (b.y - a.y) / length * BESIDE
    return x, here.y + (b.y - a.y) * along - (b.x - a.x) / length * BESIDE


class _Edges:
    """The edges of rings that are not level, by bands and from left to right."""

    def __init__(self, rings: Sequence[Ring]) -> None:
        self._bands: dict[int, list[tuple[float, Point, Point, int]]] = defaultdict(list)
        for number, ring in enumerate(rings):
            for a, b in pairwise((*ring, ring[0])):
                if a.y == b.y:
                    continue
                low, high = sorted((a.y, b.y))
                for band in range(math.floor(low / BAND), math.floor(high / BAND) + 1):
                    self._bands[band].append((min(a.x, b.x), a, b, number))
        self._widest: dict[int, float] = {}
        for key, band_edges in self._bands.items():
            band_edges.sort(key=lambda edge: edge[0])
            self._widest[key] = max(abs(a.x - b.x) for _, a, b, _ in band_edges)

    def left_of(self, x: float, y: float) -> int:
        """The ring of the next edge to the left of a place; -1 where there is none."""
        band = math.floor(y / BAND)
        edges = self._bands.get(band, [])
        nearest, ring = -math.inf, -1
        for place in range(bisect_right(edges, x, key=lambda edge: edge[0]) - 1, -1, -1):
            left, a, b, number = edges[place]
            if left + self._widest[band] < nearest:
                break
            if (a.y > y) == (b.y > y):
                continue
            at = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y)
            if nearest < at < x:
                nearest, ring = at, number
        return ring
