"""Turning, flipping and resizing sheets, and what licences ask for."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.reshaping import set_enlarged, set_pixel, turn_sheets
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.licences import (
    DUTIES,
    NOTHING,
    READ,
    USUAL,
    duties,
    identifiers,
    names_author,
    spdx,
)
from rushweed.core.gather.solid import solid
from rushweed.core.gather.sources import set_licence
from rushweed.core.project.facts import Current, Facts
from rushweed.core.project.project import Project
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


def test_an_author_that_must_be_named_is_a_finding(bench: tuple[Project, Art]) -> None:
    project, art = bench
    licensed = set_licence(project, ("reed",), identifier="CC-BY-4.0")
    assert names_author("CC-BY-4.0") and not names_author("CC0-1.0")
    assert "no-author" in {finding.code for finding in find_all(licensed, art)}
    named = set_licence(licensed, ("reed",), author="Mara Sedge")
    assert "no-author" not in {finding.code for finding in find_all(named, art)}
