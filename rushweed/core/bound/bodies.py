"""How bodies move: what is set, and where something on a path is at a time."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

from rushweed.core.project.body import Body, Path
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.values import Point

STILL = Point(0, 0)


def set_body(project: Project, numbers: frozenset[int], body: Body) -> Project:
    """Say how pieces move when they stand in a level as props."""
    return with_pieces(project, numbers, lambda piece: replace(piece, body=body))


def place_on_path(path: Path | None, seconds: float) -> Point:
    """How far something is from where it stands, in pixels, after so many seconds.

    It begins at its place, goes through the points in turn, and back or round again. A path with
    no point, or no length, keeps it where it is.
    """
    if path is None or path.seconds <= 0:
        return STILL
    stops, lengths = stops_of(path)
    whole = math.fsum(lengths)
    if whole <= 0:
        return STILL
    share = _share(path, seconds) * whole
    for (start, end), length in zip(pairwise(stops), lengths, strict=True):
        if share <= length and length > 0:
            part = share / length
            return Point(start.x + (end.x - start.x) * part, start.y + (end.y - start.y) * part)
        share -= length
    return stops[-1]


def stops_of(path: Path) -> tuple[list[Point], list[float]]:
    """The places that a path goes through, and how long the way is from each to the next."""
    stops = [STILL, *path.points, *([STILL] if path.way == "round" else [])]
    return stops, [math.dist(*pair) for pair in pairwise(stops)]


def is_still(body: Body) -> bool:
    """Whether a body should travel but has no way to go."""
    return body.kind == "travels" and not any(point != STILL for point in _points(body.path))


def _points(path: Path | None) -> tuple[Point, ...]:
    return path.points if path else ()


def _share(path: Path, seconds: float) -> float:
    """How much of the path lies behind, 0 to 1."""
    rounds = seconds / path.seconds
    if path.way == "there and back":
        rounds %= 2
        part = rounds if rounds <= 1 else 2 - rounds
    else:
        part = rounds % 1
    return part * part * (3 - 2 * part) if path.easing == "eased" else part
