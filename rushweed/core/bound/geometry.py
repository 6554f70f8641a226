"""Polygons: which way they run, where they cross themselves, what is inside."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

from rushweed.core.values import Point, Refusal
from rushweed.core.words import say

MOST_CORNERS = 1024
NO_AREA = say("That shape has no area. Give it at least three corners that are not in line.")


def signed_area(corners: Sequence[Point]) -> float:
    """Twice the area; positive when the corners run clockwise as seen on the screen (y down).

    >>> signed_area([Point(0, 0), Point(4, 0), Point(4, 3)])
    12
    """
    following = (*corners[1:], corners[0])
    return sum(a.x * b.y - b.x * a.y for a, b in zip(corners, following, strict=True))


def tidy(corners: Sequence[Point]) -> tuple[Point, ...]:
    """The same polygon in its one stored form: counter-clockwise as seen on the screen, no
    repeated or straight-through corners, beginning with the uppermost, then leftmost.

    Raises Refusal with one sentence when no area is left, or when it crosses itself.
    """
    if len(corners) > MOST_CORNERS:
        raise Refusal(
            "A shape has at most {most_corners} corners; draw it with fewer.",
            most_corners=MOST_CORNERS,
        )
    kept = _without_needless(corners)
    crossing = find_crossing(kept) if len(kept) > 3 else None
    if crossing is not None:
        raise Refusal(
            "The shape crosses itself near {x:g}, {y:g}. Move a corner there.",
            x=crossing.x,
            y=crossing.y,
        )
    if len(kept) < 3 or signed_area(kept) == 0:
        raise Refusal(NO_AREA)
    if signed_area(kept) > 0:
        kept.reverse()
    first = min(range(len(kept)), key=lambda i: (kept[i].y, kept[i].x))
    return tuple(kept[first:] + kept[:first])


def find_crossing(corners: Sequence[Point]) -> Point | None:
    """A place where two edges meet that are not neighbours, or None.

    >>> find_crossing([Point(0, 0), Point(8, 8), Point(8, 0), Point(0, 8)])
    Point(x=4.0, y=4.0)
    """
    count = len(corners)
    edges = [(corners[i], corners[(i + 1) % count]) for i in range(count)]
    for (i, one), (j, other) in combinations(enumerate(edges), 2):
        if j - i in (1, count - 1):
            continue
        place = _meeting(*one, *other)
        if place is not None:
            return place
    return None


def contains(corners: Sequence[Point], x: float, y: float) -> bool:
    """Whether a point lies inside a polygon, by the even-odd rule.

    >>> contains([Point(0, 0), Point(8, 0), Point(0, 8)], 2, 2)
    True
    """
    inside = False
    for i, a in enumerate(corners):
        b = corners[i - 1]
        if (a.y > y) != (b.y > y) and x < (b.x - a.x) * (y - a.y) / (b.y - a.y) + a.x:
            inside = not inside
    return inside


def _without_needless(corners: Sequence[Point]) -> list[Point]:
    kept = [Point(*corner) for corner in corners]
    changed = True
    while changed and len(kept) >= 3:
        changed = False
        for i, here in enumerate(kept):
            before, after = kept[i - 1], kept[(i + 1) % len(kept)]
            if here == before or _turn(before, here, after) == 0:
                del kept[i]
                changed = True
                break
    return kept


def _turn(a: Point, b: Point, c: Point) -> float:
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)


def _meeting(a: Point, b: Point, c: Point, d: Point) -> Point | None:
    first, second = _turn(a, b, c), _turn(a, b, d)
    third, fourth = _turn(c, d, a), _turn(c, d, b)
    if (first > 0) != (second > 0) and (third > 0) != (fourth > 0) and first != second:
        part = first / (first - second)
        return Point(c.x + (d.x - c.x) * part, c.y + (d.y - c.y) * part)
    for corner, one, other in ((c, a, b), (d, a, b), (a, c, d), (b, c, d)):
        if _turn(one, other, corner) == 0 and _between(one, other, corner):
            return corner
    return None


def _between(a: Point, b: Point, c: Point) -> bool:
    return min(a.x, b.x) <= c.x <= max(a.x, b.x) and min(a.y, b.y) <= c.y <= max(a.y, b.y)
