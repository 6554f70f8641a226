"""Animations in the window: name rows, play, reorder, hold, level the feet, hand out."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt

from rushweed.core.cut.steadying import stance, wander
from rushweed.core.gather.pictures import read_picture
from rushweed.core.gather.solid import solid
from tests.conftest import RAW
from tests.hands import CONTROL, LEFT, NONE, QTest
from tests.samples import checkered, write_picture


@pytest.fixture
def drive(open_window, tmp_path: Path):
    """The raw keeper whose walk bobs up and down, cut as seen, its rows named."""
    picture = read_picture(RAW / "keeper.png").copy()
    for column, up in ((1, 2), (4, 1)):
        cell = picture[24:48, 19 * column : 19 * column + 19]
        cell[:-up] = cell[up:].copy()
        cell[-up:] = 0
    drive = open_window()
    drive.drop(write_picture(tmp_path / "keeper.png", picture))
    drive.press("Take it as seen")
    drive.station(2)
    field = drive.at("Cut")._names._row_names
    field.setFocus()
    QTest.keyClicks(field, "idle, walk, raise, sit")
    drive.press("Name all")
    drive.window.router.turn_face(1)
    drive.qtbot.wait(20)
    drive.face = drive.at("Cut", 1)
    return drive


def walk(drive):
    return drive.project.sheet("keeper").animations[1]


def click_frame(drive, lane: int, place: int, held=NONE) -> None:
    lanes = drive.face.lanes
    QTest.mouseClick(lanes, LEFT, held, lanes.lanes[lane].cells[place].center())


def test_lanes_are_played_reordered_held_and_changed(drive) -> None:
    lanes, selection = drive.face.lanes, lambda: drive.window.desk.selection
    assert [lane.animation.name for lane in lanes.lanes] == ["idle", "walk", "raise", "sit"]
    QTest.mouseClick(lanes, LEFT, pos=lanes.lanes[1].whole.topLeft() + QPoint(20, 8))
    frames = walk(drive).frames
    assert selection().animation == "walk" and selection().pieces == frozenset(frames)
    drive.press("Play")
    lens = drive.window.frame.lens.picture
    assert lens.playing and lens.animation is walk(drive)
    drive.type_number("Rate of the animation", "12/1")
    drive.press("How it plays: Back and forth")
    assert walk(drive).rate == 12 and walk(drive).play == "back and forth"
    assert lens.playing and lens.animation is walk(drive), "it goes on while it is changed"
    click_frame(drive, 1, 2)
    drive.type_number("Hold", "3")
    assert walk(drive).holds == (1, 1, 3, 1, 1, 1, 1)[: len(frames)]
    start, end = (lanes.lanes[1].cells[place].center() for place in (2, 0))
    QTest.mousePress(lanes, LEFT, pos=start)
    QTest.mouseMove(lanes, end - QPoint(14, 0))
    QTest.mouseMove(lanes, end - QPoint(16, 0))
    lanes.grab()
    QTest.mouseRelease(lanes, LEFT, pos=end - QPoint(16, 0))
    assert walk(drive).frames == (frames[2], frames[0], frames[1], *frames[3:])
    assert walk(drive).holds[0] == 3
    drive.press("Take frames out")
    assert walk(drive).frames == (frames[0], frames[1], *frames[3:]) and not walk(drive).holds
    click_frame(drive, 1, 0)
    click_frame(drive, 1, 1, CONTROL)
    drive.press("Begin one")
    face = drive.face
    face.animation.called.selectAll()
    QTest.keyClicks(face.animation.called, "shuffle")
    QTest.keyClick(face.animation.called, Qt.Key.Key_Return)
    made = drive.project.sheet("keeper").animations[-1]
    assert made.name == "shuffle" == selection().animation and made.frames == frames[:2]
    drive.press("Add them")
    assert drive.project.sheet("keeper").animations[-1].frames == (*frames[:2], *frames[:2])
    drive.press("Forget it")
    drive.press("By names")
    drive.undo_all()
    assert drive.project.sheets == ()


def test_feet_are_levelled_and_frames_nudged(drive) -> None:
    lanes = drive.face.lanes
    QTest.mouseClick(lanes, LEFT, pos=lanes.lanes[1].whole.topLeft() + QPoint(20, 8))
    assert "walk: feet 2 px" in drive.face.steady.result.text()
    drive.press("What is steadied: This one")
    drive.press("Feet")
    sheet = drive.project.sheet("keeper")
    pieces = [p for p in sheet.pieces if p.number in walk(drive).frames]
    mask = solid(drive.window.desk.art.picture(sheet))
    assert wander([stance(piece, mask).foot for piece in pieces]) == 0
    drive.press("Middle")
    drive.press("Body")
    assert "feet" not in drive.face.steady.result.text()
    chart = drive.face.chart
    QTest.mouseClick(chart, LEFT, pos=QPoint(58 + int(chart._column() * 2.5), 60))
    picked = walk(drive).frames[2]
    assert drive.window.desk.selection.pieces == {picked}
    before = drive.project.find(picked)[1].offset
    lanes.setFocus()
    QTest.keyClick(lanes, Qt.Key.Key_Down)
    QTest.keyClick(drive.face.onion, Qt.Key.Key_Left)
    drive.drag((10, 10), (13, 10), (14, 12))
    offset = drive.project.find(picked)[1].offset
    assert offset == (before.x - 1 + 4, before.y + 1 + 2)
    drive.press("As drawn")
    assert not any(any(piece.offset) for piece in drive.project.sheet("keeper").pieces)
    drive.press("Common box around: All that is drawn")
    sizes = {
        p.rect.size for p in drive.project.sheet("keeper").pieces if p.number in walk(drive).frames
    }
    assert len(sizes) == 1 and drive.face.steady._boxes.value is None


def test_an_animation_is_handed_out(drive, tmp_path: Path) -> None:
    drive.press("GIF …")
    drive.settle()
    assert not list(tmp_path.glob("*.gif")), "thinking better of it writes nothing"
    drive.answers.folder = tmp_path
    drive.press("APNG …")
    drive.settle()
    assert drive.window.frame.notice.text == "Wrote keeper_idle.png"
    drive.press("GIF …")
    drive.settle()
    for name in ("keeper_idle.png", "keeper_idle.gif"):
        assert read_picture(tmp_path / name).shape[0] == 24 * 4
    drive.type_number("Columns of the strip", "2")
    drive.press("Strip …")
    drive.settle()
    told = json.loads((tmp_path / "keeper_idle_strip.json").read_text())
    assert told["columns"] == 2 and [one["name"] for one in told["animations"]] == ["idle"]
    assert read_picture(tmp_path / "keeper_idle_strip.png").shape[1] == 2 * told["cell"][0]
    face = drive.face
    face.animation.called.selectAll()
    face.animation.called.insert("rest/🐸 " + "long" * 40)
    face.animation.called.setModified(True)
    QTest.keyClick(face.animation.called, Qt.Key.Key_Return)
    drive.press("GIF …")
    drive.settle()
    assert [path.name[:12] for path in tmp_path.glob("keeper_rest*")] == ["keeper_rest-"]
    drive.answers.folder = tmp_path / "nowhere"
    drive.press("GIF …")
    drive.settle()
    assert "could not be written" in drive.window.frame.notice.text


def test_a_line_under_way_stays_while_one_writes_and_goes_with_its_sheet(
    drive, tmp_path: Path
) -> None:
    paper = drive.face.line.paper
    written = paper.toPlainText()
    assert written.startswith("idle 1-6, walk")
    paper.setFocus()
    paper.selectAll()
    QTest.keyClicks(paper, "idle 1-99")
    assert "no frame 99" in drive.face.line.result.text()
    before = drive.project
    QTest.keyClick(paper, Qt.Key.Key_Return)
    assert drive.project is before and paper.textCursor().selectedText() == "1-99"
    drive.window.desk.do("Named it", lambda p: replace(p, name="Fen"))
    assert paper.toPlainText() == "idle 1-99", "somebody is writing"
    QTest.keyClick(paper, Qt.Key.Key_Escape)
    assert paper.toPlainText() == written
    QTest.keyClicks(paper, "x")
    drive.drop(write_picture(tmp_path / "other.png", checkered(32, 16)))
    assert drive.window.desk.selection.sheets == ("other",)
    drive.face.refresh()
    assert paper.toPlainText() == "", "it was meant for another sheet"


def test_what_picked_frames_tell_is_set_and_marked(drive) -> None:
    desk, lanes = drive.window.desk, drive.face.lanes
    desk.select(replace(desk.selection, sheets=("keeper",), animation="walk", pieces=frozenset()))
    frames = walk(drive).frames
    plain = lanes.grab().toImage()
    picked = frozenset({frames[1], frames[4]})
    desk.select(replace(desk.selection, pieces=picked))
    drive.type_text("Events of the picked frames", "step, splash")
    told = {p.number: p.events for p in drive.project.sheet("keeper").pieces if p.events}
    assert told == dict.fromkeys(picked, ("step", "splash"))
    desk.select(replace(desk.selection, pieces=frozenset()))
    assert lanes.grab().toImage() != plain, "frames that tell something are marked"
    desk.undo()
    assert not any(piece.events for piece in drive.project.sheet("keeper").pieces)
