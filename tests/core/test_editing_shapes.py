"""Shapes changed by hand, the forms most tiles have, and tiles that are drawn alike."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon

from rushweed.core.bound.editing import (
    Grip,
    common_forms,
    grip_at,
    moved_grip,
    replace_form,
    without_corner,
)
from rushweed.core.bound.geometry import signed_area
from rushweed.core.bound.neighbours import best_fits
from rushweed.core.bound.shaping import polygon, set_shapes
from rushweed.core.bound.standing import stand_on_drawn, standing_error
from rushweed.core.bound.twins import (
    ORIENTATIONS,
    find_twins,
    give_to_twins,
    mirror_shapes,
    turned_shapes,
)
from rushweed.core.cut.likeness import shown
from rushweed.core.orientation import turned
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size

SLOPE = polygon([Point(0, 16), Point(16, 16), Point(16, 0)])


def test_one_takes_hold_of_the_nearest_part() -> None:
    shapes = (Shape(Box(0, 0, 8, 8)), Shape(SLOPE))
    assert grip_at(shapes, Point(0.4, 0.3), 1) == Grip(0, "corner", 0)
    assert grip_at(shapes, Point(0.2, 4), 1) == Grip(0, "edge", 0)
    assert grip_at(shapes, Point(3, 3), 1) == Grip(0, "inside")
    assert grip_at(shapes, Point(14, 14), 1) == Grip(1, "inside")
    assert grip_at(shapes, Point(30, 30), 1) is None and grip_at((), Point(0, 0), 1) is None


def test_corners_edges_and_whole_shapes_move() -> None:
    tile = Box(2, 3, 8, 9)
    assert moved_grip(tile, Grip(0, "corner", 0), Point(2, 3), Point(0, 1)) == Box(0, 1, 10, 11)
    assert moved_grip(tile, Grip(0, "corner", 2), Point(10, 12), Point(0, 1)) == Box(0, 1, 2, 2)
    for edge, wanted in enumerate(
        (Box(5, 3, 5, 9), Box(2, 3, 8, 4), Box(2, 3, 3, 9), Box(2, 7, 8, 5))
    ):
        assert moved_grip(tile, Grip(0, "edge", edge), Point(0, 0), Point(5, 7)) == wanted
    assert moved_grip(SLOPE, Grip(0, "inside"), Point(1, 1), Point(2, 0)) == SLOPE.moved(1, -1)
    corner = SLOPE.corners.index(Point(16, 0))
    lower = moved_grip(SLOPE, Grip(0, "corner", corner), Point(16, 0), Point(16, 8))
    assert set(lower.corners) == {Point(0, 16), Point(16, 16), Point(16, 8)}
    edge = SLOPE.corners.index(Point(0, 16))
    bent = moved_grip(SLOPE, Grip(0, "edge", edge), Point(8, 16), Point(8, 20))
    assert (
        len(bent.corners) == 4 and without_corner(bent, bent.corners.index(Point(8, 20))) == SLOPE
    )
    assert without_corner(SLOPE, 0) is None
    with pytest.raises(Refusal, match="no area"):
        moved_grip(tile, Grip(0, "corner", 0), Point(2, 3), Point(10, 5))
    with pytest.raises(Refusal, match="crosses itself"):
        square = polygon([Point(0, 0), Point(8, 0), Point(8, 8), Point(0, 9)])
        at = square.corners.index(Point(0, 0))
        moved_grip(square, Grip(0, "corner", at), Point(0, 0), Point(12, 6))


@given(st.integers(2, 64), st.integers(2, 64))
def test_common_forms_fill_what_they_say(width: int, height: int) -> None:
    forms = common_forms(Size(width, height))
    shares = {name: Polygon(form.corners).area / (width * height) for name, form in forms.items()}
    assert shares == pytest.approx(
        {
            **{"Full": 1, "Upper half": 0.5, "Lower half": 0.5},
            **{"Slope up": 0.5, "Slope down": 0.5, "Low slope up": 0.25, "Low slope down": 0.25},
            **{"High slope up": 0.75, "High slope down": 0.75},
            **{"Steps up": 0.625, "Steps down": 0.625},
        }
    )
    for form in forms.values():
        assert signed_area(form.corners) < 0, "counter-clockwise on the screen"
    for up, down in (("Slope up", "Slope down"), ("Steps up", "Steps down")):
        [mirrored] = turned_shapes((Shape(forms[up]),), Size(width, height), 1)
        assert Polygon(mirrored.form.corners).equals(Polygon(forms[down].corners))


def sheet_of(*tiles: np.ndarray) -> tuple[Project, np.ndarray]:
    pieces = tuple(
        Piece(number, Rect(16 * (number - 1), 0, 16, 16), Point(8, 16))
        for number in range(1, len(tiles) + 1)
    )
    picture = np.concatenate(tiles, axis=1)
    source = Source("art/fen.png", "0", Size(16 * len(tiles), 16))
    return Project(sheets=(Sheet("fen", (source,), pieces=pieces),), next_number=99), picture


def drawn_tile(seed: int) -> np.ndarray:
    dice = np.random.default_rng(seed)
    colours = dice.integers(0, 255, (5, 4)).astype(np.uint8)
    colours[:, 3] = 255
    colours[0] = 0
    return colours[dice.integers(0, 5, (16, 16))]


@given(st.sampled_from(ORIENTATIONS), st.integers(0, 50))
def test_twins_get_their_shapes_turned_as_they_are_drawn(orientation: int, seed: int) -> None:
    tile = drawn_tile(seed)
    other = turned(tile, orientation).copy()
    recoloured = np.where(tile[..., 3:] > 0, tile[..., [1, 2, 0, 3]], 0).astype(np.uint8)
    filled = np.where(tile[..., 3:] > 0, drawn_tile(seed + 1) | 1, 0).astype(np.uint8)
    filled[..., 3] = tile[..., 3]
    project, picture = sheet_of(tile, other, recoloured, filled, drawn_tile(seed + 99))
    project = set_shapes(project, frozenset({1}), (Shape(SLOPE, "one-way"), Shape(Box(0, 2, 3, 4))))
    twins = find_twins(shown(picture), project.sheet("fen"), [1])
    assert [twin.number for twin in twins] == [2, 3, 4]
    assert [twin.kind for twin in twins][1:] == ["recoloured", "of one silhouette"]
    given_to = give_to_twins(project, twins).sheet("fen").pieces
    wanted = turned_shapes(given_to[0].shapes or (), Size(16, 16), twins[0].orientation)
    assert given_to[1].shapes == wanted and given_to[4].shapes is None
    assert given_to[2].shapes == given_to[3].shapes == given_to[0].shapes
    twice = mirror_shapes(mirror_shapes(project, frozenset({1})), frozenset({1}))
    assert twice.sheet("fen").pieces[0].shapes == project.sheet("fen").pieces[0].shapes


def test_forms_are_replaced_and_taken_away() -> None:
    project, _ = sheet_of(drawn_tile(1))
    project = set_shapes(project, frozenset({1}), (Shape(SLOPE), Shape(Box(0, 0, 4, 4), "sensor")))
    project = replace_form(project, frozenset({1}), 1, Box(1, 1, 2, 2))
    assert project.sheet("fen").pieces[0].shapes == (Shape(SLOPE), Shape(Box(1, 1, 2, 2), "sensor"))
    project = replace_form(project, frozenset({1}), 0, None)
    assert project.sheet("fen").pieces[0].shapes == (Shape(Box(1, 1, 2, 2), "sensor"),)


@given(st.integers(0, 8), st.integers(-6, 6))
def test_where_one_would_float_or_sink_is_told_and_mended(top: int, off: int) -> None:
    mask = np.zeros((16, 16), bool)
    mask[top:, 2:] = True
    begin = top - off
    form = Box(0, begin, 16, 24 - begin)
    project = Project(sheets=(sheet_of(drawn_tile(1))[0].sheets))
    project = set_shapes(project, frozenset({1}), (Shape(form),))
    assert standing_error(mask, (Shape(form),)) == off
    mended = stand_on_drawn(project, {1: off}).sheet("fen").pieces[0]
    assert standing_error(mask, mended.shapes or ()) == 0
    assert mended.shapes and mended.shapes[0].form.corners[1].y == 24, "its bottom stays"
    assert standing_error(mask, (Shape(form, "sensor"),)) == 0
    assert standing_error(np.zeros((16, 16), bool), (Shape(form),)) == 0
    ragged = mask.copy()
    ragged[:, ::2] = False
    ragged[max(0, top - 1), 3::4] = True
    assert standing_error(ragged, (Shape(SLOPE),)) == 0, "no one number tells"


@given(st.integers(0, 60), st.sampled_from(["left", "right", "above", "below"]))
def test_what_was_cut_apart_fits_best(seed: int, side: Any) -> None:
    dice = np.random.default_rng(seed)
    soft = dice.normal(size=(48, 48, 4)).cumsum(axis=0).cumsum(axis=1)
    whole = ((soft - soft.min()) / np.ptp(soft) * 255).astype(np.uint8)
    whole[..., 3] = 255
    corners = [(16 * y, 16 * x) for y in range(3) for x in range(3)]
    tiles = {n: whole[y : y + 16, x : x + 16] for n, (y, x) in enumerate(corners)}
    tiles[20] = np.zeros((8, 16, 4), np.uint8)
    beside = {"left": 3, "right": 5, "above": 1, "below": 7}[side]
    fits = best_fits(tiles, 4, side)
    assert {fit.number for fit in fits} == set(range(9)), "only tiles of one size"
    assert next(fit.gap for fit in fits if fit.number == beside) <= fits[0].gap + 6
