"""The first evening with a stranger's pack: from an empty project to a walked level and a bundle,
each action of the hand counted."""

from __future__ import annotations

import json
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from rushweed.core.cut.gathering import doubtful, see
from rushweed.core.project import files
from rushweed.core.values import Size
from tests.driving import LEFT, NONE, Driver
from tests.hands import QTest
from tests.pack import write_pack

MOST_ACTIONS = 14


class Hand:
    """Does things in the window and counts them: a click, a drag, a key, a typed value are one."""

    def __init__(self, drive: Driver) -> None:
        self.drive, self.actions = drive, 0

    def press(self, name: str) -> None:
        self.actions += 1
        self.drive.press(name)

    def station(self, number: int) -> None:
        self.actions += 1
        self.drive.station(number)
        self.drive.qtbot.wait(10)

    def key(self, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        self.actions += 1
        QTest.keyClick(self.drive.window.focusWidget() or self.drive.window, key, held)
        self.drive.settle()

    def pick_tile(self, sheet: str, place: int) -> None:
        self.actions += 1
        tray = self.drive.at("Weave").slip.tray.tray
        number = self.drive.project.sheet(sheet).pieces[place].number
        QTest.mouseClick(tray, LEFT, pos=tray.place_of(number).center().toPoint())

    def drag(self, *cells: tuple[int, int], held: Qt.KeyboardModifier = NONE) -> None:
        self.actions += 1
        width, height = self.drive.project.rules.tile
        places = (((x + 0.5) * width, (y + 0.5) * height) for x, y in cells)
        self.drive.drag(*places, held=held)

    def type_text(self, field, text: str) -> None:
        self.actions += 1
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.drive.window.activateWindow()  # as a window manager does when a list is folded
        self.drive.wait_for(self.drive.window.isActiveWindow)


@pytest.mark.real_window
def test_an_evening_with_a_strangers_pack(open_window, tmp_path: Path) -> None:
    drive = open_window()
    evening(drive, tmp_path, 32)
    drive.answers.folder = tmp_path / "moor"
    drive.window.menus.actions["project.save"].trigger()
    assert files.load(tmp_path / "moor") == drive.project
    drive.undo_all()
    assert drive.project.sheets == () and drive.project.rules.tile == Size(16, 16)


@pytest.mark.parametrize("tile", [16, 24, 48, 64])
def test_an_evening_with_tiles_of_any_size(open_window, tmp_path: Path, tile: int) -> None:
    evening(open_window(), tmp_path, tile)


def evening(drive: Driver, folder: Path, tile: int) -> None:
    """From an empty project to a walked room and a bundle."""
    hand = Hand(drive)
    drive.drop(write_pack(folder / "pack", tile=tile))
    hand.actions += 1
    gather_the_pack(hand, tile)
    paint_a_room(hand)
    walk_in_it(hand, tile)
    bundle = hand_it_over(hand, folder / "bundle")
    assert bundle["tile"] == [tile, tile] and bundle["levels"]
    assert hand.actions <= MOST_ACTIONS, f"{hand.actions} actions"


def gather_the_pack(hand: Hand, tile: int) -> None:
    drive = hand.drive
    assert len(drive.project.sheets) == 8
    licence = drive.at("Gather").licence.fields
    hand.type_text(licence["identifier"], "CC0-1.0")
    assert {sheet.licence.identifier for sheet in drive.project.sheets} == {"CC0-1.0"}
    hand.press("Take all as seen")
    if doubtful(drive.project, partial(see, drive.window.desk.art)):
        hand.key(Qt.Key.Key_L)
    assert all(sheet.pieces for sheet in drive.project.sheets)
    rules = drive.project.rules
    assert (rules.tile, rules.pixels_per_unit) == (Size(tile, tile), tile), "taken from the art"
    assert 12 <= rules.resolution.width / tile <= 24, "a fair part of a level is seen"
    drive.window.watch.look()
    assert not [f for f in drive.window.watch.findings if "pixel" in f.code or "tile" in f.code]


def paint_a_room(hand: Hand) -> None:
    drive = hand.drive
    hand.station(5)
    hand.press("Begin a level")
    drive.qtbot.wait(10)
    hand.pick_tile("moor_ground", 1)
    hand.press("Tool: Box")
    hand.drag((1, 3), (8, 7), held=Qt.KeyboardModifier.ShiftModifier)
    cells = drive.project.levels[0].layers[0].cells
    assert cells.count() == 2 * 8 + 2 * 3, "walls, floor and ceiling in one drag"


def walk_in_it(hand: Hand, tile: int) -> None:
    drive = hand.drive
    hand.station(6)
    hand.press("Take them as the art says")
    stage = drive.at("Walk").stage
    drive.wait_for(lambda: stage.course.motion.grounded)
    assert stage.course.motion.y == 7 * tile, "it stands on the floor of the room"
    before = stage.course.motion.x
    hand.actions += 1
    QTest.keyPress(stage, Qt.Key.Key_Right)
    drive.wait_for(lambda: stage.course.motion.x > before + tile)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    assert stage.course.motion.y == 7 * tile


def hand_it_over(hand: Hand, folder: Path) -> dict:
    hand.station(7)
    hand.drive.answers.folder = folder
    hand.press("Write the bundle …")
    return json.loads((folder / "bundle.json").read_text())
