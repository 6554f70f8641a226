"""What one does at each station, with real events, asserting on the project and on pixels."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication

from rushweed.core.cut.cutting import cut
from rushweed.core.project.project import with_sheet
from rushweed.core.project.shape import Stopping
from rushweed.core.project.sheet import ColourKey, EvenCells, LoosePieces
from rushweed.core.values import Colour, Point, Rect, Size
from rushweed.ui.shell.controls import Field
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.gather.brought_back import BroughtBack
from tests.conftest import RAW
from tests.hands import CONTROL, LEFT, RIGHT, SHIFT, QTest, drag_over
from tests.pack import figures
from tests.samples import checkered, write_picture
from tools.corpus.sheets import corpus


@pytest.fixture
def drive(open_window, demo: Path):
    return open_window(demo)


def select(drive, sheet: str, *places: int, more: tuple[str, ...] = ()) -> None:
    desk = drive.window.desk
    pieces = desk.project.sheet(sheet).pieces
    numbers = frozenset(pieces[place].number for place in places)
    desk.select(replace(desk.selection, sheets=(sheet, *more), pieces=numbers))


def words(drive) -> str:
    return drive.window.desk.history.words


# -- Gather ----------------------------------------------------------------------


def test_key_and_licence_are_set_for_all_that_is_selected(drive) -> None:
    gather = drive.at("Gather")
    select(drive, "eel", more=("landing",))
    assert gather.key.aside.text() == "differs" and gather.key.key.text() == ""
    drive.type_text("Author", "Mara Sedge")
    assert {drive.project.sheet(n).licence.author for n in ("eel", "landing")} == {"Mara Sedge"}
    drive.type_text("Licence", "whatever")
    assert "no SPDX identifier" in gather.licence.result.text()
    drive.type_text("Licence", "gpl-2+")
    assert drive.project.sheet("eel").licence.identifier == "GPL-2.0-or-later"
    select(drive, "eel")
    drive.press("None")
    assert drive.project.sheet("eel").colour_key is None
    drive.type_text("Colour that stands for nothing", "#ff00ff")
    assert drive.project.sheet("eel").colour_key == ColourKey(Colour(255, 0, 255))
    drive.type_number("Tolerance", "12")
    drive.type_number("Fringe cleaned", "1")
    assert drive.project.sheet("eel").colour_key == ColourKey(Colour(255, 0, 255), 12, 1)
    drive.press("None")
    drive.press("Pick")
    card = next(card for card in gather._cards._cards if card.sheet.name == "eel")
    QTest.mouseClick(gather._cards, LEFT, pos=card.picture.topLeft().toPoint() + QPoint(2, 2))
    assert drive.project.sheet("eel").colour_key == ColourKey(Colour(255, 0, 255))
    drive.type_number("Tolerance", "12")
    drive.type_text("Colour that stands for nothing", "purple")
    assert "write it as #RRGGBB" in drive.window.frame.notice.text
    select(drive, "crab")
    drive.type_number("One drawn pixel", "2")
    assert drive.project.sheet("crab").size == Size(66, 24)


def test_cards_select_and_credits_say_what_is_missing(drive) -> None:
    cards = drive.at("Gather")._cards
    QTest.mouseClick(cards, LEFT, pos=cards.rect_of("keeper").center())
    QTest.mouseClick(cards, LEFT, CONTROL, cards.rect_of("heron").center())
    assert drive.window.desk.selection.sheets == ("keeper", "heron")
    drive.window.router.turn_face(1)
    text = drive.at("Gather", 1)._credits.toPlainText()
    assert "keeper" in text and "CC0-1.0" in text and "Lanternfen" in text


def test_bad_files_are_told_and_the_others_come_in(open_window, tmp_path: Path) -> None:
    drive = open_window()
    (tmp_path / "notes.png").write_text("no picture")
    (tmp_path / "short.png").write_bytes((RAW / "heron.png").read_bytes()[:300])
    named = write_picture(tmp_path / ("🐸 reed " + "long" * 40 + ".png"), checkered(16, 16))
    drive.drop(
        tmp_path / "notes.png",
        tmp_path / "lost.png",
        tmp_path / "short.png",
        named,
        RAW / "crab.png",
    )
    assert [sheet.name for sheet in drive.project.sheets] == [named.stem, "crab"]
    told = drive.window.frame.notice.text.split("\n")
    assert len(told) == 3 and all(line.endswith(".") for line in told)
    assert "“notes.png” is not a picture" in told[0] and "“lost.png” is gone" in told[1]
    drive.press("Good")
    assert drive.window.frame.notice.text == ""
    drive.drop(tmp_path / "nothing here")
    assert len(drive.project.sheets) == 2 and drive.window.frame.notice.text
    assert drive.undo_all() == 1 and drive.project.sheets == ()


def test_many_pictures_are_taken_as_seen_at_once(open_window, tmp_path: Path) -> None:
    drive = open_window()
    folder = tmp_path / "pack"
    folder.mkdir()
    for index in range(20):
        write_picture(
            folder / f"reed{chr(97 + index)}.png",
            figures(np.random.default_rng(index), 48, 64, 6, 1),
        )
    write_picture(folder / "reeda_normal.png", checkered(288, 64))
    drive.drop(folder)
    assert len(drive.project.sheets) == 21
    drive.press("Take all as seen")
    assert all(sheet.layout or sheet.belongs for sheet in drive.project.sheets)
    follower = drive.project.sheet("reeda_normal")
    assert follower.belongs is not None and follower.belongs.to == "reeda"
    numbers = [piece.number for _, piece in drive.project.pieces()]
    assert len(set(numbers)) == len(numbers) and max(numbers) < drive.project.next_number
    desk = drive.window.desk
    desk.select(replace(desk.selection, sheets=("reeda_normal",)))
    assert "cut as reeda is" in drive.at("Gather").kind.result.text()
    drive.press("Let it stand alone")
    assert drive.project.sheet("reeda_normal").belongs is None
    assert drive.undo_all() == 3


def test_a_picture_that_is_gone_is_a_finding_and_the_window_lives_on(
    open_window, demo: Path
) -> None:
    (demo / "art" / "heron.png").unlink()
    (demo / "art" / "crab.png").write_text("text now")
    drive = open_window(demo)
    drive.window.watch.look()
    found = {f.sheet for f in drive.window.watch.findings if f.code == "picture-unreadable"}
    assert found == {"heron", "crab"}
    for number in range(1, 8):
        drive.station(number)
        drive.window.grab()


# -- Cut -------------------------------------------------------------------------


def test_guesses_numbers_and_layouts(drive) -> None:
    drive.station(2)
    select(drive, "keeper")
    cut = drive.at("Cut")
    keeper = drive.project.sheet("keeper").layout
    other_card = next(
        card
        for card in cut.readings.cards
        if card.reading and isinstance(card.reading.layout, EvenCells)
        if card.reading.layout != keeper
    )
    other = other_card.reading.layout
    QTest.mouseClick(other_card, LEFT)
    assert drive.project.sheet("keeper").layout == other
    drive.type_number("Cell across", "34/2")
    assert drive.project.sheet("keeper").layout.cell.width == 17
    drive.type_number("Cell across", "900")
    assert "Not one cell" in drive.window.frame.notice.text
    assert drive.project.sheet("keeper").layout.cell.width == 17, "the last good value stays"
    drive.press("Layout: One picture")
    assert len(drive.project.sheet("keeper").pieces) == 1
    drive.press("Layout: Loose pieces")
    loose = drive.project.sheet("keeper").layout
    assert isinstance(loose, LoosePieces) and loose.within is not None
    drive.type_number("Distance", "4")
    assert drive.project.sheet("keeper").layout == LoosePieces(4)
    drive.press("Layout: Even cells")
    assert isinstance(drive.project.sheet("keeper").layout, EvenCells)
    assert drive.undo_all() == 6


def test_pieces_are_selected_by_click_box_and_strip_and_stay_selected(drive) -> None:
    drive.station(2)
    select(drive, "keeper")
    drive.qtbot.wait(5)
    pieces = drive.project.sheet("keeper").pieces
    selected = lambda: drive.window.desk.selection.pieces  # noqa: E731
    drive.click(10, 12)
    assert selected() == {pieces[0].number}
    drive.click(30, 12, CONTROL)
    drive.click(10, 12, CONTROL)
    assert selected() == {pieces[1].number}
    drive.drag((2, 26), (20, 30), (40, 44))
    assert selected() == {pieces[i].number for i in (6, 7, 8)}
    drive.station(4)
    assert selected() == {pieces[i].number for i in (6, 7, 8)}, "one selection everywhere"
    strip = drive.window.frame.strip
    QTest.mouseClick(strip, LEFT, pos=strip.rect_of(pieces[2].number).center())
    QTest.mouseClick(strip, LEFT, SHIFT, strip.rect_of(pieces[4].number).center())
    assert selected() == {pieces[i].number for i in (2, 3, 4)}
    title = QPoint(strip.rect_of(pieces[0].number).x() + 4, 12)
    QTest.mouseClick(strip, LEFT, pos=title)
    assert selected() == {piece.number for piece in pieces[:6]}, "the title of a row, all of it"
    QTest.mouseClick(strip, LEFT, pos=strip.rect_of(pieces[2].number).center())
    QTest.keyClick(strip, Qt.Key.Key_Right)
    assert selected() == {pieces[3].number}
    drive.window.menus.actions["edit.select_all"].trigger()
    assert len(selected()) == 25


def test_cuts_are_corrected_by_hand_and_survive_another_grid(drive) -> None:
    drive.station(2)
    select(drive, "keeper")
    drive.qtbot.wait(5)
    sheet = lambda: drive.project.sheet("keeper")  # noqa: E731
    first = sheet().pieces[0].number
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_E)
    drive.drag((18, 12), (20, 12), (15.2, 12))
    assert drive.project.find(first)[1].rect == Rect(0, 0, 16, 24), "an edge by whole pixels"
    drive.drag((8, 12), (9, 14))
    assert drive.project.find(first)[1].rect == Rect(1, 2, 16, 24), "from its middle, all of it"
    drive.key(Qt.Key.Key_Left)
    assert drive.project.find(first)[1].rect == Rect(0, 2, 16, 24)
    drive.key(Qt.Key.Key_D)
    drive.drag((120, 4), (140, 20))
    assert drive.window.desk.selection.pieces == {sheet().pieces[6].number}
    assert sheet().pieces[6].rect == Rect(120, 4, 13, 16), "it ends at the picture's edge"
    drive.key(Qt.Key.Key_K)
    drive.click(126, 10)
    assert [p.rect.width for p in sheet().pieces[6:8]] == [6, 7]
    drive.key(Qt.Key.Key_L)
    drive.click(124, 8)
    assert sum(p.rect.width == 6 for p in sheet().pieces) == 2
    drive.key(Qt.Key.Key_V)
    select(drive, "keeper", 6, 7)
    drive.press("Join")
    assert len(sheet().pieces) == 27
    select(drive, "keeper", 3)
    drive.press("Split where thin")
    assert len(sheet().pieces) == 28
    select(drive, "keeper", 12, 13)
    drive.press("Trim")
    drive.press("Grow")
    drive.press("One size")
    kept = {p.rect for p in sheet().pieces if p.by_hand}
    drive.key(Qt.Key.Key_Delete)
    select(drive, "keeper", 14)
    gone = sheet().pieces[14].rect
    drive.key(Qt.Key.Key_Delete)
    assert len(sheet().left_out) == 3
    drive.type_number("Gap across", "1")
    assert {p.rect for p in sheet().pieces if p.by_hand} < kept
    drive.type_number("Gap across", "0")
    assert gone not in {p.rect for p in sheet().pieces}
    drive.press("Bring back")
    assert sheet().left_out == () and gone in {p.rect for p in sheet().pieces}
    drive.window.grab()


def test_pieces_are_doubled_split_matched_and_made_even(drive) -> None:
    drive.station(2)
    select(drive, "landing", 3)
    drive.qtbot.wait(5)
    cut = drive.at("Cut")
    sheet = lambda: drive.project.sheet("landing")  # noqa: E731
    assert cut._corrections.aside.text() == "4: row 1, column 4\n82, 5, 16 × 47 px"
    count = len(sheet().pieces)
    drive.press("Duplicate")
    assert len(sheet().pieces) == count + 1
    drive.type_number("Wide", "8")
    drive.type_number("High", "20")
    drive.press("Cut up into cells")
    assert len(sheet().pieces) > count + 1
    drive.press("Repeat")
    assert "Edges were apart" in cut._corrections.result.text()
    drive.window.menus.actions["edit.undo"].trigger()
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_K)
    x, y, width, _ = sheet().pieces[0].rect
    drive.drag((x + 2, y + 5), (x + 9, y + 5), (x + 16, y + 5))
    assert sheet().pieces[0].rect.size == Size(width, 5), "a drag across lays the line down"
    drive.undo_all()
    slider = cut._loose.slider
    before = len(sheet().pieces)
    for event, place in (("Press", 3), ("Move", 24), ("Release", 24)):
        spot = QPoint(round(slider.place_of(place)), 10)
        act = getattr(QTest, f"mouse{event}")
        act(slider, spot) if event == "Move" else act(slider, LEFT, pos=spot)
        if event == "Move":
            assert len(sheet().pieces) < before, "seen while it moves"
            assert drive.window.desk.history.earlier is None
    assert drive.window.desk.history.words == "Cut landing into loose pieces"
    assert sheet().layout == LoosePieces(24, 4)
    drive.window.menus.actions["edit.undo"].trigger()
    assert len(sheet().pieces) == before
    select(drive, "landing", 6, 7, 8)
    drive.press("More")
    drive.press("Part figures that touch")
    assert drive.project.sheet(drive.window.desk.selection.sheets[0]).layout.parted
    drive.press("Part figures that touch")
    drive.press("Make it even")
    assert len({piece.rect.size for piece in sheet().pieces[6:9]}) == 1
    select(drive, "keeper", 0)
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_A)
    assert len(drive.window.desk.selection.pieces) > 1


def test_rows_get_names_and_become_animations(drive) -> None:
    drive.station(2)
    select(drive, "heron")
    names = drive.at("Cut")._names
    drive.type_text("Row names", "stand, a, b, c, d, e, f, g")
    assert "take some away" in drive.window.frame.notice.text
    drive.type_text("Row names", "stand")
    drive.type_text("Name pattern", "{who}")
    assert "but not {who}" in names.result.text()
    names._row_names.selectAll()
    QTest.keyClicks(names._row_names, "stand, fish")
    names._pattern.selectAll()
    QTest.keyClicks(names._pattern, "{row}_{n:2}")
    assert names.result.text().startswith("stand_01, stand_02")
    drive.press("Name all")
    assert drive.project.sheet("heron").pieces[0].name == "stand_01"
    assert {"stand", "fish"} <= {a.name for a in drive.project.sheet("heron").animations}
    assert words(drive) == "Named 9 pieces of heron"
    drive.window.desk.do(
        "Bare", lambda p: with_sheet(p, "heron", lambda s: replace(s, pieces=(), animations=()))
    )
    for field in (names._pattern, names._row_names):
        QTest.keyClick(field, Qt.Key.Key_Return)
        assert "no piece to name yet" in drive.window.frame.notice.text


# -- Gauge -----------------------------------------------------------------------


def test_the_lens_shows_size_filter_and_what_was_gathered(drive) -> None:
    drive.station(3)
    select(drive, "crab", 0)
    lens = drive.window.frame.lens.picture
    shown = lens.grab().toImage()
    drive.type_number("Pixels per unit", "8")
    larger = lens.grab().toImage()
    assert larger != shown and "8 px per unit" in drive.window.frame.lens._title.text()
    drive.window.router.turn_face(2)
    drive.press("Filtering: Linear")
    assert lens.grab().toImage() != larger
    drive.press("Filtering: Nearest")
    drive.window.router.turn_face(0)
    drive.press("Use 16")
    assert lens.grab().toImage() == shown and drive.project.sheet("crab").differences.filter is None
    select(drive, "eel", 0)
    treated = lens.grab().toImage()
    QTest.mousePress(drive.window.frame.lens.untreated, LEFT)
    assert any(
        lens.grab().toImage().pixelColor(x, y) == Colour(255, 0, 255) or
        lens.grab().toImage().pixelColor(x, y).name() == "#ff00ff"
        for x, y in ((110, 80), (120, 85), (130, 76), (100, 78))
    )  # fmt: skip
    QTest.mouseRelease(drive.window.frame.lens.untreated, LEFT)
    assert lens.grab().toImage() == treated


def test_sizes_that_differ_are_said_and_mended(drive) -> None:
    drive.station(3)
    select(drive, "crab")
    drive.type_number("Pixels per unit", "8")
    gauge = drive.at("Gauge", 0)
    assert "larger" in gauge.size.result.text() and "1 / 8 = 0.125" in gauge.step.step.text()
    for form in ("0.125", "0.125f", "1.0 / 8"):
        drive.choose("Form of the step", form)
        drive.press("Copy")
        assert QApplication.clipboard().text() == form
    assert "crab differs in pixels per unit" in gauge.treatment.result.text()
    select(drive, "crab", more=("heron",))
    assert drive.seen(Stepper, "Pixels per unit").value is None, (
        "two sizes: it says that they differ"
    )
    line_up = gauge.line_up
    QTest.mouseClick(line_up, LEFT, pos=line_up.rect_of("keeper").center().toPoint())
    assert drive.window.desk.selection.sheets == ("keeper",)
    drive.window.watch.look()
    [finding] = drive.window.watch.findings
    assert finding.code == "other-pixel-size"
    drive.window.watch.toggle()
    drive.press("Mend: set 16")
    assert (
        drive.window.watch.findings == []
        and drive.project.sheet("crab").differences.pixels_per_unit is None
    )


def test_a_pivot_is_dragged_by_whole_pixels_and_escape_leaves_it(drive) -> None:
    drive.station(3)
    drive.window.router.turn_face(1)
    select(drive, "heron", 0, 1)
    drive.qtbot.wait(5)
    pieces = lambda: drive.project.sheet("heron").pieces  # noqa: E731
    before = drive.project
    QTest.mousePress(drive.canvas, LEFT, pos=drive.spot(12, 30))
    QTest.mouseMove(drive.canvas, drive.spot(7.4, 20.2))
    assert pieces()[0].pivot == pieces()[1].pivot == Point(7, 20)
    QTest.keyClick(drive.canvas, Qt.Key.Key_Escape)
    assert drive.project is before, "an aborted drag leaves nothing behind"
    drive.drag((12, 30), (9, 25), (6.6, 22.3))
    assert pieces()[1].pivot == Point(7, 22) and pieces()[2].pivot == Point(12, 32)
    assert drive.undo_all() == 1, "one drag is one step of undo"
    assert drive.project is before
    QTest.mouseClick(drive.at("Gauge", 1).anchors.buttons["Centre"], LEFT)
    assert pieces()[0].pivot == Point(12, 16)


# -- Bound -----------------------------------------------------------------------


def test_pivots_are_found_by_the_feet_and_copied(drive) -> None:
    drive.station(3)
    select(drive, "heron", 0)
    drive.window.router.turn_face(1)
    heron = lambda: drive.project.sheet("heron")  # noqa: E731
    drive.type_number("Pivot across", "3")
    drive.press("To its animation")
    frames = set(heron().animations[0].frames)
    moved = {piece.number for piece in heron().pieces if piece.pivot.x == 3}
    assert moved == frames
    drive.press("To the sheet")
    assert all(piece.pivot.x == 3 for piece in heron().pieces)
    select(drive, "heron")
    assert not drive.button("To the sheet").isEnabled()
    drive.press("By the feet of each")
    assert words(drive) == f"Stood {len(heron().pieces)} pieces on their feet"
    assert all(piece.pivot.y <= piece.rect.height for piece in heron().pieces)


def test_shapes_are_drawn_taken_back_and_refused(drive) -> None:
    drive.station(4)
    select(drive, "fen_ground", 15)
    drive.qtbot.wait(5)
    tuft = drive.project.sheet("fen_ground").pieces[15].rect
    shapes = lambda: drive.project.sheet("fen_ground").pieces[15].shapes  # noqa: E731
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_G)
    for x, y in ((0, 16), (8, 4), (3, 3)):
        drive.click(tuft.x + x, tuft.y + y)
    drive.key(Qt.Key.Key_Backspace)
    drive.click(tuft.x + 16, tuft.y + 16)
    drive.click(tuft.x, tuft.y + 16)
    assert shapes()[0].form.corners == (Point(8, 4), Point(0, 16), Point(16, 16)), (
        "the first corner again ends it"
    )
    for x, y in ((0, 0), (8, 8), (8, 0), (0, 8)):
        drive.click(tuft.x + x, tuft.y + y)
    drive.key(Qt.Key.Key_Return)
    assert "crosses itself" in drive.window.frame.notice.text and len(shapes()[0].form.corners) == 3
    drive.key(Qt.Key.Key_Escape)
    drive.key(Qt.Key.Key_B)
    drive.drag((tuft.x + 2, tuft.y + 9), (tuft.x + 12, tuft.y + 30), held=SHIFT)
    assert len(shapes()) == 2 and shapes()[1].form.height == 7, "it ends at the piece's edge"
    drive.press("Who it stops: One-way")
    drive.press("Stops what comes from: Left")
    assert {shape.stopping for shape in shapes()} == {Stopping("one-way", "left")}
    drive.key(Qt.Key.Key_Delete)
    assert shapes() == ()
    drive.key(Qt.Key.Key_W)
    assert shapes()[0].form.width == 16
    drive.canvas.zoom_to(20)
    drive.window.grab()


# -- Weave -----------------------------------------------------------------------


@pytest.fixture
def weaving(drive):
    """A new, empty level with `mud` in hand."""
    drive.station(5)
    drive.press("Begin another")
    station = drive.at("Weave")
    station.slip.tray.choose("fen_ground")
    pick(drive, 9)
    return drive


def pick(drive, first: int, last: int | None = None) -> int:
    """Take tiles from the tray, a block by dragging."""
    tray = drive.at("Weave").slip.tray.tray
    pieces = drive.project.sheet("fen_ground").pieces
    start = tray.place_of(pieces[first].number).center().toPoint()
    end = tray.place_of(pieces[first if last is None else last].number).center().toPoint()
    drag_over(tray, start, end)
    return pieces[first].number


def cells(drive):
    return drive.project.levels[-1].layers[0].cells


def test_a_fast_stroke_has_no_gaps_and_is_one_undo(weaving) -> None:
    drive, mud = weaving, weaving.project.sheet("fen_ground").pieces[9].number
    drive.drag((8, 8), (20 * 16 + 8, 5 * 16 + 8))
    line = [(x, round(x * 5 / 20)) for x in range(21)]
    assert all(cells(drive).at(x, y)[0] == mud for x, y in line[::4])
    assert cells(drive).count() == 21 and words(drive) == "Painted on Ground"
    assert drive.colour_at(10 * 16 + 8, 2 * 16 + 8).lightness() < 90
    drive.window.menus.actions["edit.undo"].trigger()
    assert cells(drive).count() == 0
    drive.window.menus.actions["edit.redo"].trigger()
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_E)
    drive.drag((8, 8), (20 * 16 + 8, 5 * 16 + 8))
    assert cells(drive).count() == 0 and words(drive) == "Rubbed out on Ground"
    QTest.mousePress(drive.canvas, LEFT, pos=drive.spot(40, 40))
    before = drive.project
    QTest.keyClick(drive.canvas, Qt.Key.Key_Escape)
    assert drive.project == before


def test_fill_pick_up_turn_and_blocks(weaving) -> None:
    drive = weaving
    corner = pick(drive, 0, 10)
    numbers = [piece.number for piece in drive.project.sheet("fen_ground").pieces]
    drive.click(3 * 16 + 4, 2 * 16 + 4)
    block = {(x, y): cells(drive).at(3 + x, 2 + y)[0] for x in range(3) for y in range(2)}
    assert block == {(x, y): numbers[y * 8 + x] for x in range(3) for y in range(2)}
    drive.press("Flip across")
    drive.click(3 * 16 + 4, 6 * 16 + 4)
    assert cells(drive).at(5, 6) == (corner, 1)
    drive.press("Turn")
    drive.click(10 * 16 + 4, 6 * 16 + 4)
    assert cells(drive).bounds().right == 12 and cells(drive).bounds().bottom == 9
    drive.click(3 * 16 + 4, 2 * 16 + 4, button=RIGHT)
    station = drive.at("Weave")
    assert station.hand.held.brush.rows == (((corner, 0),),)
    drive.press("Tool: Fill")
    drive.click(4 * 16 + 4, 4 * 16 + 4)
    assert cells(drive).at(8, 8)[0] == corner and words(drive) == "Filled on Ground"
    drive.press("Tool: Pick up")
    drive.click(4 * 16 + 4, 2 * 16 + 4)
    assert station.hand.held.brush.rows == (((numbers[1], 0),),)


def test_locked_layers_refuse_and_hidden_ones_are_shown_again(drive) -> None:
    drive.station(5)
    desk = drive.window.desk
    desk.select(replace(desk.selection, layer=0))
    drive.at("Weave").slip.tray.choose("fen_ground")
    pick(drive, 9)
    before = drive.project
    drive.click(200, 60)
    assert "“Sky” is locked" in drive.window.frame.notice.text and drive.project is before
    rows = drive.window.frame.rack.levels.layers
    place = rows.visualRect(rows.model().index(0, 0)).center()
    QTest.mouseClick(rows.viewport(), LEFT, pos=place)
    assert desk.selection.layer == len(drive.project.levels[0].layers) - 1
    place = rows.visualRect(rows.model().index(0, 0)).center()
    QTest.mouseDClick(rows.viewport(), LEFT, pos=place)
    assert not drive.project.levels[0].layers[-1].visible and words(drive) == "Hid Front reeds"


def test_a_change_of_a_tile_shows_in_the_painted_level_at_once(drive) -> None:
    drive.station(5)
    level = drive.project.level("Long boardwalk")
    column, row = next((x, 20) for x in range(10, 30) if level.layers[6].cells.at(x, 20)[0])
    drive.canvas.centre_on(drive.canvas.content.__class__(column * 16, row * 16, 16, 16), 2)
    before = drive.colour_at(column * 16 + 8, row * 16 + 8)
    select(drive, "fen_ground")
    drive.station(2)
    drive.type_number("Margin across", "9")
    drive.station(5)
    assert drive.colour_at(column * 16 + 8, row * 16 + 8) != before


# -- Walk and Bale ------------------------------------------------------------------


def test_walking_holds_steps_slows_and_comes_back(drive) -> None:
    drive.station(6)
    walk, stage = drive.at("Walk"), drive.at("Walk").stage
    drive.wait_for(lambda: stage.course.motion.grounded)
    QTest.keyClick(stage, Qt.Key.Key_Return)
    assert not stage.running
    steps = stage.course.motion.steps
    drive.press("Step")
    assert stage.course.motion.steps == steps + 1
    QTest.keyPress(stage, Qt.Key.Key_Left)
    for _ in range(20):
        drive.press("Step")
    assert stage.course.motion.x < 176 and stage.course.motion.facing == -1
    QTest.keyRelease(stage, Qt.Key.Key_Left)
    QTest.keyClick(stage, Qt.Key.Key_R)
    assert stage.course.motion.x == 176
    drive.type_number("Jump", "3.5")
    assert (
        drive.project.walker.jump == 3.5 and "Clears 3 tiles up" in walk._walker_group.result.text()
    )
    shown = stage.grab().toImage()
    QTest.keyClick(stage, Qt.Key.Key_S)
    assert stage.grab().toImage() != shown
    assert drive.window.frame.trail.stages[5].done == 1 or walk.walked == 1
    drive.press("Speed: ¼")
    assert stage.speed == 0.25
    drive.station(1)
    assert not stage.running, "nobody walks when nobody looks"


def test_shapes_are_found_in_the_art_and_follow_the_slider(drive) -> None:
    drive.station(4)
    select(drive, "landing", 0, 1, 6)
    found = drive.at("Bound").found
    landing = lambda: drive.project.sheet("landing").pieces  # noqa: E731
    corners = lambda: sum(  # noqa: E731
        len(shape.form.corners) for piece in landing() for shape in piece.shapes or ()
    )
    before = drive.project
    drive.press("Outline")
    close = corners()
    assert "corners, at most" in found.result.text() and landing()[2].shapes == ()
    slider = found.closeness
    QTest.mousePress(slider, LEFT, pos=QPoint(int(slider.place_of(4)), 11))
    QTest.mouseMove(slider, QPoint(int(slider.place_of(12)), 11))
    assert corners() < close, "it is seen while the slider moves"
    QTest.mouseRelease(slider, LEFT, pos=QPoint(int(slider.place_of(12)), 11))
    drive.press("Outline: Around")
    assert words(drive) == "Outlined 3 pieces"
    assert drive.undo_all() == 1 and drive.project is before, "all of it is one step"
    drive.type_number("Rows of the foot", "2")
    drive.press("Foot box")
    [foot] = landing()[6].shapes
    assert foot.form.height == 2
    drive.window.desk.select(replace(drive.window.desk.selection, pieces=frozenset()))
    found._box()
    assert all(len(piece.shapes) == 1 for piece in landing()), "with nothing selected, all"


def test_shapes_are_edited_copied_and_given_to_twins(drive) -> None:
    drive.station(4)
    select(drive, "fen_ground", 5)
    ground = lambda place: drive.project.sheet("fen_ground").pieces[place]  # noqa: E731
    drive.qtbot.wait(5)
    QTest.keyClick(drive.canvas, Qt.Key.Key_1)
    rect = ground(5).rect
    [full] = ground(5).shapes
    assert full.form.corners[2] == Point(16, 16) and words(drive).endswith("the form: full")
    drive.canvas.centre_on(rect, 16)
    QTest.keyClick(drive.canvas, Qt.Key.Key_E)
    drive.drag((rect.x, rect.y), (rect.x + 2, rect.y + 5))
    assert ground(5).shapes[0].form.corners[0] == Point(2, 5)
    drive.drag((rect.x + 8, rect.bottom), (rect.x + 8, rect.bottom - 3))
    assert ground(5).shapes[0].form.corners[2] == Point(16, 13)
    drive.drag((rect.x + 8, rect.y + 9), (rect.x + 7, rect.y + 9))
    QTest.keyClick(drive.canvas, Qt.Key.Key_Up)
    moved = ground(5).shapes[0].form.corners
    assert (moved[0], moved[2]) == (Point(1, 4), Point(15, 12))
    QTest.mouseClick(drive.canvas, RIGHT, pos=drive.spot(rect.x + 1, rect.y + 4))
    assert len(ground(5).shapes[0].form.corners) == 3
    before = drive.project
    QTest.keyClick(drive.canvas, Qt.Key.Key_5)
    QTest.keyClick(drive.canvas, Qt.Key.Key_T)
    many = drive.at("Bound").many
    assert many.result.text() == "1 twin: 1 of one silhouette." and drive.project is not before
    drive.press("Give them the shapes")
    assert set(ground(4).shapes[0].form.corners) == {Point(0, 16), Point(16, 16), Point(16, 0)}
    QTest.keyClick(drive.canvas, Qt.Key.Key_C)
    select(drive, "fen_ground", 9, 10)
    drive.press("Paste")
    drive.press("Mirror")
    assert ground(9).shapes == ground(10).shapes == ground(4).shapes
    select(drive, "fen_ground")
    drive.press("Find twins")
    assert "then find its twins" in drive.window.frame.notice.text
    drive.undo_all()


def test_a_tile_lies_beside_itself_and_beside_what_fits(drive) -> None:
    drive.station(4)
    select(drive, "fen_ground", 1)
    drive.window.router.turn_face(2)
    repeat = drive.at("Bound", 2)
    assert "Left meets right with" in repeat._self_group.result.text()
    alone = repeat.table.grab().toImage()
    fits = repeat._fits
    gaps = [fit.gap for fit in fits.fits]
    assert gaps == sorted(gaps) and len(gaps) > 3
    QTest.mouseClick(fits, LEFT, pos=fits.place_of(2))
    assert repeat.table.placed == {"right": fits.fits[2].number}
    drive.press("What fits: Below")
    QTest.mouseClick(fits, LEFT, pos=fits.place_of(1))
    assert repeat.table.grab().toImage() != alone and len(repeat.table.placed) == 2
    drive.press("Itself all around")
    assert repeat.table.grab().toImage() == alone
    select(drive, "fen_ground", 9)
    assert repeat.table.placed == {} and repeat.table.grab().toImage() != alone


def test_the_page_follows_the_recipe_and_a_wrong_folder_is_refused(drive, tmp_path: Path) -> None:
    drive.station(7)
    bale = drive.at("Bale")
    drive.press("Axis: y up")
    assert drive.project.recipes[0].y_up
    rect = next(iter(bale.making.bundle.page.places.values()))
    drive.click(rect.x + 1, rect.y + 1)
    assert len(drive.window.desk.selection.pieces) == 1
    drive.answers.folder = drive.window.desk.folder
    drive.press("Write the bundle …")
    assert "project's own folder" in drive.window.frame.notice.text
    drive.answers.folder = tmp_path / "out"
    drive.press("Write the bundle …")
    assert (tmp_path / "out" / "bundle.json").exists() and bale.baled == 1


def test_recipes_and_templates_are_edited_beside_what_they_write(drive, tmp_path: Path) -> None:
    drive.station(7)
    bale = drive.at("Bale")
    drive.press("Form of pictures: WebP")
    assert "page-1.webp" in bale.making.bundle.files
    drive.press("New")
    assert [recipe.name for recipe in drive.project.recipes] == ["Game", "Game 2"]
    drive.press("Trim pieces")
    drive.press("Form of pictures: KTX 2")
    drive.settle()
    assert "page-1.ktx2" in bale.making.bundle.files, "made in the background"
    drive.type_number("Largest side", "64")
    drive.settle()
    assert "does not fit a page of 64" in drive.window.frame.notice.text
    drive.type_number("Largest side", "4096")
    drive.press("Form of pictures: PNG")
    drive.answers.folder = tmp_path / "all"
    drive.press("All recipes …")
    assert {path.name for path in (tmp_path / "all").iterdir()} == {"game", "game-2"}
    drive.window.router.turn_face(1)
    face = drive.at("Bale", 1)
    drive.qtbot.wait(20)
    face.show_template("pieces.csv")
    drive.settle()
    assert "bank_top" in face.output.toPlainText()
    face._file.setText("names.txt")
    drive.press("New")
    face.editor.setPlainText("{% for p in bundle.pieces %}\n{{ p.nothing }}\n{% endfor %}")
    drive.qtbot.wait(400)
    drive.settle()
    assert "names.txt.j2, line 2" in face._output_group.result.text()
    face.editor.setPlainText("{{ bundle.name }}!")
    drive.press("Save it")
    drive.settle()
    assert face.output.toPlainText() == "Lanternfen!"
    drive.press("Part of this recipe")
    drive.settle()
    assert bale.making.bundle.files["names.txt"] == b"Lanternfen!"
    face._file.setText("../outside.txt")
    drive.press("New")
    assert "without folders" in drive.window.frame.notice.text


def test_a_licence_is_completed_from_any_part_of_it(open_window) -> None:
    drive = open_window()
    drive.drop(RAW / "keeper.png")
    field = drive.at("Gather").licence.findChildren(Field)[0]
    field.setFocus()
    QTest.keyClicks(field, "gpl-3")
    offered = field.completer().model().stringList()
    assert offered[0].startswith("GPL-3") and "LGPL-3.0-only" in offered
    field.completer().activated.emit(offered[0])
    field.completer().popup().hide()
    assert all("gpl-3" in word.casefold() for word in offered)


def test_a_window_that_is_closed_while_a_template_is_typed_begins_no_more_work(
    open_window, demo: Path
) -> None:
    drive = open_window(demo)
    drive.station(7)
    drive.window.router.turn_face(1)
    drive.settle()
    face, jobs = drive.at("Bale", 1), drive.window.jobs
    face.editor.setPlainText("{{ 10 ** 100000000 }}")
    drive.window.projects.may_leave = lambda: True
    drive.window.close()
    drive.qtbot.wait(600)
    assert not jobs.running, "the output that was waited for is not wanted any more"


def test_a_smoothed_picture_is_brought_back_and_left_again(open_window, tmp_path: Path) -> None:
    picture = next(corpus(1, 7)).picture
    height, width = picture.shape[:2]
    image = (
        Image.fromarray(picture)
        .convert("RGBa")
        .resize((width * 5 // 2, height * 5 // 2), Image.Resampling.BILINEAR)
    )
    image.convert("RGBA").save(tmp_path / "reed.png")
    drive = open_window(None)
    drive.drop(tmp_path / "reed.png")
    select(drive, "reed")
    drive.press("Bring it back to its pixels")
    assert drive.project.sheet("reed").size == (width, height)
    both = drive.window.findChild(BroughtBack)
    assert both is not None and both.isVisible()
    drive.press("As it was gathered")
    assert drive.project.sheet("reed").redrawn is None
    plain = tmp_path / "plain.png"
    Image.fromarray(picture).save(plain)
    drive.drop(plain)
    select(drive, "plain")
    before = drive.project
    drive.press("Bring it back to its pixels")
    assert drive.project is before, "nothing is made of what was drawn at its size"


def test_cells_are_made_to_fit_and_the_kin_follow(open_window, tmp_path: Path) -> None:
    drive = open_window(None)
    for name in ("warden_blue", "warden_red", "tree"):
        drive.drop(write_picture(tmp_path / f"{name}.png", checkered(72, 48)))
    desk = drive.window.desk
    mask, cells = np.ones((48, 72), bool), EvenCells(Size(24, 24))
    for name in ("warden_blue", "warden_red"):
        desk.do("Cut", lambda p, name=name: cut(p, name, cells, mask))
    select(drive, "warden_blue")
    drive.type_number("Shown width", "16")
    sheet = drive.project.sheet("warden_blue")
    assert (sheet.layout.cell, sheet.size) == (Size(16, 16), Size(48, 32))
    assert drive.project.sheet("warden_red").fitted is None
    page = drive.window.frame.slip.currentWidget()
    assert page.widget().minimumSizeHint().width() <= page.viewport().width(), "nothing cut off"
    drive.press("Fitted by: Smoothed")
    drive.press("Give them the size")
    fits = {s.name: s.fitted and s.fitted.shown for s in drive.project.sheets}
    assert fits == {"warden_blue": Size(16, 16), "warden_red": Size(16, 16), "tree": None}
    drive.press("As drawn")
    assert drive.project.sheet("warden_blue").fitted is None
    drive.type_number("Shown height", "48")
    assert drive.project.sheet("warden_blue").fitted.shown == Size(24, 48)
    drive.press("One tile")
    assert drive.project.sheet("warden_blue").layout.cell == drive.project.rules.tile
