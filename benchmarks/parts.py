"""All that is measured again and again, part by part, each in folders of its own."""

from __future__ import annotations

import shutil
from pathlib import Path

import baling
import canvas
import compressing
import following
import guessing
import holding
import levels
import loose
import matching
import outlining
import start
from heartbeat import Heartbeat
from PyQt6.QtTest import QTest
from quiet import Part

from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.ui.session import Session
from rushweed.ui.shell.window import Window

ROOT = Path(__file__).parent.parent
DEMO, WALK = ROOT / "demo" / "lanternfen", ROOT / "demo" / "walks" / "to-the-beacon.txt"


class Place:
    """New folders below one, as many as are wanted."""

    def __init__(self, folder: Path) -> None:
        self._folder, self._made = folder, 0

    def fresh(self) -> Path:
        """An empty folder."""
        self._made += 1
        folder = self._folder / str(self._made)
        folder.mkdir()
        return folder

    def demo(self, part: str = "") -> Path:
        """A copy of the demo, or of a part of it."""
        folder = self.fresh()
        shutil.copytree(DEMO / part, folder / part, dirs_exist_ok=True)
        return folder


def without_window(place: Place) -> list[Part]:
    """What the core does, and how long a start takes."""
    sheet = canvas.large_sheet(place.fresh())
    project = files.load(DEMO)
    return [
        lambda: start.measure(place.demo()),
        lambda: [canvas.measure_loading(sheet, Art(place.fresh()))],
        guessing.measure,
        lambda: [loose.measure()],
        lambda: [matching.measure()],
        compressing.measure,
        outlining.measure,
        baling.measure_packing,
        lambda: baling.measure_demo(place.fresh(), place.demo()),
        lambda: baling.measure_noise(place.demo()),
        lambda: [baling.measure_jobs(place.fresh())],
        lambda: following.measure(place.demo()),
        lambda: [levels.measure_walking(project, WALK)],
        lambda: levels.measure_probing(project),
    ]


def in_window(place: Place, session: Session) -> list[Part]:
    """What is done in the window, and how long that holds it."""
    sheet, heart = canvas.large_sheet(place.fresh()), Heartbeat()
    return [
        lambda: levels.measure_levels(_open(session, place.demo()), place.demo("art")),
        lambda: [canvas.measure_painting(_open(session, place.demo()))],
        *(
            lambda one=one: canvas.measure_sheet(_open(session, place.demo()), sheet, *one)
            for one in canvas.WINDOWS
        ),
        *(lambda part=part: part(session, heart, place.demo()) for part in holding.PARTS),
    ]


def _open(session: Session, folder: Path) -> Window:
    """The window with a project, once all about it is at rest."""
    if session.window is not None:
        session.window.projects.may_leave = lambda: True  # type: ignore[method-assign]
    window = session.open_folder(folder)
    window.resize(1280, 800)
    QTest.qWait(300)
    while window.jobs.running or window.router.make_ahead():
        QTest.qWait(10)
    return window
