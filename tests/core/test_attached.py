"""What is attached to a piece goes along with its pixels, whichever way these are moved."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bound.geometry import contains, signed_area
from rushweed.core.bound.shaping import polygon
from rushweed.core.orientation import turned_point
from rushweed.core.project.attached import carried, moved_form, taken_along
from rushweed.core.project.facts import Facts
from rushweed.core.project.shape import Box, Circle, Form
from rushweed.core.project.sheet import Borders, Piece
from rushweed.core.values import Point, Rect, Size

SIZE = Size(20, 12)
FORMS: list[Form] = [
    Box(3, 2, 9, 5),
    Circle(8, 6, 4),
    polygon(
        [Point(1, 1), Point(17, 3), Point(12, 11), Point(2, 10)],
        [[Point(5, 4), Point(9, 4), Point(7, 7)]],
    ),
]
times = st.sampled_from([0.5, 1.0, 2.0, 3.0])
away = st.integers(-9, 9)


def is_in(form: Form, place: Point) -> bool:
    if isinstance(form, Circle):
        return (place.x - form.x) ** 2 + (place.y - form.y) ** 2 < form.radius**2
    return contains(form.corners, *place) and not any(
        contains(hole, *place) for hole in form.rings[1:]
    )


@given(st.sampled_from(FORMS), st.integers(0, 7), times, away, away)
def test_a_place_is_in_a_form_wherever_both_are_moved(
    form: Form, turn: int, factor: float, across: int, down: int
) -> None:
    def move(place: Point) -> Point:
        x, y = turned_point(place, SIZE, turn)
        return Point(x * factor + across, y * factor + down)

    moved = moved_form(form, move, turn)
    for y, x in np.ndindex(SIZE.height, SIZE.width):
        place = Point(x + 0.37, y + 0.61)
        assert is_in(moved, move(place)) == is_in(form, place)
    if not isinstance(form, Circle):
        assert signed_area(moved.corners) < 0, "counter-clockwise, mirrored or not"


@given(times, away, away, st.integers(0, 9), st.tuples(*[st.integers(0, 5)] * 4))
def test_all_of_a_piece_stays_on_the_pixels_where_it_was(
    factor: float, across: int, down: int, wade: int, rims: tuple[int, int, int, int]
) -> None:
    borders = Borders(*rims)
    piece = Piece(
        1,
        Rect(30, 40, *SIZE),
        Point(7, 12),
        offset=Point(2, -1),
        facts=Facts(wade=wade),
        borders=borders,
    )
    rect = Rect(30 + across, 40 + down, round(SIZE.width * factor), round(SIZE.height * factor))

    def move(place: Point) -> Point:
        x, y = place.x - 30, place.y - 40
        return Point(rect.x + x * factor, rect.y + y * factor)

    after = carried(piece, rect, move)
    assert after.rect == rect and after.pivot == Point(7 * factor, 12 * factor)
    assert tuple(after.offset) == pytest.approx((2 * factor, -factor))
    assert after.facts.wade == round(wade * factor)
    if factor >= 1:
        told = [getattr(after.borders, side) for side in ("left", "top", "right", "bottom")]
        before = [getattr(borders, side) for side in ("left", "top", "right", "bottom")]
        assert told == [round(rim * factor) for rim in before]
    assert after.borders is not None
    assert after.borders.left + after.borders.right < rect.width
    assert after.borders.top + after.borders.bottom < rect.height
    (along,) = taken_along((piece,), across, down)
    assert along == replace(piece, rect=piece.rect.moved(across, down))
