"""What the guide promises of the window: what is selected changes, what is typed counts, every act
can be left, every key does what its tip says wherever the focus is."""

from __future__ import annotations

import hashlib
import shutil
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QPushButton

from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size
from rushweed.core.weave.levels import add_level, set_cells
from rushweed.core.weave.painting import single
from rushweed.ui import recovering
from rushweed.ui.shell.stepper import Stepper
from tests.driving import Driver
from tests.hands import LEFT, QTest
from tests.samples import write_picture


@pytest.fixture
def drive(open_window, demo: Path) -> Driver:
    return open_window(demo)


def figure(bob: int) -> np.ndarray:
    """Four frames of 16 px that stand on feet of different heights."""
    picture = np.zeros((16, 64, 4), np.uint8)
    for place in range(4):
        foot = 14 - (bob if place == 2 else 0)
        picture[4:foot, 16 * place + 4 : 16 * place + 11] = (40 + place, 90, 60, 255)
    return picture


@pytest.fixture
def two_sheets(open_window, tmp_path: Path) -> Driver:
    """A figure of two sheets, cut into frames of 16 px, each with an animation of its own."""
    driver = open_window()
    for name, bob in (("idle", 1), ("run", 2)):
        driver.drop(write_picture(tmp_path / f"{name}.png", figure(bob)))
        driver.settle()
    driver.station(2)
    choose(driver, "idle", "run")
    driver.type_number("Cell across", "16")
    driver.type_number("Cell down", "16")
    driver.settle()
    for name in ("idle", "run"):
        choose(driver, name)
        numbers = frozenset(piece.number for piece in driver.project.sheet(name).pieces)
        driver.window.desk.select(replace(driver.window.desk.selection, pieces=numbers))
        driver.press("Animations")
        driver.press("Begin one")
    choose(driver, "idle", "run")
    return driver


def choose(driver: Driver, *sheets: str) -> None:
    desk = driver.window.desk
    desk.select(replace(desk.selection, sheets=sheets, pieces=frozenset(), animation=""))


def pieces_of(driver: Driver, name: str):
    return driver.project.sheet(name).pieces


def test_what_is_done_for_all_is_done_for_all_selected_sheets(two_sheets: Driver) -> None:
    drive = two_sheets
    before = drive.project
    drive.press("Feet")
    for name in ("idle", "run"):
        assert any(piece.offset.y for piece in pieces_of(drive, name)), name
    drive.type_number("Rate of the animation", "11")
    assert {drive.project.sheet(n).animations[0].rate for n in ("idle", "run")} == {11}
    drive.press("All that is drawn")
    sizes = {piece.rect.size for name in ("idle", "run") for piece in pieces_of(drive, name)}
    assert Size(16, 16) not in sizes
    while drive.project is not before:
        drive.window.menus.actions["edit.undo"].trigger()
    drive.press("Pieces")
    desk = drive.window.desk
    numbers = frozenset(piece.number for _, piece in drive.project.pieces())
    desk.select(replace(desk.selection, pieces=numbers))
    drive.press("Grow")
    assert {piece.rect.size for _, piece in drive.project.pieces()} == {Size(18, 18)}
    assert "8 pieces" in desk.history.words
    drive.station(3)
    drive.press("Pivots")
    drive.press("By the feet of each")
    assert "8 pieces" in desk.history.words
    assert all(piece.pivot_set for _, piece in drive.project.pieces())


def test_what_is_typed_counts_where_it_is_what_was_guessed(open_window, tmp_path: Path) -> None:
    drive = open_window()
    drive.drop(write_picture(tmp_path / "cells.png", figure(1)))
    drive.settle()
    drive.station(2)
    across = drive.seen(Stepper, "Cell across")
    assert drive.project.sheets[0].layout is None
    guess = int(across.value or 32)
    if across.value is not None:
        assert across.edit.text() == "", "a guess does not look like what was set"
    drive.type_number("Cell across", str(guess))
    drive.settle()
    layout = drive.project.sheets[0].layout
    assert isinstance(layout, EvenCells) and layout.cell.width == guess
    assert across.edit.text() == str(guess)
    for name, number in (("Cell across", 12), ("Cell down", 9), ("Margin across", 1)):
        drive.type_number(name, str(number))
    for name, number in (("Margin down", 2), ("Gap across", 3), ("Gap down", 4)):
        drive.type_number(name, str(number))
    drive.settle()
    assert drive.project.sheets[0].layout == EvenCells(Size(12, 9), Size(1, 2), Size(3, 4))


def test_a_number_that_cannot_be_is_told(drive: Driver) -> None:
    drive.station(3)
    choose(drive, "heron")
    drive.type_number("Pixels per unit", "0")
    assert "from 1 to 4096: it is 1 now" in drive.window.frame.notice.text


# -- next to somebody else's work ------------------------------------------------------


def said(driver: Driver) -> str:
    return driver.window.frame.notice.text


def painted(project: Project, level: int, place: tuple[int, int] = (40, 3)) -> Project:
    """A stroke on a level."""
    one = project.levels[level]
    index = next(n for n, layer in enumerate(one.layers) if not layer.locked)
    number = next(piece.number for _, piece in project.pieces())
    cells = one.layers[index].cells.painted({place: (number, 0)})
    return set_cells(project, one.name, index, cells)


def test_a_pull_under_an_open_window_is_told_and_taken_in(drive: Driver, demo: Path) -> None:
    base = drive.project
    theirs, _ = add_level(painted(base, 1), "Marsh")
    files.save(theirs, demo)
    drive.wait_for(lambda: "changed outside" in said(drive))
    assert "Marsh" in said(drive)
    drive.window.desk.said.emit("something else")
    drive.press("Good")
    assert "Marsh" in said(drive), "a question stays until it is answered"
    drive.press("Take it in")
    assert drive.project.levels == theirs.levels and not drive.window.desk.unsaved
    drive.window.menus.actions["edit.undo"].trigger()
    assert drive.project is base, "and can be undone"


def test_a_pull_meets_what_is_not_saved(drive: Driver, demo: Path) -> None:
    base, desk = drive.project, drive.window.desk
    theirs = painted(base, 1)
    files.save(theirs, demo)
    desk.do("A stroke", lambda project: painted(project, 0))
    before = {path: path.read_bytes() for path in (demo / "levels").iterdir()}
    drive.window.projects.save()
    assert desk.unsaved, "nothing is taken back without a word"
    assert before == {path: path.read_bytes() for path in (demo / "levels").iterdir()}
    drive.wait_for(lambda: "there are changes here" in said(drive))
    drive.press("Both")
    assert drive.project.levels[:2] == (painted(base, 0).levels[0], theirs.levels[1])
    assert drive.window.projects.save() and files.load(demo).levels == drive.project.levels


def test_what_both_changed_is_chosen(drive: Driver, demo: Path) -> None:
    base, desk = drive.project, drive.window.desk
    theirs = replace(base, name="Theirs")
    files.save(theirs, demo)
    desk.do("Named", lambda project: replace(project, name="Mine"))
    drive.wait_for(lambda: "Both changed" in said(drive))
    assert not [b for b in drive.window.frame.notice.findChildren(QPushButton) if b.text() == "Both"
                and b.isVisible()]  # fmt: skip
    drive.press("Mine")
    assert drive.window.projects.save() and files.load(demo).name == "Mine"


def test_saving_elsewhere_asks_before_it_replaces(
    drive: Driver, demo: Path, tmp_path: Path
) -> None:
    other = tmp_path / "other"
    files.save(replace(painted(drive.project, 0), name="Reedbank"), other)
    (other / "art").mkdir()
    (other / "art" / "eel.png").write_bytes(b"somebody else's")
    held = files.load(other)
    drive.answers.folder = other
    assert not drive.window.projects.save_elsewhere()
    assert "Reedbank" in said(drive) and files.load(other) == held
    drive.press("Replace it")
    assert files.load(other) == drive.project
    for sheet in drive.project.sheets:
        for source in sheet.sources:
            art = (other / source.path).read_bytes()
            assert hashlib.sha256(art).hexdigest() == source.content
    picture = other / drive.project.sheets[0].sources[0].path
    drive.settle()
    write_picture(picture, np.full((8, 8, 4), 200, np.uint8))
    drive.wait_for(lambda: "saved outside" in said(drive))


def test_saving_elsewhere_without_its_art_is_refused(drive: Driver, demo: Path, tmp_path) -> None:
    shutil.rmtree(demo / "art")
    drive.answers.folder = tmp_path / "there"
    assert not drive.window.projects.save_elsewhere()
    assert "any more" in said(drive) and not (tmp_path / "there").exists()


def test_a_copy_that_was_offered_stays_until_it_is_answered(open_window, demo: Path) -> None:
    saved = files.load(demo)
    first = open_window(demo)
    first.window.desk.do("Named", lambda project: replace(project, name="Before the crash"))
    keep(first)
    killed(first)
    for name in ("Second try", "Third try"):
        again = open_window(demo)
        assert "A copy of the work is here" in said(again)
        again.window.desk.do("Named", lambda project, name=name: replace(project, name=name))
        keep(again)
        killed(again)
    last = open_window(demo)
    names = []
    for _ in range(2):
        last.press("Bring it back")
        names.append(last.project.name)
        assert "A copy of the work is here" in said(last)
    last.press("Throw the copy away")
    assert names == ["Third try", "Second try"] and said(last) == ""
    assert files.load(demo) == saved
    last.close()
    assert said(open_window(demo)) == "", "all were answered"


def keep(driver: Driver) -> None:
    driver.window.projects.recovery.keep()
    driver.window.projects.recovery.wait()


def killed(driver: Driver) -> None:
    """Nothing of it is closed; the system lets go of what it held."""
    driver.window.desk.release()


def test_fourteen_strokes_without_a_pause_are_kept(drive: Driver, monkeypatch) -> None:
    recovery = drive.window.projects.recovery
    recovery._soon.setInterval(10**6)  # nobody ever pauses
    recovery._latest.setInterval(20)
    drive.window.desk.do("Named", lambda project: replace(project, name="A stroke"))
    drive.window.desk.do("Named", lambda project: replace(project, name="Another"))
    drive.wait_for(lambda: bool(recovery.copy.found(files.load(drive.window.desk.folder))))
    assert recovering.LATEST <= 5000


# -- every act can be left, every key is heard -------------------------------------------


def test_picking_a_colour_is_left_by_escape_and_by_going_elsewhere(drive: Driver) -> None:
    gather = drive.at("Gather")
    choose(drive, "eel")
    before = drive.project
    for key in (Qt.Key.Key_Escape, None):
        drive.press("Pick")
        if key is not None:
            drive.key(key)
        else:
            drive.station(2)
            drive.station(1)
        card = next(card for card in gather._cards._cards if card.sheet.name == "eel")
        QTest.mouseClick(gather._cards, LEFT, pos=card.picture.topLeft().toPoint() + QPoint(2, 2))
        assert drive.project is before, "the click only selects"


@pytest.fixture
def weaving(drive: Driver) -> Driver:
    drive.station(5)
    return drive


def with_props(driver: Driver) -> Any:
    """The hand, with the layer of props open and one of them chosen."""
    hand = driver.at("Weave").hand
    level = hand.level()
    index = next(n for n, layer in enumerate(level.layers) if layer.props and not layer.locked)
    desk = driver.window.desk
    desk.select(replace(desk.selection, layer=index))
    hand.take("Props")
    hand.things.choose({0})
    return hand


def test_what_is_selected_is_painted_and_placed_where_nothing_is_in_hand(drive: Driver) -> None:
    drive.station(5)
    desk, held = drive.window.desk, drive.at("Weave").hand.held
    tile, figure = (drive.project.sheet(name).pieces[0].number for name in ("fen_ground", "crab"))
    desk.do("Began a level", lambda project: add_level(project)[0])
    level = drive.project.levels[-1].name
    for tool, number in (("Box", tile), ("Props", figure)):
        held.brush = None
        desk.select(replace(desk.selection, level=level, layer=0, pieces=frozenset({number})))
        drive.press(tool)
        drive.drag((40, 40), (60, 60))
        drive.settle()
    layer = drive.project.level(level).layers[0]
    assert layer.cells.used() == {tile}
    assert [prop.piece for prop in layer.props] == [figure]


def test_a_path_is_left_by_escape_by_a_tool_and_by_going_elsewhere(weaving: Driver) -> None:
    before = weaving.project
    hand = with_props(weaving)
    for key in (Qt.Key.Key_Escape, Qt.Key.Key_B, None):
        hand.take("Props")
        hand.things.choose({0})
        weaving.press("Path")
        weaving.click(20, 20)
        assert hand.things.path
        if key is not None:
            weaving.key(key)
        else:
            weaving.station(6)
            weaving.station(5)
        assert hand.things.path is None
        weaving.key(Qt.Key.Key_Return)
    assert weaving.project.levels == before.levels


def test_undo_while_a_prop_is_put_down_leaves_nothing(weaving: Driver) -> None:
    hand = with_props(weaving)
    hand.things.choose(())
    number = weaving.project.sheet("crab").pieces[0].number
    hand.held.brush = single(number)
    before = weaving.project
    far = (weaving.canvas.content.right + 400, weaving.canvas.content.y + 20)
    QTest.mousePress(weaving.canvas, LEFT, pos=weaving.spot(*far))
    assert weaving.project is not before
    weaving.window.menus.actions["edit.undo"].trigger()
    QTest.mouseRelease(weaving.canvas, LEFT, pos=weaving.spot(*far))
    assert weaving.project is before and not hand.things.chosen


def test_fit_shows_all_that_is_painted_now(weaving: Driver) -> None:
    desk, canvas = weaving.window.desk, weaving.canvas
    desk.do("A stroke", lambda project: painted(project, 0, (300, 3)))
    weaving.window.commands.run("view.all")
    right = canvas.view.to_screen(301 * weaving.project.rules.tile.width, 0).x
    assert 0 < right <= canvas.width()


def test_digits_and_signs_reach_the_table_wherever_the_focus_is(drive: Driver) -> None:
    drive.station(4)
    QTest.mouseClick(drive.canvas, LEFT, pos=QPoint(5, 5))
    drive.press("Facts")
    focus = drive.window.focusWidget()
    table = drive.window.router.key_table()
    assert focus is table or table.isAncestorOf(focus)
    ran: list[str] = []
    drive.window.commands.ran.connect(ran.append)
    button = drive.button("Shapes")
    for holder in (focus, button):
        holder.setFocus()
        ran.clear()
        QTest.keyClick(holder, Qt.Key.Key_1)
        assert ran, f"{holder} keeps a digit to itself"
