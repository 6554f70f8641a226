"""Levels on the screen at any zoom: small as large, mended as drawn anew, props by the thousand."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PyQt6.QtGui import QImage, QPainter

from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.pivots import ANCHORS, anchored
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.prop_index import PropIndex
from rushweed.ui import selection
from rushweed.ui.canvas import level_picture
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.images import from_image
from rushweed.ui.canvas.level_picture import LevelPicture
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.view import View
from rushweed.ui.selection import Selection
from rushweed.ui.shell.binding import common, unlike
from rushweed.ui.stations.gather.cards import Cards
from tests.conftest import DEMO
from tests.driving import Driver
from tests.samples import write_picture


@pytest.fixture(scope="module")
def project() -> Project:
    return files.load(DEMO)


def numbers(project: Project) -> list[int]:
    return [piece.number for piece in project.sheet("fen_ground").pieces[:12]]


def wide(project: Project, side: int = 96, seed: int = 1) -> Level:
    draw = np.random.default_rng(seed)
    held = draw.choice([0, *numbers(project)], (side, side)).astype(np.int32)
    turns = draw.integers(0, 8, held.shape).astype(np.uint8)
    return Level(
        "Wide", (Layer("Ground", Cells().overlaid(Rect(-9, -5, side, side), held, turns)),)
    )


class Screen:
    """A canvas that shows a level, and what is seen on it."""

    def __init__(self, qtbot, project: Project) -> None:
        self.project, self.level = project, wide(project)
        self.picture = LevelPicture(Images(Art(DEMO)))
        self.canvas = Canvas(self._paint)
        qtbot.addWidget(self.canvas)
        self.canvas.resize(320, 240)

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        self.picture.draw(painter, canvas, self.project, self.level)

    def shot(self, scale: float, left: float = 0, top: float = 0) -> np.ndarray:
        self.canvas.set_view(View(scale, left, top))
        image = QImage(self.canvas.size(), QImage.Format.Format_RGB32)
        painter = QPainter(image)
        self.canvas.render(painter)
        painter.end()
        return from_image(image)[..., :3].astype(int)


def shrunk(pixels: np.ndarray, by: int) -> np.ndarray:
    height, width = pixels.shape[0] // by * by, pixels.shape[1] // by * by
    parts = pixels[:height, :width].reshape(height // by, by, width // by, by, 3)
    mean: np.ndarray = parts.mean(axis=(1, 3))
    return mean


@given(
    st.dictionaries(
        st.tuples(st.integers(-9, 20), st.integers(-5, 15)),
        st.tuples(st.integers(0, 11), st.integers(0, 7)),
        min_size=1,
        max_size=30,
    )
)
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_was_mended_is_as_if_drawn_anew(qtbot, project: Project, changes) -> None:
    screen, kinds = Screen(qtbot, project), [0, *numbers(project)]
    scales = (1.0, 0.25, 0.0625)
    for scale in scales:
        screen.shot(scale)
    cells = screen.level.layers[0].cells.painted(
        {p: (kinds[n], t) for p, (n, t) in changes.items()}
    )
    screen.level = replace(screen.level, layers=(Layer("Ground", cells),))
    mended = [screen.shot(scale) for scale in scales]
    screen.picture = LevelPicture(Images(Art(DEMO)))
    for scale, before in zip(scales, mended, strict=True):
        np.testing.assert_array_equal(screen.shot(scale), before)


def test_what_there_is_no_time_for_comes_with_the_next_picture(qtbot, project, monkeypatch) -> None:
    screen = Screen(qtbot, project)
    whole = screen.shot(0.5, 60, 40)
    monkeypatch.setattr(level_picture, "SURE", 1)
    monkeypatch.setattr(level_picture, "BUDGET", 0.0)
    screen.picture = LevelPicture(Images(Art(DEMO)))
    first = screen.shot(0.5, 60, 40)
    assert (first != whole).any()
    for _ in range(12):
        last = screen.shot(0.5, 60, 40)
    np.testing.assert_array_equal(last, whole)


def test_pictures_of_chunks_are_forgotten_when_they_are_too_many(
    qtbot, project, monkeypatch
) -> None:
    monkeypatch.setattr(level_picture, "MOST_BYTES", 1 << 21)
    screen = Screen(qtbot, project)
    screen.shot(0.5)
    whole = screen.shot(1.0)
    screen.shot(0.25)
    assert screen.picture._bytes <= (1 << 21) + (1 << 20)
    np.testing.assert_array_equal(screen.shot(1.0), whole)


def test_props_by_the_thousand_are_found_by_place(qtbot, project: Project) -> None:
    boulder = next(p for p in project.sheet("fen_ground").pieces if p.name == "boulder")
    props = tuple(Prop(boulder.number, 20 * (i % 300), 20 * (i // 300)) for i in range(60_000))
    index = PropIndex()
    found = index.within(project, props, Rect(100, 100, 60, 60))
    slowly = [
        i
        for i, prop in enumerate(props)
        if prop.x - 8 < 160 and prop.x + 8 > 100 and prop.y - 16 < 160 and prop.y > 100
    ]
    assert found == slowly and index.within(project, props, Rect(0, 0, 9, 9), least=99) == []
    screen = Screen(qtbot, project)
    screen.level = Level("Many", (Layer("Things", props=props),))
    assert screen.shot(1.0).std() > 0 and screen.shot(0.02).shape == (240, 320, 3)


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

    def card(self, sheet, *told):
        made.append(sheet.name)
        return lay_out(self, sheet, *told)

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
