"""Every face at any scale: tiles of 8 to 256 px, small and large games, narrow windows."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtWidgets import QComboBox, QPushButton

from rushweed.core.project.ground_rules import choose_rules
from rushweed.core.project.project import with_level
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.painting import single
from rushweed.ui.canvas.view import STEPS, opened
from rushweed.ui.shell.lens_scale import LOWEST_GROUND, TALLEST, Extent, lens_scale
from rushweed.ui.shell.stepper import Stepper
from tests.hands import LEFT, QTest
from tests.pack import ground
from tests.samples import write_picture

TABLE = Size(782, 494)


@given(
    st.integers(1, 1024), st.integers(0, 1024), st.integers(1, 1024),
    st.sampled_from((1, 8, 16, 24, 32, 64, 100, 256, 1024)),
)  # fmt: skip
def test_the_lens_shows_all_of_it_with_the_post(
    above: int, below: int, across: int, per_unit: int
) -> None:
    unit, foot = lens_scale([Extent(above, below, across, per_unit)])
    scale = unit / per_unit
    assert (above + below) * scale <= TALLEST + 1e-6 and across * scale <= 236 + 1e-6
    assert 0 < unit <= 264 + 1e-6 and foot <= LOWEST_GROUND
    assert foot - above * scale >= -1, "nothing reaches past the upper edge"
    whole = scale if scale >= 1 else 1 / scale
    assert abs(whole - round(whole)) < 1e-6, "pixels stay even"
    if max(above + below, across) <= 24 and per_unit >= 8:
        assert max(above + below, across) * scale >= 7 or scale >= 0.5, "never a speck"


@given(
    st.integers(-500, 500), st.integers(-500, 500), st.integers(1, 9000), st.integers(1, 9000),
    st.booleans(),
)  # fmt: skip
def test_a_level_opens_on_what_is_painted(
    x: int, y: int, width: int, height: int, starts: bool
) -> None:
    content = Rect(x, y, width, height)
    start = Point(x + width * 0.7, y + height * 0.5) if starts else None
    view = opened(content, start, TABLE)
    seen = view.visible(*TABLE)
    assert view.scale in STEPS and view.scale <= 2
    shown = seen.intersection(content)
    assert shown.width >= 0.9 * min(seen.width, width)
    assert shown.height >= 0.9 * min(seen.height, height)
    if start is not None and seen.width < width and seen.height < height:
        assert seen.grown(2).contains(start.x, start.y)


@pytest.mark.parametrize(("side", "resolution"), [
    (8, Size(160, 144)), (24, Size(480, 270)), (64, Size(1280, 720)), (256, Size(3840, 2160)),
])  # fmt: skip
def test_a_game_of_any_scale_is_painted_and_walked(
    open_window,
    tmp_path: Path,
    side: int,
    resolution: Size,
) -> None:
    drive = open_window()
    picture = ground(np.random.default_rng(side), side, side, 6, 4)
    drive.drop(write_picture(tmp_path / "ground.png", picture))
    window = drive.window
    drive.station(2)
    drive.press("Layout: Even cells")
    drive.type_number("Cell across", str(side))
    drive.type_number("Cell down", str(side))
    rules = drive.project.rules
    assert rules.tile == Size(side, side) and rules.pixels_per_unit == side
    window.desk.do("Resolution", lambda p: choose_rules(p, resolution=resolution))
    pieces = drive.project.sheet("ground").pieces
    drive.station(4)
    window.select_all()
    QTest.keyClick(drive.canvas, Qt.Key.Key_W)
    drive.station(5)
    drive.press("Begin a level")
    drive.qtbot.wait(5)
    weave = window.router.stations["Weave"].at(0)
    assert drive.canvas.visible().width >= 12 * side, "room for more than six cells"
    weave.hand.picking.take_brush(single(pieces[0].number))
    at = [((c + 0.5) * side, 8.5 * side) for c in (1, 8)]
    drive.drag(*at)
    name = window.desk.selection.level
    window.desk.do("Started", lambda p: with_level(
        p, name, lambda level: replace(level, start=Point(2.5 * side, 8 * side))))  # fmt: skip
    assert {drive.project.levels[0].layers[0].cells.at(c, 8)[0] for c in range(1, 9)} == {
        pieces[0].number
    }
    shown = drive.colour_at(4.5 * side, 8.6 * side)
    assert shown != drive.colour_at(4.5 * side, 5.5 * side), "the tiles are seen"
    drive.station(6)
    stage = window.router.stations["Walk"].at(0).stage
    drive.wait_for(lambda: stage.course.motion.grounded)
    assert stage.course.motion.y == 8 * side and stage.course.ground.body.height == round(
        21 / 16 * side
    )
    assert QRectF(stage.rect()).contains(stage.picture_rect()), (
        "nothing of the game's picture is cut off"
    )
    window.router.turn_face(0)
    window.grab()


def test_letters_reach_the_tools_and_a_click_selects_a_number(open_window, demo: Path) -> None:
    drive = open_window(demo)
    drive.station(5)
    weave, window = drive.at("Weave"), drive.window
    combo = next(c for c in window.findChildren(QComboBox) if c.isVisible())
    chosen = combo.currentIndex()
    for widget in (combo, window.frame.rack.levels.layers, *_steppers(window)[:1]):
        widget.setFocus()
        for key, tool in ((Qt.Key.Key_F, "Fill"), (Qt.Key.Key_D, "Brush"), (Qt.Key.Key_O, "Props")):
            QTest.keyClick(window.focusWidget(), key)
            assert weave.hand.held.tool == tool
    assert combo.currentIndex() == chosen
    field = weave.slip.marks._name
    weave.hand.take("Mark")
    field.setFocus()
    QTest.keyClicks(field, "door")
    assert weave.hand.held.tool == "Mark" and field.text() == "door", "not in a text that is typed"
    window.desk.select(replace(window.desk.selection, sheets=("keeper",), pieces=frozenset()))
    drive.station(3)
    window.router.turn_face(1)
    window.select_all()
    playing = window.frame.lens.picture.playing
    QTest.keyClick(drive.canvas, Qt.Key.Key_P)
    assert window.frame.lens.picture.playing is not playing, "P plays"
    stepper = next(s for s in _steppers(window) if s.value)
    window.setFocus()
    QTest.mouseClick(stepper.edit, LEFT)
    assert stepper.edit.selectedText() == stepper.edit.text() != ""
    history = window.desk.history
    QTest.keyClicks(stepper.edit, "1")
    assert window.desk.history is history, "an unfinished number does nothing"


def test_acts_in_cut_reach_all_selected_sheets_or_say_which_not(
    open_window, tmp_path: Path
) -> None:
    drive = open_window()
    draw = np.random.default_rng(4)
    paths = [write_picture(tmp_path / f"{n}.png", ground(draw, 16, 16, w, 4)) for n, w in
             (("moor", 6), ("hut", 8), ("slab", 1))]  # fmt: skip
    drive.drop(*paths)
    drive.station(2)
    window = drive.window
    window.desk.select(replace(window.desk.selection, sheets=("moor", "hut", "slab")))
    drive.press("Layout: Even cells")
    drive.type_number("Cell across", "32")
    drive.type_number("Cell down", "16")
    assert {len(drive.project.sheet(n).pieces) for n in ("moor", "hut")} == {12, 16}
    assert "slab" in window.frame.notice.text and "32" in window.frame.notice.text
    drive.press("Layout: One picture")
    assert all(len(sheet.pieces) == 1 for sheet in drive.project.sheets)
    assert not window.frame.notice.text, "a refusal is gone with the next thing that succeeds"
    rows = window.frame.rack.sheets.rows
    window.desk.select(replace(window.desk.selection, sheets=("hut",)))
    rows.setFocus()
    QTest.keyClick(rows, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [sheet.name for sheet in drive.project.sheets] == ["hut", "moor", "slab"]
    menu = window.frame.rack.sheets.acts.make_menu(window, window.commands)
    assert [a.text().split("\t")[0] for a in menu.actions() if a.text()][:2] == [
        "Rename", "Replace the picture …",
    ]  # fmt: skip
    window.frame.rack.sheets.acts.rename("hut", "cabin")
    assert window.desk.selection.sheets == ("cabin",)
    number = drive.project.sheet("cabin").pieces[0].number
    drive.station(5)
    drive.press("Begin a level")
    window.router.stations["Weave"].at(0).hand.picking.take_brush(single(number))
    drive.click(8, 8)
    drive.station(1)
    window.desk.select(replace(window.desk.selection, sheets=("cabin",)))
    before = drive.project
    rows.setFocus()
    QTest.keyClick(rows, Qt.Key.Key_Delete)
    assert "used by Level" in window.frame.notice.text
    assert not drive.project.levels[0].layers[0].cells.count()
    drive.press("Bring it back")
    assert drive.project is before


def _steppers(window) -> list[Stepper]:
    return [s for s in window.findChildren(Stepper) if s.isVisible() and s.isEnabled()]


def test_ground_rules_are_changed_where_they_stand(open_window, demo: Path) -> None:
    drive = open_window(demo)
    window = drive.window
    before = drive.project
    QTest.mouseClick(window._facts.button, LEFT)
    assert window.frame.slip.currentWidget() is window.frame.rules and window.frame.lens.isVisible()
    lens = window.frame.lens.picture.grab().toImage()
    drive.type_number("Pixels per unit of the project", "2*16")
    assert drive.project.rules.pixels_per_unit == 32 and drive.project.rules.chosen
    assert window.frame.lens.picture.grab().toImage() != lens, "the lens follows at once"
    drive.type_number("Tile width", "24")
    drive.type_number("Width of the game's picture", "640")
    drive.press("View of new levels: From above")
    drive.press("y grows: Downwards")
    rules = drive.project.rules
    assert (rules.tile, rules.view, rules.y_up) == (Size(24, 16), "top-down", False)
    assert "24 × 16 tiles" in window._facts.button.text()
    assert drive.undo_all() == 5, "one step of undo each"
    assert drive.project is before
    buttons = [b for b in window.frame.rules.findChildren(QPushButton) if b.text() == "Done"]
    QTest.mouseClick(buttons[0], LEFT)
    assert window.frame.slip.currentWidget() is not window.frame.rules
