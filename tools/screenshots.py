"""Opens the demo and writes docs/screenshots/*.png at 1280 × 800, one a main view."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("QT_SCALE_FACTOR", "1")

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QScrollArea

from rushweed.core.cut.animations import set_hold
from rushweed.core.cut.steadying import nudge
from rushweed.core.gather.pictures import encode_png, read_picture
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.rules import Compression
from rushweed.core.project.sheet import Licence
from rushweed.core.values import Rect
from rushweed.core.weave.painting import pick
from rushweed.ui.application import make_application
from rushweed.ui.session import Session
from rushweed.ui.settings import Settings
from rushweed.ui.shell.hint import HINTS
from rushweed.ui.shell.window import Window
from rushweed.ui.stations.walk.probe_group import ProbeGroup

ROOT = Path(__file__).parent.parent
SHOTS = ROOT / "docs" / "screenshots"
RAW = ROOT / "demo" / "raw"
STEPS = 54
"""So far the keeper walks, in sixtieths of a second."""


def select(window: Window, sheet: str, *places: int, more: tuple[str, ...] = ()) -> None:
    """Select a sheet, and some of its pieces by their place in reading order."""
    desk = window.desk
    pieces = desk.project.sheet(sheet).pieces
    numbers = frozenset(pieces[place].number for place in places)
    desk.select(replace(desk.selection, sheets=(sheet, *more), pieces=numbers))


def gather(window: Window) -> None:
    select(window, "landing", more=("eel",))


def fresh_pack(window: Window) -> None:
    """The raw pack just dropped, nothing taken yet."""
    names = ("keeper", "fen_ground", "landing", "crab", "eel", "heron", "wheel", "ledger")
    paths = [RAW / name if (RAW / name).is_dir() else RAW / f"{name}.png" for name in names]
    window.pictures.gather(paths)
    while window.jobs.running:
        QTest.qWait(20)
    QTest.qWait(60)
    area = window.frame.table.findChild(QScrollArea)
    assert area is not None
    bar = area.verticalScrollBar()
    assert bar is not None
    bar.setValue(bar.maximum() // 3)


def changes(window: Window) -> None:
    """The ground saved outside with a row more, one tile recoloured and one rubbed out."""
    QTest.qWait(400)
    path = window.desk.folder / "art" / "fen_ground.png"
    ground = read_picture(path)
    row = np.broadcast_to(ground[0, 0], (17, *ground.shape[1:])).copy()
    for left in (2, 19, 36):
        row[:16, left : left + 16] = ground[2:18, left : left + 16][:, ::-1]
    drawn = np.concatenate([ground[:2], row, ground[2:]])
    drawn[36:52, 87:103, :3] = drawn[36:52, 87:103, [1, 0, 2]]
    drawn[70:86, 2:18] = ground[0, 0]
    path.write_bytes(encode_png(drawn))
    while not window.frame.notice.text:
        QTest.qWait(50)
    QTest.mouseClick(window.frame.notice._acts[0], Qt.MouseButton.LeftButton)
    QTest.qWait(50)


def animations(window: Window) -> None:
    """The keeper walks; one frame is held, and one of them is picked."""
    keeper = window.desk.project.sheet("keeper")
    walk = keeper.animations[1]
    window.desk.do("Held a frame", lambda p: set_hold(p, "keeper", "walk", {3}, 3))
    chosen = frozenset({walk.frames[3]})
    wanted = replace(window.desk.selection, sheets=("keeper",), animation="walk", pieces=chosen)
    window.desk.do("Nudged a frame", lambda p: nudge(p, chosen, 1, 1))
    window.desk.select(wanted)
    window.router.turn_face(1)
    QTest.qWait(50)
    window.frame.lens.play.click()


def cut(window: Window) -> None:
    select(window, "keeper", 6, 7, 8, 9)
    window.frame.lens.play.click()


def line_up(window: Window) -> None:
    window.desk.do("Set crab to 8 px per unit", lambda p: set_pixels_per_unit(p, ("crab",), 8))
    select(window, "crab")
    window.watch.look()


def pivots(window: Window) -> None:
    select(window, "heron", 0)
    window.router.turn_face(1)
    QTest.qWait(50)


def look(window: Window) -> None:
    """The landing as it would be in BC1, beside as it was drawn."""
    select(window, "landing")
    window.router.turn_face(2)
    face = window.router.stations["Gauge"].at(2)  # type: ignore[attr-defined]
    while len(face.costs.costs) < len(face.costs.rows):
        QTest.qWait(20)
    face.costs.looked_at.emit(Compression("BC1"))
    QTest.qWait(50)


def borders(window: Window) -> None:
    select(window, "ledger", 0)
    window.router.turn_face(3)
    QTest.qWait(50)


def bound(window: Window) -> None:
    select(window, "fen_ground", 5)


def facts(window: Window) -> None:
    """The ground kinds, and all other facts, of the tiles seen from above."""
    select(window, "fen_above", 21)
    window.router.turn_face(1)
    face = window.router.stations["Bound"].at(1)  # type: ignore[attr-defined]
    face.sees_all.setChecked(True)
    face.take("ground")


def repeat(window: Window) -> None:
    """A tile of the bank among copies, with another that fits at its right."""
    select(window, "fen_ground", 1)
    window.router.turn_face(2)
    face = window.router.stations["Bound"].at(2)  # type: ignore[attr-defined]
    face._fits.picked.emit(face._fits.fits[1].number)


def weave(window: Window) -> None:
    station = window.router.stations["Weave"].at(0)
    level = window.desk.project.level("Long boardwalk")
    ground = level.layers[6].cells
    station.hand.picking.take_brush(pick(ground, Rect(22, 5, 4, 3)))  # type: ignore[attr-defined]
    station._hover(type(level.start)(416, 90))  # type: ignore[attr-defined]
    QTest.qWait(50)


def weave_above(window: Window) -> None:
    window.desk.select(replace(window.desk.selection, level="Heron pool", layer=0))
    QTest.qWait(50)
    station = window.router.stations["Weave"].at(0)
    station.slip.tray.choose("fen_above")  # type: ignore[attr-defined]
    window.router.stations["Weave"].at(0).canvas().zoom_to(2)  # type: ignore[union-attr]


def walk(window: Window) -> None:
    """The keeper walks where probes were sent through, and where one gets to is marked."""
    [probes] = window.findChildren(ProbeGroup)
    probes.start()
    while window.jobs.running:
        QTest.qWait(20)
    stage = window.router.stations["Walk"].at(0).stage  # type: ignore[attr-defined]
    stage.run(False)  # where one gets to by the clock is another place each time
    stage.restart()
    QTest.keyPress(stage, Qt.Key.Key_Right)
    stage.step(STEPS)


def templates(window: Window) -> None:
    """The pieces as a C header, beside their template."""
    window.router.turn_face(1)
    window.router.stations["Bale"].at(1).show_template("pieces.h")  # type: ignore[attr-defined]


def findings(window: Window) -> None:
    window.desk.do("Set crab to 8 px per unit", lambda p: set_pixels_per_unit(p, ("crab",), 8))
    window.desk.do("Forgot a licence", _forget_licence)
    window.watch.look()
    window.watch.toggle()


def _forget_licence(project: Project) -> Project:
    return with_sheet(project, "landing", lambda sheet: replace(sheet, licence=Licence()))


def dusk(window: Window) -> None:
    window.switch_theme()
    select(window, "keeper", 6, 7, 8, 9)
    window.router.show_rules(True)


VIEWS: dict[str, tuple[str, Callable[[Window], None]]] = {
    "gather-sources": ("Gather", gather),
    "gather-fresh-pack": ("Gather", fresh_pack),
    "gather-changes": ("Gather", changes),
    "cut-pieces": ("Cut", cut),
    "cut-animations": ("Cut", animations),
    "gauge-line-up": ("Gauge", line_up),
    "gauge-pivots": ("Gauge", pivots),
    "gauge-look": ("Gauge", look),
    "gauge-borders": ("Gauge", borders),
    "bound-sheet": ("Bound", bound),
    "bound-facts": ("Bound", facts),
    "bound-repeat": ("Bound", repeat),
    "weave-boardwalk": ("Weave", weave),
    "weave-above": ("Weave", weave_above),
    "walk": ("Walk", walk),
    "bale-pages": ("Bale", lambda window: select(window, "keeper", 0, 6)),
    "bale-templates": ("Bale", templates),
    "findings": ("Gauge", findings),
    "dusk": ("Cut", dusk),
}


def main() -> None:
    application = make_application()
    SHOTS.mkdir(parents=True, exist_ok=True)
    for name, (station, prepare) in VIEWS.items():
        shoot(name, station, prepare)
    application.quit()


def shoot(name: str, station: str, prepare: Callable[[Window], None]) -> None:
    """One picture of a fresh window."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "lanternfen"
        os.environ["XDG_CACHE_HOME"] = place
        settings = Settings(Path(place) / "settings.json")
        settings.remember(hints=tuple(HINTS))
        session = Session(settings)
        if name == "gather-fresh-pack":
            os.environ["XDG_STATE_HOME"] = place
            window = session.open_new()
        else:
            shutil.copytree(ROOT / "demo" / "lanternfen", folder)
            window = session.open_folder(folder)
        window.resize(1280, 800)
        QTest.qWait(30)
        window.router.open(station)
        QTest.qWait(60)
        prepare(window)
        window.watch.look()
        QTest.qWait(150)
        while window.jobs.running:
            QTest.qWait(10)
        QTest.qWait(60)  # what came last is laid out
        lens = window.frame.lens.picture
        lens.play(lens.playing)  # from its beginning: by the clock it is another frame each time
        window.grab().save(str(SHOTS / f"{name}.png"))
        window.projects.may_leave = lambda: True  # type: ignore[method-assign]
        window.close()
        window.deleteLater()
        if name == "dusk":
            window.switch_theme()


if __name__ == "__main__":
    main()
