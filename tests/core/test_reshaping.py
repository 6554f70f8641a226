"""Turning, flipping and resizing sheets, and what licences ask for."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.reshaping import (
    fit_sheets,
    set_enlarged,
    set_pixel,
    turn_sheets,
    unit_of,
)
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.fitting import fitted, uneven_of
from rushweed.core.gather.licence_duties import NOTHING, READ
from rushweed.core.gather.licences import (
    DUTIES,
    USUAL,
    duties,
    identifiers,
    names_author,
    spdx,
    texts_of,
)
from rushweed.core.gather.solid import solid
from rushweed.core.gather.sources import set_licence
from rushweed.core.project import files
from rushweed.core.project.facts import Current, Facts
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Polygon, Shape
from rushweed.core.project.sheet import EvenCells
from rushweed.core.project.turning import turned_side
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.samples import checkered, write_picture

TRIANGLE = Polygon((Point(0, 0), Point(0, 5), Point(6, 5)))


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory) -> tuple[Project, Art]:
    """A sheet of cells with a margin, a gap, and something left over at the far end."""
    folder = tmp_path_factory.mktemp("bench")
    art = Art(folder / "project")
    project, _ = gather(Project(), art, [write_picture(folder / "reed.png", checkered(35, 27))])
    layout = EvenCells(Size(6, 5), Size(2, 1), Size(1, 2))
    project = cut(project, "reed", layout, solid(art.picture(project.sheet("reed"))))
    shapes = (Shape(Box(1, 0, 2, 3)), Shape(TRIANGLE, "one-way"))
    sheet = project.sheet("reed")
    facts = Facts(entry=("left",), current=Current(1, 0))
    first = replace(
        sheet.pieces[0], shapes=shapes, pivot=Point(1, 5), offset=Point(2, -1), facts=facts
    )
    sheet = replace(sheet, pieces=(first, *sheet.pieces[1:]), left_out=(Rect(2, 1, 6, 5),))
    return replace(project, sheets=(sheet,)), art


@given(st.lists(st.sampled_from(["across", "down", "quarter"]), max_size=5), st.integers(1, 3))
def test_pieces_pivots_and_shapes_go_along_when_a_sheet_is_turned(
    bench: tuple[Project, Art], turns: list, factor: int
) -> None:
    project, art = bench
    before = project.sheet("reed")
    result = set_enlarged(project, ("reed",), factor)
    for turn in turns:
        result = turn_sheets(result, ("reed",), turn)
    after = result.sheet("reed")
    picture = art.picture(after)
    assert picture.shape[:2] == (after.size.height, after.size.width)
    old = {piece.number: piece for piece in before.pieces}
    assert {piece.number for piece in after.pieces} == set(old)
    for piece in after.pieces:
        shown, was = art.piece(after, piece), art.piece(before, old[piece.number])
        assert sorted(np.unique(shown.reshape(-1, 4), axis=0).tolist()) == sorted(
            np.unique(was.reshape(-1, 4), axis=0).tolist()
        )
    first = next(p for p in after.pieces if p.number == before.pieces[0].number)
    assert first.shapes is not None
    sides = {"left": (-1, 0), "right": (1, 0), "above": (0, -1), "below": (0, 1)}
    carries = first.facts.current
    (entry,), one_way = first.facts.entry, first.shapes[1]
    assert sides[entry] == (-carries.across, -carries.down), "its facts are turned as one"
    assert one_way.side == turned_side("above", after.orientation)
    for shape in first.shapes:
        for x, y in shape.form.corners:
            assert 0 <= x <= first.rect.width and 0 <= y <= first.rect.height
    corners = first.shapes[1].form.corners
    following = (*corners[1:], corners[0])
    area = sum(a.x * b.y - b.x * a.y for a, b in zip(corners, following, strict=True))
    assert area < 0, "still counter-clockwise on the screen"
    again = cut(result, "reed", after.layout, solid(picture)).sheet("reed")  # type: ignore[arg-type]
    assert [p.rect for p in again.pieces if p.number in old] == [
        p.rect for p in after.pieces if p.rect not in after.left_out
    ], "the turned layout cuts the very same cells"


@given(st.sampled_from(["across", "down", "quarter"]))
def test_turning_all_the_way_round_changes_nothing(bench: tuple[Project, Art], turn) -> None:
    project, _ = bench
    result = project
    for _ in range(4 if turn == "quarter" else 2):
        result = turn_sheets(result, ("reed",), turn)
    assert result == project
    assert set_enlarged(set_enlarged(project, ("reed",), 3), ("reed",), 1) == project


def test_a_true_pixel_set_later_takes_the_pieces_along(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    big = checkered(8, 8).repeat(4, 0).repeat(4, 1)
    project, name = gather(Project(), art, [write_picture(tmp_path / "crab.png", big)])
    project = cut(project, name, EvenCells(Size(16, 16)), solid(art.picture(project.sheet(name))))
    small = set_pixel(project, (name,), 4)
    assert [p.rect for p in small.sheet(name).pieces][-1] == Rect(4, 4, 4, 4)
    assert small.sheet(name).layout == EvenCells(Size(4, 4))
    for bad in (
        lambda: set_pixel(project, (name,), 0),
        lambda: set_pixel(project, (name,), 33),
        lambda: set_enlarged(project, (name,), 99),
    ):
        with pytest.raises(Refusal, match=r"\.$"):
            bad()


@pytest.mark.slow
def test_licences_known_by_heart_are_spelt_as_the_list_of_all_does() -> None:
    others = set(identifiers()[len(USUAL) :])
    assert set(DUTIES) <= others | set(USUAL)
    for name in {*DUTIES, *USUAL}:
        assert spdx(f"{name} AND MIT") == f"{name} AND MIT"
        assert spdx(name) == name


@pytest.mark.parametrize(
    ("expression", "words"),
    [
        ("CC0-1.0", [NOTHING]),
        ("CC-BY-SA-4.0", ["Name the author", "same licence"]),
        ("CC-BY-NC-ND-3.0", ["earn money", "not be changed"]),
        ("GPL-3.0-or-later", ["same licence", "text"]),
        ("CC-BY-4.0 AND OFL-1.1", ["Name the author", "text"]),
        ("CC-BY-4.0 OR CC0-1.0", [NOTHING]),
        ("LicenseRef-own", [READ]),
        ("CC-BY-4.0 AND (", [READ]),
        ("", []),
    ],
)
def test_duties_in_plain_words(expression: str, words: list[str]) -> None:
    told = " ".join(duties(expression))
    assert all(part in told for part in words) and bool(told) == bool(words)
    listed = [name for name in re.findall(r"[A-Z]\S+[\dr]\b", expression) if name != "OR"]
    assert [text.split("/")[-1] for text in texts_of(expression)] == [f"{n}.html" for n in listed]


def test_an_author_that_must_be_named_is_a_finding(bench: tuple[Project, Art]) -> None:
    project, art = bench
    licensed = set_licence(project, ("reed",), identifier="CC-BY-4.0")
    assert names_author("CC-BY-4.0") and not names_author("CC0-1.0")
    assert "no-author" in {finding.code for finding in find_all(licensed, art)}
    named = set_licence(licensed, ("reed",), author="Mara Sedge")
    assert "no-author" not in {finding.code for finding in find_all(named, art)}


SIDES = st.integers(1, 40)


def noise(height: int, width: int) -> np.ndarray:
    picture = np.random.default_rng(height * 100 + width).integers(0, 256, (height, width, 4))
    return picture.astype(np.uint8)


@given(SIDES, SIDES, SIDES, SIDES)
def test_nearest_pixels_are_the_source_and_flat_colours_stay_flat(
    width: int, height: int, wide: int, high: int
) -> None:
    picture, size = noise(height, width), Size(wide, high)
    near = fitted(picture, size, "nearest")
    assert near.shape == (high, wide, 4)
    assert {tuple(p) for row in near.tolist() for p in row} <= {
        tuple(p) for row in picture.tolist() for p in row
    }
    flat = np.full((height, width, 4), (200, 30, 90, 255), np.uint8)
    assert (fitted(flat, size, "smoothed") == flat[0, 0]).all()
    smooth = fitted(picture, size, "smoothed")
    assert smooth[..., 3].min() >= picture[..., 3].min()
    assert (uneven_of(width, wide) == 0) == (wide % width == 0 or wide == 0 or width == 1)


@given(st.integers(2, 12), st.integers(1, 20), st.integers(1, 4))
def test_cells_do_not_run_into_each_other(cell: int, shown: int, count: int) -> None:
    """Each cell of one colour: no pixel of the result is of two."""
    colours = np.random.default_rng(cell).integers(0, 256, (1, count, 4)).astype(np.uint8)
    picture = colours.repeat(cell, axis=1).repeat(cell, axis=0)
    for way in ("nearest", "smoothed"):
        result = fitted(picture, Size(shown * count, shown), way)
        for place in range(count):
            part = result[:, place * shown : (place + 1) * shown]
            wanted = fitted(picture[:, place * cell :][:, :cell], Size(shown, shown), way)
            np.testing.assert_array_equal(part, wanted)


@pytest.fixture
def a_project(tmp_path: Path) -> tuple[Project, Art]:
    picture = noise(48, 96)
    picture[..., 3] = 255
    write_picture(tmp_path / "ground.png", picture)
    art = Art(tmp_path)
    project, _ = gather(Project(), art, [tmp_path / "ground.png"])
    project = cut(project, "ground", EvenCells(Size(24, 24)), np.ones((48, 96), bool))
    shape = (Shape(Box(0, 12, 24, 12)),)
    numbers = frozenset(piece.number for _, piece in project.pieces())
    return with_pieces(project, numbers, lambda piece: replace(piece, shapes=shape)), art


@pytest.mark.parametrize("turns", [(), ("quarter",), ("quarter", "across"), ("down", "quarter")])
@pytest.mark.parametrize("pixel", [1, 2])
def test_a_picture_is_as_large_as_its_sheet_says(
    turns: tuple[str, ...], pixel: int, a_project: tuple[Project, Art]
) -> None:
    project, art = a_project
    project = set_pixel(project, ("ground",), pixel)
    for shown in (Size(7, 7), Size(16, 10), Size(40, 25)):
        fit = fit_sheets(project, ("ground",), shown)
        for turn in turns:
            fit = turn_sheets(fit, ("ground",), turn)  # type: ignore[arg-type]
        sheet = fit.sheet("ground")
        assert art.picture(sheet).shape[1::-1] == sheet.size
        assert unit_of(sheet) == (shown if len(turns) == 0 else Size(shown.height, shown.width))


def test_what_cannot_fit_is_refused_and_saved_as_it_is(
    a_project: tuple[Project, Art], tmp_path: Path
) -> None:
    project, _ = a_project
    gaps = cut(project, "ground", EvenCells(Size(22, 22), gap=Size(2, 2)), np.ones((48, 96), bool))
    with pytest.raises(Refusal, match="does not come out whole"):
        fit_sheets(gaps, ("ground",), Size(16, 16))
    assert fit_sheets(gaps, ("ground",), Size(11, 11)).sheet("ground").layout == EvenCells(
        Size(11, 11), gap=Size(1, 1)
    )
    with pytest.raises(Refusal, match="larger than"):
        fit_sheets(project, ("ground",), Size(10_000, 10_000))
    small = fit_sheets(project, ("ground",), Size(20, 18))
    files.save(small, tmp_path / "saved")
    assert files.load(tmp_path / "saved").sheet("ground") == small.sheet("ground")
