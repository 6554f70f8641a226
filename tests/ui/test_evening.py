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
from rushweed.ui.stations.common.reading_card import ReadingCard
from tests.corpus.pack import write_pack
from tests.driving import LEFT, Driver
from tests.hands import QTest

MOST_ACTIONS = 25


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

    def pick_sheet(self, name: str) -> None:
        self.actions += 1
        rows = self.drive.window.frame.rack.sheets.rows
        order = [sheet.name for sheet in self.drive.project.sheets]
        place = rows.visualRect(rows.model().index(order.index(name), 0)).center()
        QTest.mouseClick(rows.viewport(), LEFT, pos=place)

    def pick_tile(self, sheet: str, place: int) -> None:
        self.actions += 1
        tray = self.drive.at("Weave").slip.tray.tray
        number = self.drive.project.sheet(sheet).pieces[place].number
        QTest.mouseClick(tray, LEFT, pos=tray.place_of(number).center().toPoint())

    def take_first_reading(self, name: str) -> None:
        """Click the likeliest reading on a sheet's card, and let it come into view first."""
        self.actions += 1
        cards = self.drive.at("Gather")._cards
        first = next(
            card
            for card in cards.findChildren(ReadingCard)
            if card.accessibleName().startswith(f"Take {name} as")
        )
        QTest.mouseClick(first, LEFT)
        self.drive.settle()

    def drag(self, *cells: tuple[int, int]) -> None:
        self.actions += 1
        width, height = self.drive.project.rules.tile
        self.drive.drag(*(((x + 0.5) * width, (y + 0.5) * height) for x, y in cells))

    def click(self, x: int, y: int) -> None:
        self.drag((x, y))

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
    hand = Hand(drive)
    pack = write_pack(tmp_path / "pack")
    drive.drop(pack)
    gather_the_pack(hand)
    make_the_ground_solid(hand)
    paint_a_room(hand)
    walk_in_it(hand)
    bundle = hand_it_over(hand, tmp_path / "bundle")
    assert bundle["tile"] == [32, 32] and bundle["levels"]
    assert hand.actions <= MOST_ACTIONS, f"{hand.actions} actions"
    drive.answers.folder = tmp_path / "moor"
    drive.window.menus.actions["project.save"].trigger()
    assert files.load(tmp_path / "moor") == drive.project
    drive.undo_all()
    assert drive.project.sheets == () and drive.project.rules.tile == Size(16, 16)


def gather_the_pack(hand: Hand) -> None:
    drive = hand.drive
    assert len(drive.project.sheets) == 8
    licence = drive.at("Gather").licence.fields
    hand.type_text(licence["identifier"], "CC0-1.0")
    assert {sheet.licence.identifier for sheet in drive.project.sheets} == {"CC0-1.0"}
    hand.press("Take all as seen")
    for name in doubtful(drive.project, partial(see, drive.window.desk.art)):
        hand.take_first_reading(name)
    assert all(sheet.pieces for sheet in drive.project.sheets)
    rules = drive.project.rules
    assert (rules.tile, rules.pixels_per_unit) == (Size(32, 32), 32), "taken from the art"
    drive.window.watch.look()
    assert not [f for f in drive.window.watch.findings if "pixel" in f.code or "tile" in f.code]


def make_the_ground_solid(hand: Hand) -> None:
    drive = hand.drive
    hand.station(4)
    hand.pick_sheet("moor_ground")
    hand.key(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hand.key(Qt.Key.Key_W)
    assert all(piece.shapes for piece in drive.project.sheet("moor_ground").pieces)


def paint_a_room(hand: Hand) -> None:
    drive = hand.drive
    hand.station(5)
    hand.press("Begin a level")
    drive.qtbot.wait(10)
    hand.pick_tile("moor_ground", 1)
    hand.press("Tool: Box")
    hand.drag((1, 10), (16, 11))
    hand.drag((1, 3), (16, 3))
    hand.drag((1, 4), (1, 9))
    hand.drag((16, 4), (16, 9))
    cells = drive.project.levels[0].layers[0].cells
    assert cells.count() == 16 * 3 + 12
    seen = drive.canvas.visible()
    assert seen.x <= 32 and seen.right >= 17 * 32, "the empty level was opened wide enough"


def walk_in_it(hand: Hand) -> None:
    drive = hand.drive
    hand.station(6)
    walk = drive.at("Walk")
    stage = walk.stage
    drive.wait_for(lambda: stage.course.motion.grounded)
    assert stage.course.motion.y == 10 * 32, "it stands on the floor of the room, not on its roof"
    assert stage.course.ground is not None and stage.course.ground.body == Size(20, 42), "in units"
    before = stage.course.motion.x
    hand.actions += 1
    QTest.keyPress(stage, Qt.Key.Key_Right)
    drive.wait_for(lambda: stage.course.motion.x > before + 40)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    assert stage.course.motion.y == 10 * 32


def hand_it_over(hand: Hand, folder: Path) -> dict:
    hand.station(7)
    hand.drive.answers.folder = folder
    hand.press("Write the bundle …")
    return json.loads((folder / "bundle.json").read_text())
