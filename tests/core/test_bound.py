"""Shapes: one stored form whatever the drawing, and outlines that hold every pixel."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from rushweed.core.bound.geometry import contains, find_crossing, signed_area, tidy
from rushweed.core.bound.outline import trace
from rushweed.core.bound.shaping import (
    add_shape,
    box,
    full_box,
    polygon,
    set_shapes,
    set_stops,
)
from rushweed.core.gauge.pivots import ANCHORS, anchored, set_anchor, set_pivot
from rushweed.core.gauge.sampling import scaled
from rushweed.core.gauge.treating import (
    differing_points,
    set_filter,
    set_pixels_per_unit,
    set_treatment,
)
from rushweed.core.gauge.units import figure, size_sentence, to_units, units
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.samples import checkered

masks = st.integers(0, 2**36 - 1).map(
    lambda bits: np.array([bits >> i & 1 for i in range(36)], bool).reshape(6, 6)
)


@given(masks)
def test_outlines_cover_exactly_the_solid_pixels(mask: np.ndarray) -> None:
    outlines = trace(mask)
    for y in range(6):
        for x in range(6):
            inside = sum(
                contains(o.outer, x + 0.5, y + 0.5)
                and not any(contains(hole, x + 0.5, y + 0.5) for hole in o.holes)
                for o in outlines
            )
            assert inside == mask[y, x]
    for outline in outlines:
        assert signed_area(outline.outer) < 0, "counter-clockwise on the screen"
        assert all(signed_area(hole) > 0 for hole in outline.holes)
        for ring in (outline.outer, *outline.holes):
            ends = zip(ring, (*ring[1:], ring[0]), strict=True)
            assert all((a.x == b.x) != (a.y == b.y) for a, b in ends)
    area = sum(-signed_area(o.outer) - sum(signed_area(h) for h in o.holes) for o in outlines)
    assert area == 2 * mask.sum()


corner = st.builds(Point, st.integers(0, 8), st.integers(0, 8))


@given(st.lists(corner, min_size=3, max_size=6, unique=True), st.integers(0, 5), st.booleans())
def test_any_way_of_drawing_gives_the_same_stored_shape(
    corners: list[Point], start: int, backwards: bool
) -> None:
    assume(find_crossing(corners) is None)
    try:
        stored = tidy(corners)
    except Refusal:
        assume(False)
    turned = corners[start % len(corners) :] + corners[: start % len(corners)]
    drawn = turned[::-1] if backwards else turned
    doubled = [c for c in drawn for _ in range(2)]
    assert tidy(drawn) == tidy(doubled) == stored
    assert signed_area(stored) < 0
    assert abs(signed_area(stored)) == abs(signed_area(corners))


def test_shapes_that_cannot_be_are_refused() -> None:
    bow = [Point(0, 0), Point(8, 8), Point(8, 0), Point(0, 8)]
    with pytest.raises(Refusal, match="crosses itself near 4, 4"):
        polygon(bow)
    for corners in ([Point(0, 0), Point(4, 4)], [Point(0, 0), Point(4, 4), Point(8, 8)], []):
        with pytest.raises(Refusal, match="no area"):
            polygon(corners)
    with pytest.raises(Refusal, match="at most"):
        polygon([Point(i, i * i % 7) for i in range(10_000)])
    with pytest.raises(Refusal, match="no area"):
        box(Point(3, 3), Point(3, 9))
    assert box(Point(9, 2), Point(3, 8)) == box(Point(3, 8), Point(9, 2))


def two_sheets() -> Project:
    source = Source("art/x.png", "0" * 64, Size(32, 16))

    def pieces(first: int) -> tuple[Piece, ...]:
        small = Piece(first + 1, Rect(16, 0, 15, 9), Point(7, 9))
        return (Piece(first, Rect(0, 0, 16, 16), Point(8, 16)), small)

    named = (("reed", 1), ("heron", 3))
    return Project(sheets=tuple(Sheet(name, (source,), pieces=pieces(n)) for name, n in named))


def test_many_pieces_at_once_and_the_others_stay_the_same_objects() -> None:
    project = two_sheets()
    shape = Shape(full_box(Size(16, 5)), "one-way")
    some = set_shapes(project, frozenset({1, 3}), (shape,))
    assert [p.shapes for _, p in some.pieces()] == [(shape,), None, (shape,), None]
    assert some.sheet("reed").pieces[1] is project.sheet("reed").pieces[1]
    one = set_shapes(project, frozenset({1}), ())
    assert one.sheet("heron") is project.sheet("heron"), "what is not touched is shared"
    both = set_stops(add_shape(some, frozenset({1, 2}), shape), frozenset({1, 2}), "sensor")
    assert {s.stops for _, p in both.pieces() if p.number < 3 for s in p.shapes or ()} == {"sensor"}
    assert set_shapes(both, frozenset({1}), None).find(1)[1].shapes is None  # type: ignore[index]
    assert shape.form.corners[1] == Point(0, 5)


def test_pivots_move_and_shapes_stay_on_the_picture() -> None:
    project = set_shapes(two_sheets(), frozenset({1, 2}), (Shape(full_box(Size(4, 4))),))
    for name in ANCHORS:
        moved = set_anchor(project, frozenset({1, 2, 3}), name)
        for before, after in zip(project.pieces(), moved.pieces(), strict=True):
            assert after[1].shapes == before[1].shapes
            if after[1].number < 4:
                assert after[1].pivot == anchored(after[1], name)
                assert after[1].pivot == Point(int(after[1].pivot.x), int(after[1].pivot.y))
    assert [p.pivot for _, p in set_pivot(project, frozenset({2}), y=-3).pieces()][1] == Point(
        7, -3
    )
    with pytest.raises(Refusal, match="within 4096 px"):
        set_pivot(project, frozenset({1}), x=1e9)


def test_treatments_are_shared_and_differences_are_said() -> None:
    project = two_sheets()
    changed = set_filter(set_pixels_per_unit(project, ("reed",), 8), ("reed",), "linear")
    sheet = changed.sheet("reed")
    assert treatment_of(changed, sheet).pixels_per_unit == 8
    assert differing_points(sheet) == ["pixels per unit", "filtering"]
    assert set_filter(set_pixels_per_unit(changed, ("reed",), 16), ("reed",), "nearest") == project
    painted = set_treatment(changed, ("reed", "heron"), "Painted")
    assert {treatment_of(painted, s).pixels_per_unit for s in painted.sheets} == {100}
    for number in (0, -4, 99999):
        with pytest.raises(Refusal, match="whole number from 1"):
            set_pixels_per_unit(project, ("reed",), number)
    with pytest.raises(Refusal, match="no treatment"):
        set_treatment(project, ("reed",), "Lost")


@given(st.integers(1, 7), st.integers(1, 7), st.integers(1, 4), st.integers(0, 3))
def test_nearest_repeats_and_linear_stays_between(w: int, h: int, k: int, seed: int) -> None:
    picture = checkered(w, h, seed)
    picture[..., 3] = np.random.default_rng(seed).choice([0, 128, 255], (h, w))
    big = scaled(picture, w * k, h * k, "nearest")
    np.testing.assert_array_equal(big, np.repeat(np.repeat(picture, k, 0), k, 1))
    np.testing.assert_array_equal(scaled(big, w, h, "nearest"), picture)
    smooth = scaled(picture, w * k, h * k, "linear")
    assert smooth[..., 3].max() <= picture[..., 3].max()
    seen = picture[picture[..., 3] > 0]
    if len(seen) and (smooth[..., 3] > 8).any():
        assert smooth[smooth[..., 3] > 8][:, :3].max() <= int(seen[:, :3].max()) + 4
    assert scaled(picture, 0, 5, "linear").size == 0


def test_sizes_in_words() -> None:
    assert units(1.0) == "1 unit" and units(1.875) == "1.88 units" and figure(0.0625, 5) == "0.0625"
    assert "1/8 unit" in size_sentence(Project(), 8) and "2 units" in size_sentence(Project(), 8)
    assert to_units(Point(32, 16), 16, y_up=True) == Point(2, -1)
