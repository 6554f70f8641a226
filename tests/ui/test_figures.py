"""From a folder of an artist's folders to a creature one walks as, in three acts."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from rushweed.ui.commands.listed import STATIONS
from tests.core.test_figures import write_tree
from tests.hands import LEFT, NONE, QTest
from tools.corpus.trees import draw_figure
from tools.corpus.trees import write_tree as write_figure


def test_a_tree_is_walked_as_in_three_acts(open_window, tmp_path: Path) -> None:
    drive = open_window()
    drive.drop(write_tree(tmp_path))
    drive.press("Take all as seen")
    drive.station(STATIONS.index("Walk") + 1)
    drive.choose("Figure", "otter, of 3 sheets")
    assert drive.project.walker.figure == "otter"
    assert drive.project.figures[0].sheets == ("otter idle", "otter jump", "otter run")
    drive.station(STATIONS.index("Gather") + 1)
    desk = drive.window.desk
    desk.select(replace(desk.selection, sheets=drive.project.figures[0].sheets))
    drive.press("No figure any more")
    assert not drive.project.figures and drive.project.walker.figure == "otter idle"
    drive.press("Make them one figure")
    assert drive.project.figures[0].name == "otter"
    drive.undo_all()
    assert not drive.project.sheets and not drive.project.figures


def test_what_is_seen_at_a_seam_is_played_and_mended(open_window, tmp_path: Path) -> None:
    write_figure(tmp_path / "otter", draw_figure(9), "each folder")
    drive = open_window()
    drive.drop(tmp_path / "otter")
    drive.press("Take all as seen")
    desk, names = drive.window.desk, tuple(sheet.name for sheet in drive.project.sheets)
    desk.select(replace(desk.selection, sheets=names))
    drive.press("Make them one figure")
    drive.type_text("Name of the figure", "Fisher")
    assert drive.project.figures[0].name == "Fisher"
    drive.station(STATIONS.index("Cut") + 1)
    drive.window.router.turn_face(2)
    face: Any = drive.at("Cut", 2)
    drive.wait_for(lambda: face.grid.changes.seams)
    drive.assert_slip_fits()
    place = face.grid.visualRect(face.grid.changes.index(0, 2)).center()
    QTest.mouseClick(face.grid.viewport(), LEFT, NONE, place)
    lens = drive.window.frame.lens.picture
    assert lens.playing and lens.animation.name == "otter idle → otter strike"
    assert "jumps 3 px to the left" in face.seams.result.text()
    drive.press("Lay them over each other")
    drive.wait_for(lambda: "Moved otter strike by 3 px →" in face.stand.result.text())
    drive.wait_for(lambda: "jumps" not in face.seams.result.text())
    assert lens.playing, "it goes on with the frames as they lie now"
    desk.select(replace(desk.selection, sheets=names[:1]))
    drive.wait_for(lambda: len(face.grid.changes.names) == 3)
    drive.window.router.turn_face(1)
    assert lens.own is None
    drive.undo_all()
    assert not drive.project.sheets
