"""How much memory the window takes with a project of 500 sheets, all stations visited."""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import Result
from PIL import Image
from PyQt6.QtTest import QTest

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import add_sheets, take_in
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size
from rushweed.ui.application import make_application
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.session import Session
from rushweed.ui.settings import Settings

SHEETS, SIDE, CELL = 500, 1024, 128
MOST = 1.5


def measure() -> Result:
    """In a process of its own, for what others left would count."""
    with tempfile.TemporaryDirectory() as place:
        words = [sys.executable, __file__, place]
        told = subprocess.run(words, check=True, capture_output=True, text=True).stdout
    held = float(told.split()[-1])
    what = f"Memory with {SHEETS} sheets of {SIDE} × {SIDE} px, all stations visited"
    return Result(what, f"{held:.2f} GiB", f"≤ {MOST:g} GiB", held <= MOST)


def make(folder: Path) -> None:
    """Write the project."""
    draw = np.random.default_rng(8)
    small = draw.integers(0, 255, (SIDE // 8, SIDE // 8, 4), dtype=np.uint8)
    small[..., 3] = np.where(draw.random(small.shape[:2]) < 0.3, 0, 255)
    picture = np.kron(small, np.ones((8, 8, 1), np.uint8))
    art = Art(folder)
    (folder / "art").mkdir(parents=True)
    sheets = []
    for number in range(SHEETS):
        picture[0, 0] = (number % 250, number // 250, 9, 255)
        path = folder / "art" / f"sheet-{number}.png"
        Image.fromarray(picture).save(path, compress_level=1)
        sheets.append(take_in(art, [path]))
    project, names = add_sheets(Project(), sheets)
    mask = np.ones((SIDE, SIDE), bool)
    for name in names:
        project = cut(project, name, EvenCells(Size(CELL, CELL)), mask)
    files.save(project, folder)


def visit(folder: Path) -> None:
    """Open it, go to every face with one sheet and with all of them, and wait for what goes on."""
    application = make_application()
    session = Session(Settings(folder.parent / "settings.json"))
    window = session.open_folder(folder)
    names = tuple(sheet.name for sheet in window.desk.project.sheets)
    for chosen in (names[:1], names):
        window.desk.select(replace(window.desk.selection, sheets=chosen))
        for station in STATIONS:
            for face in range(len(window.router.stations[station].names)):
                window.router.open(station, face)
                QTest.qWait(50)
        while window.jobs.running:
            QTest.qWait(50)
    window.projects.may_leave = lambda: True  # type: ignore[method-assign]
    window.close()
    session.end()
    application.quit()


def most_held() -> int:
    """The most that this process had in memory so far, in KiB. What the system says of its use of
    resources would count the process that began it, too."""
    found = re.search(r"VmHWM:\s+(\d+) kB", Path("/proc/self/status").read_text())
    assert found is not None
    return int(found[1])


if __name__ == "__main__":
    place = Path(sys.argv[1]) / "many"
    if len(sys.argv) == 2:
        subprocess.run([sys.executable, __file__, sys.argv[1], "make"], check=True)
        visit(place)
        print(most_held() / 1024**2)
    else:
        make(place)
