"""What is told of many sheets and pieces at once, and what of it is found anew after an edit."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.pivots import ANCHORS, anchored
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from rushweed.ui import selection
from rushweed.ui.selection import Selection
from rushweed.ui.shell.binding import common, unlike
from rushweed.ui.stations.gather.cards import Cards
from tests.driving import Driver
from tests.samples import write_picture

sides = st.integers(1, 3)
pieces = st.lists(
    st.builds(
        lambda width, height, x, y: Piece(1, Rect(0, 0, width, height), pivot=Point(x, y)),
        *(sides, sides, sides, sides),
    ),
    max_size=12,
)


@given(pieces)
def test_few_tell_what_all_do(many: list[Piece]) -> None:
    few = unlike(many, "rect.width", "rect.height", "pivot")
    assert len(few) == len({(piece.rect.size, piece.pivot) for piece in many})
    assert common(piece.pivot for piece in few) == common(piece.pivot for piece in many)
    for anchor in ANCHORS:
        there = [all(p.pivot == anchored(p, anchor) for p in some) for some in (few, many)]
        assert there[0] == there[1]


def a_project(sheets: list[int]) -> Project:
    """Sheets of so many pieces each."""
    made, number = [], 1
    for place, count in enumerate(sheets):
        source = Source(f"art/{place}.png", "", Size(8, 8))
        cut = tuple(Piece(number + at, Rect(0, 0, 8, 8), Point(4, 8)) for at in range(count))
        made.append(Sheet(f"s{place}", (source,), pieces=cut))
        number += count
    return Project(sheets=tuple(made), next_number=number)


@pytest.mark.parametrize("few", [0, 3, 99])
@given(st.lists(st.integers(0, 4), max_size=5), st.frozensets(st.integers(1, 24)))
def test_picked_pieces_are_found_one_by_one_as_sheet_by_sheet(few, sheets, numbers) -> None:
    project = a_project(sheets)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(selection, "FEW", few)
        found = Selection(pieces=numbers).picked(project)
    assert found == {
        sheet.name: chosen
        for sheet in project.sheets
        if (chosen := [piece for piece in sheet.pieces if piece.number in numbers])
    }
    known = {piece.number for _, piece in project.pieces()}
    assert Selection(pieces=numbers).fitting(project).pieces == numbers & known


@pytest.fixture
def drive(open_window, tmp_path: Path) -> Driver:
    drive: Driver = open_window()
    grey = np.full((16, 16, 4), 255, np.uint8)
    for shade in range(6):
        grey[:, :4] = 40 * shade
        drive.drop(write_picture(tmp_path / f"reed {shade}.png", grey))
    drive.settle()
    return drive


def test_an_edit_lays_out_only_what_it_changed(drive, monkeypatch) -> None:
    made: list[str] = []
    lay_out = Cards._card

    def card(self, sheet, room):
        made.append(sheet.name)
        return lay_out(self, sheet, room)

    monkeypatch.setattr(Cards, "_card", card)
    desk = drive.window.desk
    names = tuple(sheet.name for sheet in drive.project.sheets)
    desk.do("Licensed one", lambda p: set_licence(p, names[2:3], identifier="CC0-1.0"))
    assert made == [names[2]]
    made.clear()
    desk.do("Sized all", lambda p: set_pixels_per_unit(p, names, 24))
    assert made == [], "cards tell nothing of that"
    assert [card.sheet for card in drive.at("Gather")._cards._cards] == list(drive.project.sheets)
    desk.undo()
    desk.undo()
    assert set(made) <= {names[2]}
