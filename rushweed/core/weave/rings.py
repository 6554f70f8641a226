"""Edges chained to rings."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Indices
from rushweed.core.bound.around import before, least_around, steps_to
from rushweed.core.project.shape import Ring
from rushweed.core.values import Point

FINE = 1 / 4096
"""Places are kept on a grid this fine, in pixels, so that equal ones are equal."""

Segments = npt.NDArray[np.float64]
"""Directed edges of shape (edges, 4): x and y of start and end, what is solid on the left as seen
on the screen with y down, so that outlines run counter-clockwise."""
Ways = npt.NDArray[np.int64]


def chained(segments: Segments) -> list[Ring]:
    """Rings of edges, without corners that lie in line. Where rings touch at a point they are
    kept apart."""
    if not len(segments):
        return []
    whole = np.rint(segments / FINE).astype(np.int64)
    starts, ends = whole[:, :2], whole[:, 2:]
    ways = ends - starts
    following = _following(starts, ends, ways)
    previous = before(following)
    bends = _cross(ways[previous], ways) != 0
    leader = least_around(following)
    numbers = np.arange(len(leader))
    last = (leader == numbers)[following]
    rank = steps_to(np.where(last, numbers, following))
    order = np.lexsort((-rank, leader))
    order = order[bends[order]]
    _, begins = np.unique(leader[order], return_index=True)
    places = (starts[order] * FINE).tolist()
    points = [Point(_plain(x), _plain(y)) for x, y in places]
    rings: list[Ring] = []
    for first, end in pairwise([*begins.tolist(), len(points)]):
        ring = points[first:end]
        loops = [ring] if len(set(ring)) == len(ring) else _loops(ring)
        rings.extend(_begun_above(loop) for loop in loops if len(loop) > 2)
    return sorted(rings)


def _following(starts: Ways, ends: Ways, ways: Ways) -> Indices:
    """The edge after each; where several begin, the one that turns most to the solid side."""
    low = np.minimum(starts.min(axis=0), ends.min(axis=0))
    width = int(max(starts[:, 0].max(), ends[:, 0].max()) - low[0]) + 1
    begin = (starts[:, 1] - low[1]) * width + starts[:, 0] - low[0]
    end = (ends[:, 1] - low[1]) * width + ends[:, 0] - low[0]
    order = np.argsort(begin, kind="stable")
    sorted_begin = begin[order]
    first = np.searchsorted(sorted_begin, end, "left")
    count = np.searchsorted(sorted_begin, end, "right") - first
    following: Indices = order[np.minimum(first, len(order) - 1)]
    best = _turn(ways, ways[following])
    for further in range(1, int(count.max())):
        many = count > further
        other = order[first[many] + further]
        turn = _turn(ways[many], ways[other])
        sharper = turn < best[many]
        at = np.flatnonzero(many)[sharper]
        following[at], best[at] = other[sharper], turn[sharper]
    return following


def _turn(one: Ways, other: Ways) -> npt.NDArray[np.float64]:
    """The angle between edges; negative to the left as seen on the screen."""
    angle: npt.NDArray[np.float64] = np.arctan2(
        _cross(one, other).astype(np.float64), (one * other).sum(axis=1)
    )
    return angle


def _cross(one: Ways, other: Ways) -> Ways:
    result: Ways = one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]
    return result


def _loops(ring: list[Point]) -> list[list[Point]]:
    """A ring that meets itself at corners as several that do not."""
    loops: list[list[Point]] = []
    path: list[Point] = []
    places: dict[Point, int] = {}
    for corner in ring:
        if corner in places:
            start = places[corner]
            loops.append(path[start:])
            for gone in path[start:]:
                del places[gone]
            del path[start:]
        places[corner] = len(path)
        path.append(corner)
    return [*loops, path]


def _begun_above(ring: list[Point]) -> Ring:
    first = min(range(len(ring)), key=lambda place: (ring[place].y, ring[place].x))
    return tuple(ring[first:] + ring[:first])


def _plain(value: float) -> float:
    return int(value) if value == int(value) else value
