"""Sheets that wait are looked at beside the window; what is plain is taken, doubt is a key away."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from rushweed.core.cut import gathering
from rushweed.core.cut.gathering import (
    add_sheets,
    doubtful,
    see,
    see_in_pack,
    seen_before,
    take_in,
)
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, LoosePieces, OnePicture
from rushweed.core.values import Size
from rushweed.ui import seeing
from rushweed.ui.stations.common.reading_card import ReadingCard
from tests.conftest import RAW
from tests.hands import CONTROL, LEFT, QTest
from tests.samples import write_picture
from tests.ui.test_beside import Opens


@pytest.fixture
def waiting(tmp_path: Path) -> Path:
    """A project that was saved before anything of it was cut."""
    folder = tmp_path / "waiting"
    folder.mkdir()
    art = Art(folder)
    sheets = [take_in(art, [path]) for path in sorted(RAW.glob("*.png"))]
    project, _ = add_sheets(Project(), sheets)
    files.save(project, folder)
    return folder


@pytest.fixture
def looked(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The names of all sheets that are looked at beside the window."""
    names: list[str] = []

    def noted(art, sheet):
        names.append(sheet.name)
        return see(art, sheet)

    monkeypatch.setattr(seeing, "see", noted)
    return names


def words_of(drive) -> dict[str, tuple[str, ...]]:
    return {card.sheet.name: card.sentences for card in drive.at("Gather")._cards._cards}


def test_what_cannot_be_read_is_told_and_read_once_it_is_back(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(seeing, "RESTED", 0.3)
    sheet = files.load(waiting).sheets[0]
    path = waiting / sheet.sources[0].path
    data = path.read_bytes()
    path.unlink()
    drive = open_window(waiting)

    def told() -> str:
        return words_of(drive)[sheet.name][0]

    drive.wait_for(lambda: "is gone" in told())
    path.write_bytes(data)
    drive.qtbot.wait(400)
    drive.window.router.shown.refresh()
    art = drive.window.desk.art
    drive.wait_for(lambda: seen_before(art, sheet) is not None)
    drive.wait_for(lambda: "is gone" not in told())


def test_what_was_seen_is_not_looked_at_in_the_next_sitting(
    open_window: Opens, waiting: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drive = open_window(waiting)
    unknown = "is being looked at …"
    drive.wait_for(lambda: not any(unknown in words for words in words_of(drive).values()))
    first = words_of(drive)
    drive.close()

    def look(*_) -> None:
        raise AssertionError("a picture is looked at again")

    monkeypatch.setattr(gathering, "inspect", look)
    drive = open_window(waiting)
    drive.wait_for(lambda: words_of(drive) == first)


def test_a_selected_sheet_is_looked_at_once_before_anybody_asks(
    open_window: Opens, demo: Path, looked: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    drive = open_window(demo)
    desk = drive.window.desk
    sheet = desk.project.sheet("heron")
    desk.select(replace(desk.selection, sheets=("heron",), pieces=frozenset()))
    for _ in range(2):
        drive.window.look_ahead()
        drive.wait_for(lambda: seen_before(desk.art, sheet) is not None)
        drive.wait_for(lambda: not drive.window.jobs.running)
    assert looked == ["heron"]
    monkeypatch.setattr(gathering, "inspect", lambda *_: pytest.fail("it is looked at again"))
    drive.at("Cut")


def cards_of(drive, name: str) -> list[ReadingCard]:
    cards = drive.at("Gather")._cards
    found = cards.findChildren(ReadingCard)
    return [card for card in found if card.accessibleName().startswith(f"Take {name} as")]


def test_what_is_plain_is_taken_and_the_rest_is_a_click_each(open_window, tmp_path: Path) -> None:
    drive = open_window()
    drive.drop(*sorted(RAW.glob("*.png")))
    desk, station = drive.window.desk, drive.at("Gather")
    unsure = doubtful(desk.project, partial(see, desk.art))
    assert 1 < len(unsure) < len(desk.project.sheets)
    drive.press("Take all as seen")
    assert doubtful(desk.project, partial(see, desk.art)) == unsure
    assert all(
        sheet.layout or sheet.belongs or sheet.name in unsure for sheet in desk.project.sheets
    )
    assert station.kind.result.text().startswith(f"{len(unsure)} to look at")
    drive.press("Next to look at")
    assert desk.selection.sheets == (unsure[0],)
    QTest.keyClick(drive.window.focusWidget() or drive.window, Qt.Key.Key_N)
    assert desk.selection.sheets == (unsure[1],)
    for place, name in enumerate(unsure):
        shown = cards_of(drive, name)
        assert 2 <= len(shown) <= 3
        wanted = shown[place % len(shown)]
        layout = wanted.reading.layout
        QTest.mouseClick(wanted, LEFT)
        cut = desk.project.sheet(name).layout
        assert cut == layout or (isinstance(cut, LoosePieces) and isinstance(layout, LoosePieces))
        assert not [card for card in cards_of(drive, name) if card.isVisible()]
    assert not doubtful(desk.project, partial(see, desk.art))
    assert drive.undo_all() == 2 + len(unsure)


def test_a_wrong_reading_is_a_click_from_the_right_one_whatever_the_kind(open_window) -> None:
    drive = open_window()
    drive.drop(RAW / "keeper.png")
    drive.press("Take it as seen")
    drive.station(2)
    row = drive.at("Cut").readings
    even = drive.project.sheet("keeper").layout
    drive.press("Layout: One picture")
    assert row.isVisible() and len([card for card in row.cards if card.reading]) > 3
    (right,) = [card for card in row.cards if card.reading and card.reading.layout == even]
    QTest.mouseClick(right, LEFT)
    assert drive.project.sheet("keeper").layout == even and isinstance(even, EvenCells)
    drive.press("Layout: Loose pieces")
    drive.type_number("Cell across", "19")
    assert drive.project.sheet("keeper").layout == EvenCells(even.cell), "a cell makes it even"


def test_one_cell_dragged_over_brings_all_the_others(open_window) -> None:
    drive = open_window()
    drive.drop(RAW / "fen_ground.png")
    drive.station(2)
    assert drive.project.sheet("fen_ground").layout is None
    drive.press("Drag over one cell")
    drive.drag((2 + 17 + 1, 2 + 34), (2 + 17 + 15, 2 + 34 + 17))
    sheet = drive.project.sheet("fen_ground")
    assert sheet.layout == EvenCells(Size(16, 16), Size(2, 2), Size(1, 1)) and sheet.pieces
    drive.press("Drag over one cell")
    drive.drag((30, 40), (30 + 40, 40 + 25))
    layout = drive.project.sheet("fen_ground").layout
    assert layout == EvenCells(Size(40, 25), Size(30, 15)), "what nobody saw is taken as dragged"
    assert drive.undo_all() == 3


def test_doubts_are_answered_by_one_key_each(open_window) -> None:
    drive = open_window()
    drive.drop(*sorted(RAW.glob("*.png")))
    desk, kind = drive.window.desk, drive.at("Gather").kind
    drive.press("Take all as seen")
    unsure = doubtful(desk.project, partial(see, desk.art))
    drive.key(Qt.Key.Key_N)
    for place in range(2):
        (name,) = desk.selection.sheets
        assert name in unsure
        sheet = desk.project.sheet(name)
        reading = see_in_pack(desk.project, desk.art, sheet).readings[place]
        cards = drive.at("Gather")._cards
        plain = cards.grab().toImage()
        card = cards_of(drive, name)[place]
        card.hovered.emit(True)
        cuts = not isinstance(reading.layout, OnePicture)
        assert (cards.grab().toImage() != plain) is cuts, "its cuts are drawn over the picture"
        card.hovered.emit(False)
        drive.key(Qt.Key(Qt.Key.Key_1 + place))
        drive.settle()
        assert type(desk.project.sheet(name).layout) is type(reading.layout)
    left = doubtful(desk.project, partial(see, desk.art))
    assert left, "there are more"
    drive.key(Qt.Key.Key_A, CONTROL)
    drive.window.commands.run("edit.select_all")
    assert desk.selection.sheets == tuple(sheet.name for sheet in desk.project.sheets)
    drive.key(Qt.Key.Key_L)
    drive.settle()
    assert not doubtful(desk.project, partial(see, desk.art))
    assert kind.result.text().startswith(f"{len(left)} taken as likeliest")
    met = []
    for _ in left:
        drive.key(Qt.Key.Key_N)
        met += desk.selection.sheets
    assert met == left and "likeliest" not in kind.result.text(), "each is seen once"
    drive.key(Qt.Key.Key_0)
    assert drive.window.router.station == "Cut"


def test_what_many_pictures_are_said_to_be_they_are_cut_as(open_window) -> None:
    """The same word means the same before and after cutting, and one step of undo takes it back."""
    drive = open_window()
    drive.drop(*sorted(RAW.glob("*.png")))
    desk = drive.window.desk
    drive.press("Take all as seen")
    before = desk.project
    unsure = tuple(doubtful(before, partial(see, desk.art)))
    desk.select(replace(desk.selection, sheets=unsure))
    for words, kind, layout in (
        ("One picture", "picture", OnePicture),
        ("Even sheet of frames", "sheet", EvenCells),
        ("Loose pieces", "loose", LoosePieces),
    ):
        drive.choose("Kind of picture", words)
        drive.settle()
        sheets = [desk.project.sheet(name) for name in unsure]
        assert {sheet.kind for sheet in sheets} == {kind}
        assert all(isinstance(sheet.layout, layout) and sheet.pieces for sheet in sheets)
        desk.undo()
        assert desk.project is before
    plain = next(s for s in before.sheets if isinstance(s.layout, EvenCells) and s.pieces)
    desk.select(replace(desk.selection, sheets=(plain.name,)))
    drive.choose("Kind of picture", "Loose pieces")
    drive.settle()
    assert isinstance(desk.project.sheet(plain.name).layout, LoosePieces), "also when it is cut"


def test_a_packed_page_with_a_list_beside_it_is_cut_by_name_in_one_act(
    open_window, tmp_path: Path
) -> None:
    drive = open_window()
    page = np.full((24, 40, 4), 255, np.uint8)
    page[..., :3] = np.random.default_rng(4).integers(0, 255, (24, 40, 3))
    write_picture(tmp_path / "things.png", page)
    (tmp_path / "things.csv").write_text("crate,0,0,17,24\nlamp,17,0,23,9\nreed,17,9,23,15\n")
    drive.drop(tmp_path)
    card = next(card for card in drive.at("Gather")._cards._cards)
    assert card.sentences[1] == "a text beside it lists them by name"
    drive.press("Take it as seen")
    named = {piece.name: piece.rect.size for piece in drive.project.sheet("things").pieces}
    assert named == {"crate": (17, 24), "lamp": (23, 9), "reed": (23, 15)}
    drive.undo_all()
    assert not drive.project.sheets
