"""Props of any size and turn: pixels, areas, shapes, gaps and rows agree with each other."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.findings.weave import uneven_props
from rushweed.core.gather.art import Art
from rushweed.core.gauge.borders import surround
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Polygon, Shape
from rushweed.core.project.sheet import Borders
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.drawing import Scene
from rushweed.core.weave.fitting_props import (
    fill_gap,
    gap_around,
    line_up_props,
    pose_props,
    uneven,
)
from rushweed.core.weave.posing import posed, posed_shapes, prop_area
from rushweed.core.weave.props import flip_props, turn_props
from tests.conftest import DEMO

FACTORS = st.sampled_from((0.25, 0.5, 1.0, 1.5, 2.0, 3.7, 8.0))
POSES = st.builds(
    Prop,
    st.just(0),
    st.floats(-50, 50),
    st.floats(-50, 50),
    st.integers(0, 7),
    across=FACTORS,
    down=FACTORS,
    angle=st.integers(-359, 359),
)


@pytest.fixture(scope="module")
def demo_project() -> Project:
    return files.load(DEMO)


def boulder(project: Project) -> int:
    return next(p.number for p in project.sheet("fen_above").pieces if p.name == "boulder")


def level_with(project: Project, *props: Prop, cells: Cells | None = None) -> Project:
    layer = Layer("Things", cells or Cells(), props)
    return replace(project, levels=(Level("Bench", (layer,)),))


@given(POSES)
def test_what_is_drawn_lies_in_the_area_and_fills_it_where_nothing_is_turned(prop: Prop) -> None:
    project = files.load(DEMO)
    prop = replace(prop, piece=boulder(project))
    area = prop_area(project, prop)
    view = Rect(area.x - 3, area.y - 3, area.width + 6, area.height + 6)
    edited = level_with(project, prop)
    scene = Scene(edited, Art(DEMO))
    drawn = scene.level(edited.levels[0], view)
    changed = (drawn != scene.background(edited.levels[0], view.size)).any(axis=2)
    rows, columns = np.nonzero(changed)
    if len(rows):
        assert rows.min() >= 3 and columns.min() >= 3
        assert rows.max() < 3 + area.height and columns.max() < 3 + area.width


@given(st.integers(1, 40), st.integers(1, 40), POSES)
def test_whole_factors_make_every_pixel_a_block_of_one_colour(
    width: int, height: int, prop: Prop
) -> None:
    values = np.arange(width * height * 4, dtype=np.uint32).astype(np.uint8)
    picture = values.reshape(height, width, 4)
    plain = replace(prop, across=3.0, down=2.0, angle=0, orientation=0)
    drawn, pivot = posed(picture, plain, Point(width / 2, height))
    np.testing.assert_array_equal(drawn, picture.repeat(2, axis=0).repeat(3, axis=1))
    assert pivot == (width * 1.5, height * 2)


@given(POSES)
def test_four_quarter_turns_and_two_flips_bring_a_prop_back(prop: Prop) -> None:
    project = level_with(files.load(DEMO), replace(prop, piece=1))
    once = turn_props(project, "Bench", 0, {0})
    again = once
    for _ in range(3):
        again = turn_props(again, "Bench", 0, {0})
    assert again == project != once
    for down in (False, True):
        flipped = flip_props(project, "Bench", 0, {0}, down)
        assert flip_props(flipped, "Bench", 0, {0}, down) == project


@given(POSES)
def test_shapes_lie_where_their_pixels_do(prop: Prop) -> None:
    """A piece that is one full box: its shape's bounds are those of the drawn pixels."""
    project = files.load(DEMO)
    found = project.find(boulder(project))
    assert found is not None
    width, height = found[1].rect.size
    corners = (Point(0, 0), Point(0, height), Point(width, height), Point(width, 0))
    piece = replace(found[1], shapes=(Shape(Polygon(corners)),))
    (shape,) = posed_shapes(piece, prop)
    drawn, pivot = posed(np.full((height, width, 4), 255, np.uint8), prop, piece.standing)
    xs, ys = zip(*shape.form.corners, strict=True)
    assert abs(min(xs) + pivot.x) <= 1.01 and abs(max(xs) + pivot.x - drawn.shape[1]) <= 1.01
    assert abs(min(ys) + pivot.y) <= 1.01 and abs(max(ys) + pivot.y - drawn.shape[0]) <= 1.01


@given(
    st.integers(8, 24),
    st.integers(8, 24),
    st.integers(1, 6),
    st.integers(1, 6),
    st.sampled_from(("stretched", "tiled")),
)
def test_a_bordered_prop_is_the_very_surround(
    width: int, height: int, across: int, down: int, middle: str
) -> None:
    picture = np.random.default_rng(3).integers(0, 255, (height, width, 4), np.uint8)
    borders = Borders(2, 1, 3, 2, middle)  # type: ignore[arg-type]
    prop = Prop(0, 0, 0, across=across, down=down)
    drawn, _ = posed(picture, prop, Point(0, 0), borders)
    wanted = surround(picture, borders, Size(width * across, height * down))
    corner = np.s_[:1, :2]
    np.testing.assert_array_equal(drawn[corner], wanted[corner])
    np.testing.assert_array_equal(drawn[-2:, -3:], picture[-2:, -3:])
    if middle == "tiled":
        np.testing.assert_array_equal(drawn, wanted)


def test_a_prop_fills_the_gap_between_props_and_what_is_solid(demo_project: Project) -> None:
    ground = next(
        p.number
        for p in demo_project.sheet("fen_ground").pieces
        if any(shape.stops == "all sides" for shape in p.shapes or ())
    )
    number = boulder(demo_project)
    floor = Cells().painted({(x, 8): (ground, 0) for x in range(20)})
    floor = floor.painted({(3, y): (ground, 0) for y in range(9)})
    right = Prop(number, 160, 126, down=5)
    left_of = prop_area(demo_project, right).x
    for turn in range(8):
        turned = replace(Prop(number, 100, 100, turn), angle=90 * (turn % 3))
        bench = level_with(demo_project, turned, right, cells=floor)
        gap = gap_around(bench, bench.levels[0], 0, 0)
        assert (gap.x, gap.right, gap.bottom) == (64, left_of, 128)
        filled = fill_gap(bench, "Bench", 0, 0).levels[0].layers[0].props[0]
        assert prop_area(bench, filled).intersection(gap) == gap
    with pytest.raises(Refusal, match="turned by degrees"):
        fill_gap(level_with(demo_project, replace(right, angle=30)), "Bench", 0, 0)
    with pytest.raises(Refusal, match="covers the middle"):
        fill_gap(level_with(demo_project, right, right), "Bench", 0, 0)


def test_a_row_covers_a_part_edge_to_edge_without_gaps(demo_project: Project) -> None:
    prop = Prop(boulder(demo_project), 100, 100, across=2, name="only one")
    project = level_with(demo_project, prop)
    laid = line_up_props(project, "Bench", 0, 0, Rect(0, 0, 330, 10)).levels[0].layers[0].props
    areas = sorted(prop_area(project, one) for one in laid)
    assert areas[0].x <= 0 and areas[-1].right >= 330
    assert all(a.right == b.x for a, b in itertools.pairwise(areas))
    assert [one.name for one in laid].count("only one") == 1
    with pytest.raises(Refusal, match="reaches all across"):
        line_up_props(project, "Bench", 0, 0, Rect(100, 0, 2, 2))
    with pytest.raises(Refusal, match="Lay a shorter one"):
        line_up_props(project, "Bench", 0, 0, Rect(0, 0, 10_000_000, 2))


def test_uneven_pixels_are_found_and_mended(demo_project: Project) -> None:
    number = boulder(demo_project)
    even = Prop(number, 10, 10, across=2, down=3, angle=90)
    odd = [replace(even, across=1.5), replace(even, angle=30), replace(even, down=0.5)]
    project = level_with(demo_project, even, *odd)
    assert [uneven(project, prop) for prop in (even, *odd)] == [False, True, True, True]
    (finding,) = uneven_props(project, Art(DEMO))
    assert "3 props are" in finding.what and finding.mend is not None
    mended = finding.mend(project)
    assert not list(uneven_props(mended, Art(DEMO)))
    assert mended.levels[0].layers[0].props[0] == even
    with pytest.raises(Refusal, match="smaller factor"):
        pose_props(
            level_with(demo_project, Prop(demo_project.sheet("far_fen").pieces[0].number, 0, 0)),
            "Bench", 0, {0}, across=64,
        )  # fmt: skip
