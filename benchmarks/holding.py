"""How long the window is held by acts that take long, by a heart that beats in its thread."""

from __future__ import annotations

import sys
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np
from guessing import creatures
from heartbeat import EVERY, Heartbeat
from levels import wide_level
from measuring import Result
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QLineEdit

from rushweed.core.gather.pictures import encode_png
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.painting import single
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.session import Session
from rushweed.ui.shell.controls import Field
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.window import Window

MOST = 0.1
"""Seconds for which an act may hold the window."""
PICTURES, LARGE, MANY_CELLS = 500, 8192, 1100
KEY = "Colour that stands for nothing"
LEFT = Qt.MouseButton.LeftButton
NONE = Qt.KeyboardModifier.NoModifier


@dataclass(slots=True)
class Hand:
    """Does one act after the other in a window, and keeps how long each held it."""

    window: Window
    heart: Heartbeat
    results: list[Result] = field(default_factory=list)

    def timed(self, what: str, act: Callable[[], object]) -> None:
        """Do it, let it come to rest, and keep the longest hold."""
        held = self.heart.during(act, lambda: not self.window.jobs.running)
        print(f"{held * 1000:6.0f} ms  {what}  {self.heart.culprit}", file=sys.stderr, flush=True)
        told = f"{held * 1000:.0f} ms"
        self.results.append(
            Result(f"The longest hold: {what}", told, f"≤ {MOST * 1000:g} ms", held <= MOST)
        )

    def quiet(self, act: Callable[[], object]) -> None:
        """Do it unmeasured."""
        self.heart.during(act, lambda: not self.window.jobs.running)

    def drop(self, *paths: Path) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        self.window.dropEvent(
            QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, data, LEFT, NONE)
        )

    def press(self, name: str) -> None:
        found = [
            one
            for one in self.window.findChildren(QAbstractButton)
            if name in (one.accessibleName(), one.text()) and one.isVisible()
        ]
        QTest.mouseClick(found[0], LEFT)

    def type_into(self, edit: QLineEdit, text: str) -> None:
        edit.setFocus()
        edit.selectAll()
        QTest.keyClicks(edit, text)
        QTest.keyClick(edit, Qt.Key.Key_Return)

    def type_number(self, name: str, text: str) -> None:
        found = [
            one
            for one in self.window.findChildren(Stepper)
            if one.accessibleName() == name and one.isVisible()
        ]
        self.type_into(found[0].edit, text)

    def open(self, station: str, face: int | None = None) -> None:
        self.window.router.open(station, face)

    def command(self, name: str) -> None:
        self.window.commands.run(name)

    def select(self, *sheets: str) -> None:
        desk = self.window.desk
        desk.select(replace(desk.selection, sheets=sheets, pieces=frozenset()))


def _begin(
    session: Session, heart: Heartbeat, folder: Path | None = None, afresh: bool = False
) -> Hand:
    """A window that somebody has had before them for a while, or one just opened."""
    if session.window is not None:
        session.window.projects.may_leave = lambda: True  # type: ignore[method-assign]
    window = session.open_new() if folder is None else session.open_folder(folder)
    window.resize(1280, 800)
    hand = Hand(window, heart)
    hand.quiet(lambda: None)
    while not afresh and window.router.make_ahead():
        QTest.qWait(EVERY)
    return hand


def many_pictures(session: Session, heart: Heartbeat, demo: Path) -> list[Result]:
    """500 pictures of a stranger's, dropped and worked on all together."""
    folder = demo / "pictures"
    folder.mkdir()
    draw = np.random.default_rng(7)
    whole = creatures(1024)
    for number in range(PICTURES):
        side = 1024 if number % 50 == 0 else 64 * int(draw.integers(2, 9))
        top, left = (64 * int(draw.integers(0, (1024 - side) // 64 + 1)) for _ in range(2))
        part = whole[top : top + side, left : left + side]
        (folder / f"creature {number}.png").write_bytes(encode_png(part.copy()))
    hand = _begin(session, heart)
    window = hand.window
    hand.timed("dropping 500 pictures", lambda: hand.drop(folder))
    hand.timed("choosing all of them", lambda: hand.select(*_names(window)))
    hand.timed("taking all as seen", lambda: hand.press("Take all as seen"))
    licence = window.router.stations["Gather"].at(0).licence.fields  # type: ignore[attr-defined]
    hand.timed("giving all a licence", lambda: hand.type_into(licence["identifier"], "CC0-1.0"))
    hand.timed("opening Gauge with all", lambda: hand.open("Gauge", 0))
    hand.timed("giving all a size", lambda: hand.type_number("Pixels per unit", "24"))
    hand.timed("opening Pivots with all", lambda: hand.open("Gauge", 1))
    hand.timed("selecting all pieces in Pivots", lambda: hand.command("edit.select_all"))
    hand.timed("opening Look with all", lambda: hand.open("Gauge", 2))
    hand.timed("opening Bale with all", lambda: hand.open("Bale"))
    hand.timed("going back to Gather with all", lambda: hand.open("Gather", 0))
    hand.timed("opening Cut with all", lambda: hand.open("Cut", 0))
    hand.timed("taking back", lambda: hand.command("edit.undo"))
    return hand.results


def _names(window: Window) -> tuple[str, ...]:
    return tuple(sheet.name for sheet in window.desk.project.sheets)


def large_picture(session: Session, heart: Heartbeat, demo: Path) -> list[Result]:
    """One picture of 8192 × 8192 px."""
    path = demo / "huge.png"
    path.write_bytes(encode_png(creatures(LARGE)))
    hand = _begin(session, heart)
    window = hand.window
    side = f"{LARGE} × {LARGE} px"
    hand.timed(f"dropping a sheet of {side}", lambda: hand.drop(path))
    hand.timed("opening Cut on it", lambda: hand.open("Cut", 0))
    hand.quiet(lambda: hand.press("Layout: Even cells"))
    hand.timed("cutting it into cells of 64", lambda: hand.type_number("Cell across", "64"))
    hand.timed("cutting it into cells of 32", lambda: hand.type_number("Cell across", "32"))
    hand.quiet(lambda: hand.open("Gather", 0))
    hand.timed("keying it", lambda: _type_field(hand, KEY, "#204060"))
    hand.timed("taking the key away", lambda: _type_field(hand, KEY, ""))
    hand.timed("opening Look on it", lambda: hand.open("Gauge", 2))
    hand.timed("looking at how it differs", lambda: hand.press("View: Difference"))
    hand.timed("opening Borders on it", lambda: hand.open("Gauge", 3))
    hand.timed("guessing its borders", lambda: hand.press("Guess"))
    hand.timed("opening Bound on it", lambda: hand.open("Bound", 0))
    hand.quiet(lambda: _select_piece(hand))
    hand.timed("making one piece solid", lambda: hand.command("bound.whole"))
    hand.timed("finding its twins", lambda: hand.command("bound.twins"))
    hand.timed("opening Bale on it", lambda: hand.open("Bale"))
    assert len(window.desk.project.sheets[0].pieces) > 10_000
    return hand.results


def _type_field(hand: Hand, name: str, text: str) -> None:
    found = [one for one in hand.window.findChildren(Field) if one.accessibleName() == name]
    hand.type_into(next(one for one in found if one.isVisible()), text)


def _select_piece(hand: Hand) -> None:
    desk = hand.window.desk
    first = desk.project.sheets[0].pieces[0].number
    desk.select(replace(desk.selection, pieces=frozenset({first})))


def stations(session: Session, heart: Heartbeat, demo: Path) -> list[Result]:
    """Each face of the demo's stations for the first time; the longest one of each is told."""
    hand = _begin(session, heart, demo, afresh=True)
    results = []
    for station in STATIONS:
        for face in range(len(hand.window.router.stations[station].names)):
            hand.timed(
                f"opening {station} for the first time", lambda s=station, f=face: hand.open(s, f)
            )
        results.append(max(hand.results, key=lambda result: float(result.measured.split()[0])))
        hand.results.clear()
    return results


def filled_level(session: Session, heart: Heartbeat, demo: Path) -> list[Result]:
    """Filled, shown, walked in and saved: 1100 × 1100 cells on four layers."""
    hand = _begin(session, heart, demo)
    desk = hand.window.desk
    numbers = {p.name: p.number for p in desk.project.sheet("fen_ground").pieces}
    level = wide_level(numbers, MANY_CELLS)
    desk.do("Made a wide level", lambda p: replace(p, levels=(*p.levels, level)))
    hand.quiet(lambda: hand.open("Weave"))
    hand.timed(
        "showing a wide level",
        lambda: desk.select(replace(desk.selection, level=level.name, layer=2)),
    )
    hand.quiet(lambda: _take_a_tile(hand, numbers["mud"]))
    hand.timed("filling 1 210 000 cells", lambda: _fill(hand))
    assert desk.history.words != "Made a wide level", "it was filled"
    hand.timed("going to Cut", lambda: hand.open("Cut"))
    hand.timed("going back to Weave", lambda: hand.open("Weave"))
    hand.timed("showing all of it", lambda: hand.command("view.all"))
    hand.timed("walking in it", lambda: hand.open("Walk"))
    hand.timed("sending probes through it", lambda: _probe(hand))
    hand.timed("saving it", lambda: hand.command("project.save"))
    assert not desk.unsaved, "it was saved"
    return hand.results


def _take_a_tile(hand: Hand, number: int) -> None:
    """Take a tile and the bucket in hand, over the layer that is painted all over."""
    desk, weave = hand.window.desk, hand.window.router.stations["Weave"].at(0)
    level = desk.project.levels[-1]
    plain = np.full((MANY_CELLS, MANY_CELLS), number + 1, np.int32)
    area = Rect(0, 0, MANY_CELLS, MANY_CELLS)
    cells = Cells().overlaid(area, plain, np.zeros(plain.shape, np.uint8))
    back = replace(level.layers[0], cells=cells)
    desk.do("Made a wide level", lambda p: _with_first(p, level, back))
    desk.select(replace(desk.selection, level=level.name, layer=0))
    weave.hand.picking.take_brush(single(number))  # type: ignore[attr-defined]
    hand.command("weave.fill")


def _with_first(project: Project, level: Level, layer: Layer) -> Project:
    changed = replace(level, layers=(layer, *level.layers[1:]))
    return replace(project, levels=(*project.levels[:-1], changed))


def _fill(hand: Hand) -> None:
    canvas = hand.window.router.stations["Weave"].at(0).canvas()
    assert canvas is not None
    QTest.mouseClick(canvas, LEFT, pos=canvas.rect().center())


def _probe(hand: Hand) -> None:
    """Press the button, and stop after a while: what holds the window does so from the start."""
    hand.press("Probe the level")
    QTest.qWait(3000)
    hand.window.jobs.stop_shown()


PARTS = (many_pictures, large_picture, stations, filled_level)
"""All acts, each in a project that is large in what the act is about."""
