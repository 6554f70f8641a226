"""From a folder of an artist's folders to a creature one walks as, in three acts."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from rushweed.ui.commands.listed import STATIONS
from tests.core.test_figures import write_tree


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
