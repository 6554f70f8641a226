"""Outlines: exact ones cover what is drawn, looser ones keep their distance and their promise."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays
from scipy import ndimage
from shapely import LinearRing, box, unary_union
from shapely import Point as Place
from shapely import Polygon as Area
from typer.testing import CliRunner

from rushweed.cli import app
from rushweed.core.bale import nesting
from rushweed.core.bound.fitting import fit_boxes, fit_outlines
from rushweed.core.bound.geometry import signed_area
from rushweed.core.bound.outline import Outline, trace, trace_many
from rushweed.core.bound.simplify import CLOSEST, deviation, filled, simplified
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Form, Polygon, Shape
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.outlines import merged_outlines
from tests.samples import write_picture

masks = st.tuples(st.integers(1, 12), st.integers(1, 12)).flatmap(
    lambda size: arrays.arrays(bool, size)
)
distances = st.sampled_from([0.3, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0])
LINE = np.eye(9, dtype=bool)
RING = np.pad(np.zeros((3, 3), bool), 2, constant_values=True)
DOT = np.pad(np.ones((1, 1), bool), 3)
BLOB = (np.indices((24, 30)) - np.array([12, 15])[:, None, None]).astype(float)
ROUND = np.hypot(*BLOB) < 11


def area_of(mask: np.ndarray) -> Area:
    return unary_union([box(x, y, x + 1, y + 1) for y, x in np.argwhere(mask)])


def polygon_of(outline: Outline) -> Area:
    return Area(outline.outer, outline.holes)


def keeps_promises(mask: np.ndarray, distance: float) -> None:
    exact = trace(mask)
    for promise in ("never outside", "never inside", "nearest"):
        drawn = simplified(exact, distance, promise)
        assert len(drawn) == len(exact)
        for one, other in zip(exact, drawn, strict=True):
            true, shape = polygon_of(one).buffer(0), polygon_of(other)
            assert other == one or shape.is_valid
            assert deviation(one, other) <= distance + 1e-6
            assert set(other.outer) <= set(one.outer), "corners are whole pixels of the border"
            assert len(other.outer) <= len(one.outer)
            if promise == "never outside":
                assert shape.buffer(0).difference(true).area < 1e-9
            if promise == "never inside":
                assert true.difference(shape.buffer(0)).area < 1e-9


FORMS: dict[int, Form] = {
    1: Box(0, 0, 16, 16),
    2: Polygon((Point(0, 16), Point(16, 16), Point(16, 0))),
    3: Polygon((Point(0, 0), Point(0, 16), Point(16, 16))),
    4: Box(0, 8, 16, 8),
}


@given(arrays.arrays(np.int32, (7, 9), elements=st.sampled_from([0, 0, 1, 1, 1, 2, 3, 4])))
@settings(max_examples=150)
def test_every_hole_is_told_with_the_smallest_ring_around_it(numbers: np.ndarray) -> None:
    pieces = tuple(
        Piece(n, Rect(0, 0, 16, 16), Point(0, 16), shapes=(Shape(form),))
        for n, form in FORMS.items()
    )
    sheet = Sheet("tiles", (Source("art/x.png", "0" * 64, Size(16, 16)),), pieces=pieces)
    painted = {(x, y): (int(n), 0) for (y, x), n in np.ndenumerate(numbers) if n}
    level = Level("Level", (Layer("Ground", Cells().painted(painted)),))
    rings = merged_outlines(Project(sheets=(sheet,), levels=(level,)), level)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(nesting, "_smallest_around", None)  # the quick way finds all of them
        told = nesting.nested(rings)
    holes = [hole for whole in told for hole in whole.holes]
    assert len(told) + len(holes) == len(rings), "none is lost"
    outers = [Area(whole.outer) for whole in told]
    for whole in told:
        for hole in whole.holes:
            inner = Area(hole).buffer(-0.5).representative_point()
            around = [outer for outer in outers if outer.contains(inner)]
            assert min(around, key=lambda outer: outer.area).equals(Area(whole.outer))


@given(masks)
def test_exact_outlines_cover_what_is_drawn_and_nothing_else(mask: np.ndarray) -> None:
    outlines = trace(mask)
    covered = unary_union([polygon_of(outline).buffer(0) for outline in outlines])
    assert covered.symmetric_difference(area_of(mask)).area < 1e-9
    for outline in outlines:
        assert signed_area(outline.outer) < 0 and all(signed_area(h) > 0 for h in outline.holes)
    whole = filled(outlines)
    for one in whole:
        assert len(set(one.outer)) == len(one.outer) and not one.holes
        assert polygon_of(one).is_valid
    union = unary_union([polygon_of(one) for one in whole])
    assert area_of(mask).difference(union.buffer(1e-6)).area < 1e-6


@given(st.lists(masks, max_size=5))
def test_many_masks_are_traced_as_each_alone(several: list[np.ndarray]) -> None:
    key = lambda outline: (outline.outer, outline.holes)  # noqa: E731
    together = trace_many(several)
    assert [sorted(found, key=key) for found in together] == [
        sorted(trace(mask), key=key) for mask in several
    ]


@given(st.integers(0, 1 << 30), st.floats(0.3, 4))
@settings(max_examples=20)
def test_many_outlines_are_simplified_as_each_alone(seed: int, distance: float) -> None:
    clouds = np.random.default_rng(seed).normal(size=(24, 14, 11))
    masks = ndimage.gaussian_filter(clouds, (0, 1.5, 1.5)) > 0
    outlines = [outline for mask in masks for outline in trace(mask)]
    alone = [simplified([outline], distance, "nearest") for outline in outlines]
    assert simplified(outlines, distance, "nearest") == [one for [one] in alone]


@given(masks, distances)
@settings(max_examples=60)
def test_looser_outlines_keep_their_distance_and_their_promise(
    mask: np.ndarray, distance: float
) -> None:
    keeps_promises(mask, distance)


@pytest.mark.parametrize("distance", [0.4, 1.0, 2.0, 5.0])
@pytest.mark.parametrize("mask", [LINE, RING, DOT, ROUND, ~ROUND, LINE[:7, :7] | RING], ids=str)
def test_lines_rings_dots_and_rounds_keep_theirs(mask: np.ndarray, distance: float) -> None:
    keeps_promises(mask, distance)


@given(st.integers(0, 1000), distances)
@settings(max_examples=40)
def test_no_outline_has_more_corners_than_douglas_and_peucker_leave(
    seed: int, distance: float
) -> None:
    dice = np.random.default_rng(seed)
    rows, columns = np.indices((26, 26)) - 12.5
    bumps = 8 + sum(
        dice.uniform(0, 2) * np.cos(k * np.arctan2(rows, columns) + k) for k in (2, 3, 5)
    )
    [outline, *_] = sorted(
        trace(np.hypot(rows, columns) < bumps), key=lambda o: signed_area(o.outer)
    )
    theirs = LinearRing(outline.outer).simplify(distance, preserve_topology=False)
    [ours] = simplified([Outline(outline.outer, ())], distance, "nearest")
    # The library may drop the corner it began at, and be farther away than it was told.
    kept = max(theirs.distance(Place(corner)) for corner in outline.outer) <= distance
    if len(theirs.coords) > 3 and kept and Area(theirs).is_valid:
        assert len(ours.outer) <= len(theirs.coords) - 1


def test_a_distance_that_makes_no_sense_is_refused() -> None:
    for distance in (-1, CLOSEST + 1, float("nan")):
        with pytest.raises(Refusal, match="from 0 to 16 px"):
            simplified(trace(DOT), distance, "nearest")


def test_boxes_lie_around_all_or_around_the_foot() -> None:
    tree = np.zeros((12, 10), bool)
    tree[1:7, 1:9] = True
    tree[7:11, 4:6] = True
    found = fit_boxes({7: tree, 8: np.zeros((4, 4), bool)})
    assert [shape.form for shape in found.shapes[7]] == [Box(1, 1, 8, 10)]
    assert found.shapes[8] == ()
    [foot] = fit_boxes({7: tree}, rows=3).shapes[7]
    assert foot.form == Box(4, 8, 2, 3)
    around = fit_outlines({7: tree, 8: ~tree}, 0, "nearest")
    assert around.deviation < 1e-9 and len(around.shapes[7]) == 1
    assert len(around.shapes[8]) == 1, "the hole is filled"


def test_the_command_line_takes_closeness_promise_and_holes(tmp_path: Path) -> None:
    picture = np.zeros((24, 30, 4), np.uint8)
    picture[ROUND] = (90, 120, 60, 255)
    picture[10:13, 14:17] = 0
    path = write_picture(tmp_path / "stone.png", picture)

    def run(*options: str) -> dict:
        result = CliRunner().invoke(app, ["outline", str(path), "--json", *options])
        assert result.exit_code == 0, result.output
        return json.loads(result.stdout)

    exact, loose = run(), run("--closeness", "1")
    [piece], [fewer] = exact["pieces"], loose["pieces"]
    assert len(fewer["shapes"][0]["outer"]) < len(piece["shapes"][0]["outer"])
    assert len(piece["shapes"][0]["holes"]) == 1
    assert run("--holes", "fill")["pieces"][0]["shapes"][0]["holes"] == []
    assert run("--whole")["pieces"][0]["rect"] == [0, 0, 30, 24]
    inside = run("--closeness", "1.5", "--promise", "never-outside", "--holes", "fill", "--whole")
    shape = Area(inside["pieces"][0]["shapes"][0]["outer"])
    assert area_of(ROUND).buffer(1e-6).contains(shape)
    refused = CliRunner().invoke(app, ["outline", str(path), "--closeness", "99"])
    assert refused.exit_code != 0
