"""The whole trail in one sitting, in a window of a real display."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from rushweed.core.project import files
from rushweed.core.values import Point, Rect
from tests.conftest import RAW
from tests.hands import CONTROL, LEFT, NONE, QTest


@pytest.mark.real_window
def test_from_two_pictures_to_a_bundle_and_back(open_window, tmp_path: Path) -> None:
    drive = open_window()
    window = drive.window

    gather_two_pictures(drive)
    cut_with_typed_cells(drive)
    gauge_everything_at_once(drive)
    draw_shapes(drive)
    paint_a_level(drive)
    walk_in_it(drive)
    bundle = write_a_bundle(drive, tmp_path / "bundle")

    tile = drive.project.sheet("fen_ground").pieces[1]
    assert [page["file"] for page in bundle["pages"]] == ["page-1.png"]
    written = next(p for p in bundle["pieces"] if p["number"] == tile.number)
    [shape] = written["shapes"]
    assert shape["stops"] == "all sides"
    assert shape["corners"] == [[0, 0], [0, 16], [16, 16], [16, 0]]

    finished = drive.project
    assert drive.undo_all() >= 9
    assert drive.project.sheets == () and drive.project.levels == ()
    while window.desk.history.later:
        window.menus.actions["edit.redo"].trigger()
    assert drive.project is finished

    drive.answers.folder = tmp_path / "saved"
    window.menus.actions["project.save"].trigger()
    assert not window.desk.unsaved
    saved = drive.project
    drive.close()

    again = open_window(tmp_path / "saved")
    assert again.project == saved == files.load(tmp_path / "saved")
    again.station(5)
    assert again.colour_at(4 * 16 + 3, 10 * 16).green() > 100, "the painted turf is seen again"


def gather_two_pictures(drive) -> None:
    drive.answers.pictures = [RAW / "fen_ground.png"]
    drive.press("Open pictures")
    drive.drop(RAW / "keeper.png")
    assert [sheet.name for sheet in drive.project.sheets] == ["fen_ground", "keeper"]
    drive.press("Take fen_ground as seen")
    assert len(drive.project.sheet("fen_ground").pieces) == 63


def cut_with_typed_cells(drive) -> None:
    drive.station(2)
    select_sheets(drive, "keeper")
    drive.press("Layout: Even cells")
    drive.type_number("Cell across", "133/7")
    drive.type_number("Cell down", "24")
    keeper = drive.project.sheet("keeper")
    assert len(keeper.pieces) == 25
    assert keeper.pieces[6].rect == Rect(0, 24, 19, 24)


def gauge_everything_at_once(drive) -> None:
    drive.station(3)
    select_sheets(drive, "fen_ground", "keeper")
    drive.type_number("Pixels per unit", "2*8+4")
    assert drive.project.rules.pixels_per_unit == 20, "all are alike, and nobody chose the rules"
    drive.type_number("Pixels per unit", "16")
    assert drive.project.rules.pixels_per_unit == 16
    drive.window.router.turn_face(2)
    drive.press("Filtering: Linear")
    drive.press("Filtering: Nearest")
    drive.window.router.turn_face(1)
    select_sheets(drive, "keeper")
    drive.window.menus.actions["edit.select_all"].trigger()
    drive.type_number("Pivot across", "9")
    assert {piece.pivot for piece in drive.project.sheet("keeper").pieces} == {Point(9, 24)}
    assert drive.project.sheet("keeper").differences.filter is None


def draw_shapes(drive) -> None:
    drive.station(4)
    select_sheets(drive, "fen_ground")
    drive.qtbot.wait(10)
    top, slope = (drive.project.sheet("fen_ground").pieces[i].rect for i in (1, 4))
    drive.drag((top.x - 1, top.y + 5), (top.x + 50, top.y + 10))
    assert len(drive.window.desk.selection.pieces) == 3
    drive.press("Box")
    drive.drag((top.x, top.y), (top.x + 9, top.y + 12), (top.x + 16, top.y + 16))
    shaped = [piece for piece in drive.project.sheet("fen_ground").pieces if piece.shapes]
    assert len(shaped) == 3
    drive.press("Polygon")
    for x, y in ((0, 16), (16, 0), (16, 16)):
        drive.click(slope.x + x, slope.y + y)
    drive.canvas.setFocus()
    drive.key(Qt.Key.Key_Return)
    piece = drive.project.sheet("fen_ground").pieces[4]
    assert piece.shapes is not None
    assert piece.shapes[0].form.corners == (Point(16, 0), Point(0, 16), Point(16, 16))


def paint_a_level(drive) -> None:
    drive.station(5)
    drive.press("Begin a level")
    drive.qtbot.wait(10)
    tray = drive.at("Weave").slip.tray.tray
    bank = drive.project.sheet("fen_ground").pieces[1]
    QTest.mouseClick(tray, LEFT, pos=tray.place_of(bank.number).center().toPoint())
    drive.drag((2 * 16 + 8, 10 * 16 + 8), (20 * 16 + 8, 10 * 16 + 8))
    cells = drive.project.levels[0].layers[0].cells
    assert {cells.at(column, 10)[0] for column in range(2, 21)} == {bank.number}
    assert cells.at(1, 10) == cells.at(21, 10) == (0, 0)
    drive.press("Tool: Start")
    drive.click(5 * 16 + 2, 6 * 16 + 2)
    assert drive.project.levels[0].start == Point(5 * 16 + 8, 7 * 16)


def walk_in_it(drive) -> None:
    drive.station(6)
    stage = drive.at("Walk").stage
    drive.wait_for(lambda: stage.course.motion.grounded)
    assert stage.course.motion.y == 10 * 16, "stands exactly on the painted tiles"
    before = stage.course.motion.x
    QTest.keyPress(stage, Qt.Key.Key_Right)
    drive.wait_for(lambda: stage.course.motion.x > before + 20)
    QTest.keyRelease(stage, Qt.Key.Key_Right)
    assert stage.course.motion.y == 10 * 16
    QTest.keyClick(stage, Qt.Key.Key_Return)
    drive.wait_for(lambda: not stage.running)
    shown = stage.marks.shapes
    QTest.keyClick(stage, Qt.Key.Key_S)
    assert stage.marks.shapes is not shown


def write_a_bundle(drive, folder: Path) -> dict:
    drive.station(7)
    drive.answers.folder = folder
    drive.press("Write the bundle …")
    assert sorted(path.name for path in folder.iterdir() if path.is_file()) == [
        "bundle.json",
        "credits.txt",
        "page-1.png",
    ]
    return json.loads((folder / "bundle.json").read_text())


def select_sheets(drive, *names: str) -> None:
    """Click sheets in the rack, holding Ctrl for all but the first."""
    rows = drive.window.frame.rack.sheets.rows
    order = [sheet.name for sheet in drive.project.sheets]
    for index, name in enumerate(names):
        place = rows.visualRect(rows.model().index(order.index(name), 0)).center()
        held = CONTROL if index else NONE
        QTest.mouseClick(rows.viewport(), LEFT, held, place)
    assert drive.window.desk.selection.sheets == names
