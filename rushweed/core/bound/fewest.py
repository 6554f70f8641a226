"""The cheapest ways around rings: which corners to keep when it is known which edges may be drawn.

A shortest way in a graph whose edges all lead onwards, found place by place (R. Bellman, "On a
Routing Problem", 1958): for many rings at once, or for a few one by one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from rushweed.core.arrays import Indices, Reals

Edge = tuple[int, float]
"""How many corners further it leads, and what it costs."""

FEW = 16
"""So many rings are quicker gone around one by one."""


@dataclass(frozen=True, slots=True)
class Edges:
    """The edges that may be drawn from the corners of many rings in a row: how many corners each
    ring has, where the edges of each corner begin, and where the last end, and of each edge how
    many corners further it leads, the shortest of a corner first, and what it costs."""

    counts: Indices
    begins: Indices
    lengths: Indices
    costs: Reals


def fewest_corners(edges: Edges) -> list[list[int]]:
    """The corners of the cheapest way around each ring, in their order; begun at the first corner,
    then once more at one that the first way found, and the cheaper taken."""
    every = np.arange(len(edges.counts))
    found = _ways_around(edges, np.zeros(len(every), np.intp), every)
    middles = np.array([way[len(way) // 2] for way in found], np.intp)
    again = np.flatnonzero([len(way) >= 3 for way in found])
    firsts = np.cumsum(edges.counts) - edges.counts
    for ring, way in zip(again.tolist(), _ways_around(edges, middles, again), strict=True):
        if len(way) >= 3 and set(way) != set(found[ring]):  # it nearly always is the same
            costs = [_cost(edges, int(firsts[ring]), ring, one) for one in (found[ring], way)]
            found[ring] = way if costs[1] < costs[0] else found[ring]
    for ring in np.flatnonzero([len(way) < 3 for way in found]).tolist():
        found[ring] = _triangle(_edges_of(edges, ring))
    return [sorted(way) for way in found]


def _cost(edges: Edges, first: int, ring: int, way: Sequence[int]) -> float:
    """What a way around a ring costs, whose corners begin at `first`."""
    count, total = int(edges.counts[ring]), 0.0
    for corner, following in zip(way, (*way[1:], way[0]), strict=True):
        begin, end = edges.begins[first + corner : first + corner + 2].tolist()
        length = (following - corner) % count
        total += float(edges.costs[begin + np.searchsorted(edges.lengths[begin:end], length)])
    return total


def _ways_around(edges: Edges, starts: Indices, rings: Indices) -> list[list[int]]:
    """The corners of the cheapest ways from a corner of each of some rings around it and back; each
    way begins there. The longest rings, fewer than `FEW`, keep no others waiting."""
    counts = edges.counts[rings]
    limit = np.sort(counts)[-FEW] if len(rings) >= FEW else 0
    many = rings[counts <= limit]
    found = dict(zip(many.tolist(), _ways_together(edges, starts, many), strict=True))
    for ring in rings[counts > limit].tolist():
        found[ring] = _way_around(int(starts[ring]), _edges_of(edges, ring))
    return [found[ring] for ring in rings.tolist()]


def _ways_together(edges: Edges, starts: Indices, some: Indices) -> list[list[int]]:
    """The ways around some rings, place by place in all of them at once."""
    if not len(some):
        return []
    counts, starts = edges.counts[some], starts[some]
    firsts = (np.cumsum(edges.counts) - edges.counts)[some]
    rows = np.cumsum(counts + 1) - (counts + 1)
    cost = np.full(int(rows[-1] + counts[-1] + 1), np.inf)
    before = np.zeros(len(cost), np.intp)
    cost[rows] = 0.0
    order = np.argsort(-counts, kind="stable")
    going = np.searchsorted(-counts[order], -np.arange(counts.max()), "left")
    for place, count in enumerate(going.tolist()):
        ring = order[:count]
        corner = firsts[ring] + (starts[ring] + place) % counts[ring]
        begin = edges.begins[corner]
        many = edges.begins[corner + 1] - begin
        ends = np.cumsum(many)
        edge = np.arange(ends[-1]) + np.repeat(begin - (ends - many), many)
        ring = np.repeat(ring, many)
        reached = place + edges.lengths[edge]
        within = reached <= counts[ring]
        ring, edge, reached = ring[within], edge[within], rows[ring[within]] + reached[within]
        there = cost[rows[ring] + place] + edges.costs[edge]
        better = there < cost[reached]
        cost[reached[better]] = there[better]
        before[reached[better]] = place
    steps = before.tolist()
    return [
        _way_back(steps, row, count, start)
        for row, count, start in zip(rows.tolist(), counts.tolist(), starts.tolist(), strict=True)
    ]


def _way_back(before: Sequence[int], row: int, count: int, start: int) -> list[int]:
    """The corners of a way whose places lie in a row, each with the place before it."""
    way, place = [], count
    while place:
        place = before[row + place]
        way.append((start + place) % count)
    return way[::-1]


def _edges_of(edges: Edges, ring: int) -> list[list[Edge]]:
    """The edges from each corner of one ring."""
    first = int(edges.counts[:ring].sum())
    begins = edges.begins[first : first + edges.counts[ring] + 1].tolist()
    own = slice(begins[0], begins[-1])
    leaving = list(zip(edges.lengths[own].tolist(), edges.costs[own].tolist(), strict=True))
    return [leaving[one - begins[0] : two - begins[0]] for one, two in pairwise(begins)]


def _way_around(start: int, edges: list[list[Edge]]) -> list[int]:
    """The corners of the cheapest way from a corner around one ring and back to it."""
    count = len(edges)
    cost = [float("inf")] * (count + 1)
    before = [0] * (count + 1)
    cost[0] = 0.0
    for place, leaving in enumerate(edges[start:] + edges[:start]):
        here = cost[place]
        for length, more in leaving:
            reached = place + length
            if reached > count:
                break
            there = here + more
            if there < cost[reached]:
                cost[reached] = there
                before[reached] = place
    return _way_back(before, 0, count, start)


def _triangle(edges: list[list[Edge]]) -> list[int]:
    """Three corners around a ring that two would do for, or nothing."""
    count = len(edges)
    ends = [{length for length, _ in leaving} for leaving in edges]
    for one in range(count):
        for way in ends[one]:
            two = (one + way) % count
            for further in ends[two]:
                three = (two + further) % count
                if way + further < count and count - way - further in ends[three]:
                    return [one, two, three]
    return []
