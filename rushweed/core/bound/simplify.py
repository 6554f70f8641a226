"""Outlines with fewer corners: the least number that stays within a distance of every pixel edge.

Corners are chosen among those of the exact outline so that each straight edge keeps within the
distance of all corners it passes over (H. Imai and M. Iri, "Polygonal Approximations of a Curve",
1988). Which edges may be drawn is told for all rings at once, by narrowing for each corner the
directions in which an edge may leave (W. Chan and F. Chin, "Approximation of Polygonal Curves with
Minimum Number of Line Segments", 1996).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Literal

import numpy as np

from rushweed.core.arrays import Indices, Reals
from rushweed.core.bound.fewest import Edges, fewest_corners
from rushweed.core.bound.geometry import signed_area
from rushweed.core.bound.outline import Outline, Ring
from rushweed.core.values import Point, Refusal

Promise = Literal["never outside", "never inside", "nearest"]

CLOSEST = 16.0
SLACK = 1e-9
CLOSER, LEAST = 0.85, 0.4
EVEN = 1e-4
"""How little nearness counts against one corner more."""


def simplified(outlines: Sequence[Outline], distance: float, promise: Promise) -> list[Outline]:
    """Outlines with as few corners as keep within a distance of the exact ones, in pixels.

    *Never outside* stays within what is drawn, *never inside* covers all of it, *nearest* goes
    either way. Rings that would meet others or lose their area stay closer, at last exact.
    Raises Refusal for a distance that is no number from 0 to 16.
    """
    if not 0 <= distance <= CLOSEST:
        raise Refusal("Closeness is from 0 to {closest:g} px.", closest=CLOSEST)
    if distance == 0 or not outlines:
        return list(outlines)
    rings = [ring for outline in outlines for ring in (outline.outer, *outline.holes)]
    drawn = iter(_simplified_rings(rings, distance, promise))
    fewer = [Outline(next(drawn), tuple(next(drawn) for _ in one.holes)) for one in outlines]
    return [
        one if is_whole and _keeps(one, exact, promise) else _closer(exact, distance, promise)
        for one, exact, is_whole in zip(fewer, outlines, _are_whole(fewer), strict=True)
    ]


def filled(outlines: Sequence[Outline]) -> list[Outline]:
    """Outlines without their holes, where they touch themselves parted; those that lie within
    another are covered by it."""
    from rushweed.core.bound.geometry import contains

    whole = [Outline(ring, ()) for outline in outlines for ring in _loops(outline.outer)]
    if len(whole) < 2:
        return whole
    points = [_inner_point(one.outer) for one in whole]
    return [
        one
        for one, point in zip(whole, points, strict=True)
        if not any(other is not one and contains(other.outer, *point) for other in whole)
    ]


def _loops(ring: Ring) -> list[Ring]:
    """The parts of a ring that touches itself, those that go around something drawn."""
    if len(set(ring)) == len(ring):
        return [ring]
    loops: list[Ring] = []
    way: list[Point] = []
    for corner in (*ring, ring[0]):
        if corner in way:
            at = way.index(corner)
            loops.append(_without_straight(way[at:]))
            del way[at:]
        way.append(corner)
    return [loop for loop in loops if len(loop) > 2 and signed_area(loop) < 0]


def _without_straight(corners: list[Point]) -> Ring:
    """The corners at which the way turns."""
    return tuple(
        here
        for before, here, after in zip(
            (corners[-1], *corners), corners, (*corners[1:], corners[0]), strict=False
        )
        if not (before.x == here.x == after.x or before.y == here.y == after.y)
    )


def _inner_point(ring: Ring) -> tuple[float, float]:
    """A point in the pixel at a ring's uppermost, leftmost corner."""
    corner = min(ring, key=lambda place: (place.y, place.x))
    return corner.x + 0.5, corner.y + 0.5


def deviation(exact: Outline, other: Outline) -> float:
    """How far the borders of two outlines are apart at most, in pixels (Hausdorff distance)."""
    from shapely import LinearRing, hausdorff_distance

    pairs = zip((exact.outer, *exact.holes), (other.outer, *other.holes), strict=True)
    return max(
        float(hausdorff_distance(LinearRing(one), LinearRing(two), densify=0.1))
        for one, two in pairs
    )


def _closer(outline: Outline, distance: float, promise: Promise) -> Outline:
    """The outline at the largest of ever smaller distances at which its rings stay apart."""
    while distance > LEAST:
        distance *= CLOSER
        rings = _simplified_rings([outline.outer, *outline.holes], distance, promise)
        fewer = Outline(rings[0], tuple(rings[1:]))
        if all(_are_whole([fewer])) and _keeps(fewer, outline, promise):
            return fewer
    return outline


def _keeps(fewer: Outline, exact: Outline, promise: Promise) -> bool:
    """Whether a promise still holds where borders touch themselves, which single edges cannot
    tell."""
    rings = (exact.outer, *exact.holes)
    if promise == "nearest" or all(len(set(ring)) == len(ring) for ring in rings):
        return True
    from shapely import Polygon

    drawn = Polygon(exact.outer, exact.holes).buffer(0)
    shape = Polygon(fewer.outer, fewer.holes)
    beyond = shape.difference(drawn) if promise == "never outside" else drawn.difference(shape)
    return float(beyond.area) < SLACK


def _are_whole(outlines: Sequence[Outline]) -> list[bool]:
    """Of each outline whether no ring crosses itself or another, and none lost its area."""
    from shapely import is_valid, linearrings, polygons

    whole = [_has_area(outline) for outline in outlines]
    plain = [n for n, one in enumerate(outlines) if whole[n] and not one.holes]
    if plain:
        counts = [len(outlines[n].outer) for n in plain]
        rings = linearrings(
            _corners([outlines[n].outer for n in plain]),
            indices=np.repeat(np.arange(len(plain)), counts),
        )
        for n, is_whole in zip(plain, is_valid(polygons(rings)).tolist(), strict=True):
            whole[n] = is_whole
    for n, one in enumerate(outlines):
        if whole[n] and one.holes:
            holes = [linearrings(hole) for hole in one.holes]
            whole[n] = bool(is_valid(polygons(linearrings(one.outer), holes)))
    return whole


def _has_area(outline: Outline) -> bool:
    rings = (outline.outer, *outline.holes)
    if any(len(ring) < 3 for ring in rings) or signed_area(outline.outer) >= 0:
        return False
    return all(signed_area(hole) > 0 for hole in outline.holes)


@dataclass(slots=True)
class _Rings:
    """The corners of many rings in a row: places, and for each corner its ring's first corner and
    number of corners."""

    x: Reals
    y: Reals
    first: Indices
    count: Indices

    def after(self, corner: Indices, steps: int) -> Indices:
        """The corners so many steps further along their rings."""
        first = self.first[corner]
        return first + (corner - first + steps) % self.count[corner]


def _corners(rings: Sequence[Ring]) -> Reals:
    """The corners of some rings, one after the other, of shape (corners, 2)."""
    flat = chain.from_iterable(chain.from_iterable(rings))
    return np.fromiter(flat, np.float64).reshape(-1, 2)


def _simplified_rings(rings: Sequence[Ring], distance: float, promise: Promise) -> list[Ring]:
    corners = _corners(rings)
    counts = np.array([len(ring) for ring in rings], np.intp)
    first = np.cumsum(counts) - counts
    x, y = corners[:, 0].copy(), corners[:, 1].copy()
    row = _Rings(x, y, np.repeat(first, counts), np.repeat(counts, counts))
    edges = _edges(row, distance, promise)
    begins = np.searchsorted(edges[0], np.arange(len(corners) + 1))
    chosen = fewest_corners(Edges(counts, begins, edges[1], edges[2]))
    return [
        tuple(ring[place] for place in places) for ring, places in zip(rings, chosen, strict=True)
    ]


def _edges(row: _Rings, distance: float, promise: Promise) -> tuple[Indices, Indices, Reals]:
    """All edges that may be drawn, ordered by where they begin: their first corners, how many
    corners on they end, and what they cost."""
    active = np.arange(len(row.x))
    base = np.full(len(active), np.nan)
    low, high = np.full(len(active), -np.inf), np.full(len(active), np.inf)
    starts, lengths, costs = [], [], []
    steps = 0
    while len(active):
        steps += 1
        end = row.after(active, steps)
        dx, dy = row.x[end] - row.x[active], row.y[end] - row.y[active]
        far, angle = np.hypot(dx, dy), np.arctan2(dy, dx)
        base = np.where(np.isnan(base) & (far > 0), angle, base)
        turn = (angle - base + np.pi) % (2 * np.pi) - np.pi
        may = (far > 0) & (turn >= low - SLACK) & (turn <= high + SLACK)
        error = _farthest(row, active[may], steps, promise)
        good = error <= distance + SLACK
        starts.append(active[may][good])
        lengths.append(np.full(good.sum(), steps))
        costs.append(1 + EVEN * error[good] / distance)
        with np.errstate(invalid="ignore", divide="ignore"):
            spread = np.where(far > distance, np.arcsin(np.minimum(distance / far, 1)), np.inf)
        low = np.maximum(low, turn - spread)
        high = np.minimum(high, turn + spread)
        if promise == "never outside":
            high = np.where(far > 0, np.minimum(high, turn), high)
        elif promise == "never inside":
            low = np.where(far > 0, np.maximum(low, turn), low)
        going = (low <= high + SLACK) & (steps + 1 < row.count[active])
        active, base, low, high = active[going], base[going], low[going], high[going]
    start, length, cost = np.concatenate(starts), np.concatenate(lengths), np.concatenate(costs)
    order = np.argsort(start, kind="stable")
    return start[order], length[order], cost[order]


def _farthest(row: _Rings, start: Indices, steps: int, promise: Promise) -> Reals:
    """How far the corners that edges pass over lie from them at most; endless where one lies on
    the side that a promise forbids."""
    end = row.after(start, steps)
    dx, dy = row.x[end] - row.x[start], row.y[end] - row.y[start]
    length = dx * dx + dy * dy
    worst = np.zeros(len(start))
    for step in range(1, steps):
        between = row.after(start, step)
        px, py = row.x[between] - row.x[start], row.y[between] - row.y[start]
        part = np.clip((px * dx + py * dy) / length, 0, 1)
        worst = np.maximum(worst, np.hypot(px - part * dx, py - part * dy))
        side = dx * py - dy * px  # above nought to the right of the way, where nothing is drawn
        if promise == "never outside":
            worst = np.where(side < -SLACK, np.inf, worst)
        elif promise == "never inside":
            worst = np.where(side > SLACK, np.inf, worst)
    return worst
