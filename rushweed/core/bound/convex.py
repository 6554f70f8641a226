"""Shapes split into convex parts, for games whose bodies must be convex."""

from __future__ import annotations

from rushweed.core.bound.geometry import signed_area
from rushweed.core.project.shape import Form, Polygon, Ring
from rushweed.core.values import Point

Corners = list[Point]


def convex_parts(form: Form, most: int = 8) -> tuple[Ring, ...]:
    """Convex polygons of at most `most` corners, three or more, that cover a form exactly, all
    with corners of the form, counter-clockwise as seen on the screen.

    Triangles are merged along needless edges (S. Hertel and K. Mehlhorn, Fast triangulation of
    simple polygons, FCT 1983).
    """
    if not isinstance(form, Polygon):
        whole = list(form.corners)
        if len(whole) <= most:
            return (form.corners,)
        return tuple(map(tuple, _merged(_fan(whole), most)))
    if not form.holes and len(form.corners) <= most and _is_convex(list(form.corners)):
        return (form.corners,)
    return tuple(map(tuple, _merged(_triangles(form), most)))


def _fan(ring: Corners) -> list[Corners]:
    return [[ring[0], ring[i], ring[i + 1]] for i in range(1, len(ring) - 1)]


def _triangles(form: Polygon) -> list[Corners]:
    from shapely import Polygon as Area
    from shapely import constrained_delaunay_triangles

    found = []
    for triangle in constrained_delaunay_triangles(Area(form.corners, form.holes)).geoms:
        corners = [Point(x, y) for x, y in list(triangle.exterior.coords)[:3]]
        found.append(corners if signed_area(corners) < 0 else corners[::-1])
    return sorted(found)


def _merged(parts: list[Corners], most: int) -> list[Corners]:
    """Join parts along shared edges, as long as what comes out is convex and small enough."""
    owners = {edge: number for number, part in enumerate(parts) for edge in _edges(part)}
    alive: dict[int, Corners] = dict(enumerate(parts))
    for start, end in list(owners):
        one, other = owners.get((start, end)), owners.get((end, start))
        if one is None or other is None or one == other:
            continue
        joined = _joined(alive[one], alive[other], start, end)
        if len(_tidied(joined)) <= most and _is_convex(joined):
            alive[one] = joined
            del alive[other]
            owners.update(dict.fromkeys(_edges(joined), one))
            del owners[start, end], owners[end, start]
    return [_tidied(part) for part in alive.values()]


def _joined(one: Corners, other: Corners, start: Point, end: Point) -> Corners:
    """Two polygons that share the edge from start to end as one."""
    first, second = one.index(end), other.index(start)
    return one[first:] + one[:first] + (other[second:] + other[:second])[1:-1]


def _tidied(ring: Corners) -> Corners:
    """The ring without the corners that lie in line."""
    return [corner for place, corner in enumerate(ring) if _turn(ring, place) != 0]


def _edges(part: Corners) -> list[tuple[Point, Point]]:
    return [(corner, part[(place + 1) % len(part)]) for place, corner in enumerate(part)]


def _is_convex(ring: Corners) -> bool:
    return all(_turn(ring, place) <= 1e-9 for place in range(len(ring)))


def _turn(ring: Corners, place: int) -> float:
    """How the ring turns at a corner; negative for counter-clockwise on the screen."""
    a, b, c = ring[place - 1], ring[place], ring[(place + 1) % len(ring)]
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x)
