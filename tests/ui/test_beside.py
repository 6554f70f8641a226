"""What takes long goes on beside the window: in order, nothing lost, and the same in the end."""

from __future__ import annotations

import gc
import shutil
import weakref
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from PIL import Image

from rushweed.core import bulk
from rushweed.core.gather.memory import Memory
from rushweed.core.gauge.alpha import premultiplied
from rushweed.core.project import files, head
from rushweed.core.project.project import with_sheet
from rushweed.core.project.sheet import ColourKey, EvenCells, OnePicture, Piece, Sheet
from rushweed.core.values import Colour, Point, Rect, Size
from rushweed.ui import beside, garbage, saving
from rushweed.ui.canvas import sheet_images
from rushweed.ui.canvas.images import from_image, to_image
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.bound import shape_groups
from rushweed.ui.stations.gauge.difference import difference
from tests.driving import Driver
from tests.ui.test_stations import select

Opens = Callable[..., Driver]
RUST = (MARKS.rust.red(), MARKS.rust.green(), MARKS.rust.blue())


@pytest.fixture
def all_is_large(monkeypatch: pytest.MonkeyPatch) -> None:
    """Everything is so large that nobody should wait for it."""
    monkeypatch.setattr(beside, "LARGE", 0)
    monkeypatch.setattr(sheet_images, "LARGE", 0)
    monkeypatch.setattr(saving, "MANY_CELLS", 0)


def test_edits_are_made_in_the_order_in_which_they_were_asked_for(
    open_window: Opens, demo: Path, all_is_large: None
) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "fen_ground")
    desk, sheet = drive.window.desk, lambda: drive.project.sheet("fen_ground")
    before, name = sheet().layout, drive.project.name
    for number, side in enumerate((32, 8, 16, 48)):
        drive.type_number("Cell across", str(side))
        desk.do("Renamed", lambda p, n=number: replace(p, name=f"Fen {n}"))
    assert drive.window.jobs.running and sheet().layout == before, "it goes on beside"
    drive.settle()
    assert isinstance(sheet().layout, EvenCells) and sheet().layout.cell.width == 48
    assert drive.project.name == "Fen 3", "what was done meanwhile stays"
    assert drive.undo_all() == 8 and (sheet().layout, drive.project.name) == (before, name)
    for field, text in (("Cell across", "20"), ("Cell down", "24"), ("Margin across", "3")):
        drive.type_number(field, text)
    drive.settle()
    assert isinstance(before, EvenCells)
    assert sheet().layout == replace(before, cell=Size(20, 24), margin=Size(3, 2)), "all of them"


def test_twins_among_many_are_the_same(
    open_window: Opens, demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drive = open_window(demo)
    drive.station(4)
    select(drive, "fen_ground", 9)
    drive.press("Find twins")
    group = drive.at("Bound").many
    usual, group.twins = group.twins, []
    monkeypatch.setattr(shape_groups, "MANY", 0)
    drive.press("Find twins")
    assert usual and group.twins == usual


def test_what_was_stopped_or_refused_leaves_all_as_it_was(
    open_window: Opens, demo: Path, all_is_large: None
) -> None:
    drive = open_window(demo)
    drive.station(2)
    select(drive, "fen_ground")
    before = drive.project
    drive.type_number("Cell across", "48")
    drive.window.jobs.stop_shown()
    assert not drive.window.jobs.shown(), "it is not shown any more, though it may still end"
    drive.settle()
    assert drive.project is before
    assert drive.seen(Stepper, "Cell across").value == 16, "the field shows what is"
    drive.type_number("Cell across", "4096")
    drive.settle()
    assert drive.project is before and "Not one cell" in drive.window.frame.notice.text
    drive.type_number("Cell across", "48")
    drive.settle()
    assert drive.project is not before, "others are made after it"


def test_a_large_picture_that_cannot_be_read_is_a_red_square(
    open_window: Opens, demo: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sheet_images, "LARGE", 0)
    (demo / "art" / "fen_ground.png").unlink()
    drive = open_window(demo)
    drive.station(2)
    drive.settle()
    assert drive.colour_at(5, 5).red() > 150 > drive.colour_at(5, 5).green()
    assert not drive.window.jobs.shown(), "it is not tried again and again"


def test_a_large_picture_stays_where_there_is_hardly_room(
    open_window: Opens, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    side = 600
    monkeypatch.setattr(sheet_images, "LARGE", 0)
    picture = np.full((side, side, 4), (255, 0, 255, 255), np.uint8)
    picture[40:90, 40:90] = (0, 200, 0, 255)
    Image.fromarray(picture).save(tmp_path / "reed.png")
    drive = open_window()
    drive.window.desk.art.memory = Memory(int(2.2 * picture.nbytes))
    drive.drop(tmp_path / "reed.png")
    sheet = drive.project.sheets[0].name
    key = ColourKey(Colour(255, 0, 255))
    drive.window.desk.do("Keyed", lambda p: with_sheet(p, sheet, lambda s: keyed(s, key)))
    drive.station(2)
    drive.settle()
    drive.qtbot.wait(50)
    drive.settle()
    assert drive.colour_at(60, 60).green() > 150
    lens = drive.window.frame.lens.picture.grab().toImage()
    tall = range(0, lens.height(), 2)
    seen = {lens.pixelColor(x, y).name() for x in range(0, lens.width(), 2) for y in tall}
    assert "#00c800" in seen, "the lens has its pixels, too"


def keyed(sheet: Sheet, key: ColourKey) -> Sheet:
    whole = Piece(1, Rect(30, 30, 70, 70), Point(35, 70))
    return replace(sheet, layout=OnePicture(), colour_key=key, pieces=(whole,))


def test_a_large_project_is_saved_while_one_goes_on(
    open_window: Opens, demo: Path, all_is_large: None
) -> None:
    drive = open_window(demo)
    desk, save = drive.window.desk, drive.window.menus.actions["project.save"]
    for name in ("One", "Two", "Three"):
        desk.do("Renamed", lambda p, n=name: replace(p, name=n))
        save.trigger()
    assert desk.unsaved
    desk.do("Renamed", lambda p: replace(p, name="Four"))
    drive.settle()
    drive.qtbot.wait(5)
    drive.settle()
    assert files.load(demo).name == "Four" or desk.unsaved, "what came later is not told as saved"
    save.trigger()
    drive.settle()
    assert not desk.unsaved and files.load(demo) == drive.project


def test_absurd_numbers_of_cells_are_asked_about(open_window: Opens, tmp_path: Path) -> None:
    picture = np.zeros((1000, 1000, 4), np.uint8)
    picture[:9, :9] = 200
    Image.fromarray(picture).save(tmp_path / "reed.png")
    drive = open_window()
    drive.drop(tmp_path / "reed.png")
    drive.station(2)
    drive.press("Layout: Even cells")
    drive.type_number("Cell down", "3")
    drive.settle()
    before = drive.project
    drive.type_number("Cell across", "3")
    assert drive.project is before and "110889 cells" in drive.window.frame.notice.text
    drive.press("Cut them")
    drive.settle()
    assert drive.project.sheets[0].layout == EvenCells(Size(3, 3))
    assert len(drive.project.sheets[0].pieces) == 9


PICTURES = arrays(np.uint8, st.tuples(st.integers(1, 9), st.integers(1, 9), st.just(4)))


@given(PICTURES, st.integers(0, 2**32 - 1))
def test_differences_are_marked_where_they_can_be_seen(picture: np.ndarray, seed: int) -> None:
    draw = np.random.default_rng(seed)
    other = np.where(draw.random(picture.shape) < 0.1, draw.integers(0, 256), picture)
    other = other.astype(np.uint8)
    marked = difference(picture, other)
    apart = np.abs(premultiplied(picture) - premultiplied(other)).max(axis=2) >= 0.5
    assert (marked[apart][:, :3] == RUST).all() and (marked[apart][:, 3] >= 48).all()
    assert (marked[~apart][:, 3] == picture[~apart][:, 3].astype(int) * 40 // 255).all()
    assert (difference(picture, picture)[..., 3] <= 40).all()


@given(PICTURES, st.integers(1, 30))
def test_images_are_the_same_in_one_part_and_in_many(picture: np.ndarray, at_once: int) -> None:
    from rushweed.ui.canvas import images

    whole, usual = to_image(picture), images.AT_ONCE
    try:
        images.AT_ONCE = at_once
        assert to_image(picture) == whole
    finally:
        images.AT_ONCE = usual
    opaque = picture.copy()
    opaque[..., 3] = 255
    assert (from_image(to_image(opaque)) == opaque).all()


def test_every_face_is_made_ahead_and_shown_as_ever(open_window: Opens, demo: Path) -> None:
    drive = open_window(demo)
    stations = drive.window.router.stations
    made = lambda: sum(len(stations[name].made) for name in STATIONS)  # noqa: E731
    before = made()
    while drive.window.router.make_ahead():
        assert made() - before in (0, 1), "a step makes no more than one"
        before = made()
    assert before == sum(len(stations[name].names) for name in STATIONS)
    for number in range(1, 8):
        drive.station(number)
        assert drive.window.router.station == STATIONS[number - 1] and drive.table.isVisible()


class Circle:
    """Something that holds itself."""

    def __init__(self) -> None:
        self.me = self


def test_circles_are_found_while_one_works_elsewhere() -> None:
    thresholds = gc.get_threshold()
    try:
        circle = Circle()
        gone = weakref.ref(circle)
        gc.freeze()
        del circle
        garbage.keep()
        garbage.look_at_all()
        assert gone() is None
        bulk.after_many = gc.freeze
        with bulk.in_bulk():
            assert not gc.isenabled()
        assert gc.isenabled()
    finally:
        bulk.after_many = bulk.nothing
        gc.unfreeze()
        gc.set_threshold(*thresholds)


def test_nobody_looks_at_everything_while_the_window_is_at_work(
    qapp, monkeypatch: pytest.MonkeyPatch
) -> None:
    looked: list[bool] = []
    monkeypatch.setattr(garbage, "look_at_all", lambda: looked.append(True))
    thresholds, busy = gc.get_threshold(), [True]
    keeper = garbage.Garbage(qapp, lambda: busy[0])
    try:
        keeper._away.timeout.emit()
        assert not looked and keeper._away.isActive()
        busy[0] = False
        keeper._away.timeout.emit()
        assert looked
    finally:
        keeper.deleteLater()
        bulk.after_many = bulk.nothing
        gc.set_threshold(*thresholds)


def test_large_projects_are_opened_beside(
    open_window: Opens, demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(head, "LARGE", 0)
    other, broken = tmp_path / "other", tmp_path / "broken"
    for folder in (other, broken):
        shutil.copytree(demo, folder)
    (broken / "project.rushweed").write_text("{")
    drive = open_window(demo)
    first = drive.window

    def ask_for(folder: Path) -> None:
        drive.answers.folder = folder
        drive.window.commands.run("project.open")
        assert drive.window.jobs.shown(), "it goes on beside"

    ask_for(other)
    first.jobs.stop_shown()
    drive.settle()
    assert drive.window is first
    ask_for(broken)
    drive.settle()
    assert drive.window is first and "project.rushweed" in first.frame.notice.text
    ask_for(other)
    first.desk.do("Renamed", lambda p: replace(p, name="Fen"))
    drive.answers.about_changes = "stay"
    drive.settle()
    assert drive.window is first and drive.project.name == "Fen", "nothing is lost meanwhile"
    assert drive.undo_all() == 1
    ask_for(other)
    first.desk.drafts["templates/note.txt"] = "typed meanwhile"
    drive.settle()
    assert drive.window is first, "no text either"
    drive.answers.about_changes = "discard"
    ask_for(other)
    drive.wait_for(lambda: drive.window is not first)
    assert drive.window.desk.folder == other and not drive.window.desk.read_only
