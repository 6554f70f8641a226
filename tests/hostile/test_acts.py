"""Acts of all stations in any order, on pictures of many kinds: after each of them the promises of
docs/promises.md hold.

Every command, every control that is seen and every key is an act, with sense and without.
Hypothesis finds the shortest sequence that breaks a promise. Some begin on the demo, the others on
pictures; with RUSHWEED_ART, a folder, these come from there.
"""

from __future__ import annotations

import os
import random
from collections.abc import Callable
from dataclasses import replace
from itertools import islice
from pathlib import Path
from shutil import copytree
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, rule, run_state_machine_as_test
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QWidget

from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.weave.levels import add_level
from rushweed.ui.commands.listed import COMMANDS, STATIONS
from rushweed.ui.shell.controls import Check, Chips, Choice, Field
from rushweed.ui.shell.slider import Slider
from rushweed.ui.shell.stepper import Stepper
from tests.conftest import DEMO
from tests.driving import Driver
from tests.hands import CONTROL, LEFT, NONE, SHIFT, QTest
from tests.hostile import LONG, amount, tried
from tests.hostile.promised import broken, broken_on_disk, broken_pictures
from tests.samples import write_picture
from tools.corpus.sheets import corpus

WHAT = "acts of all stations in any order, every promise checked after each"
NOT_ALONE = {
    *("project.new", "project.open", "project.save", "project.save_elsewhere", "window.close"),
    *("pictures.gather", "pictures.folder", "pictures.paste", "window.full", "window.keys"),
    *("window.find", "edit.undo", "edit.redo"),
}
"""Commands that ask for a place on disk, or are acts of their own here."""
LEFT_ALONE = {
    *("Done", "Stop", "Open pictures", "Cut them"),
    *("Write the bundle", "All recipes …", "Write it", "Keep it fresh", "Hand it out"),
}
KEYS = [Qt.Key(ord(sign)) for sign in "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,+-*/[]<>;"]
KEYS += [
    *(Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_Escape, Qt.Key.Key_Return),
    *(Qt.Key.Key_Space, Qt.Key.Key_Tab, Qt.Key.Key_Home, Qt.Key.Key_End),
    *(Qt.Key.Key_PageUp, Qt.Key.Key_PageDown),
    *(Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down),
]
HELD = (
    NONE,
    NONE,
    SHIFT,
    CONTROL,
)
TEXTS = (
    *("", "reed", "12", "a, b", "#5DB5BE", "walk_1", "CC0-1.0", "x = 3", "x" * 400, "-7"),
    *("64 × 0", "\u202eabc", "1,2;3", "{{ 7 }}", "∞", "99999999"),
)
numbers = st.integers(0, 10**6)


def pictures(folder: Path, seed: int) -> list[Path]:
    """Some pictures: of the folder that is told, or made up."""
    dice = random.Random(seed)
    told = os.environ.get("RUSHWEED_ART")
    if told:
        every = sorted(path for path in Path(told).rglob("*.png") if path.stat().st_size < 200_000)
        return dice.sample(every, min(4, len(every)))
    made = list(islice(corpus(1, seed), 14))
    chosen = dice.sample(made, 4)
    return [write_picture(folder / f"{s.kind} {n}.png", s.picture) for n, s in enumerate(chosen)]


def enter(field: QLineEdit, text: str) -> None:
    """Have a text in a field, of signs that no key gives too, and Enter."""
    field.setFocus()
    field.selectAll()
    field.insert(text)
    QTest.keyClick(field, Qt.Key.Key_Return)


class Acts(RuleBasedStateMachine):
    """One window, and somebody who does whatever can be done there."""

    def __init__(self, open_window: Callable[..., Driver], folder: Path) -> None:
        super().__init__()
        self._open, self._folder = open_window, folder
        self.drive: Driver | None = None
        self.broken: list[str] = []

    @initialize(seed=st.integers(0, 60))
    def begin(self, seed: int) -> None:
        folder = self._folder / str(seed)
        if seed % 3 == 0:
            self.drive = self._open(copytree(DEMO, folder, dirs_exist_ok=True))
            self.began = self.drive.project
        else:
            folder.mkdir(exist_ok=True)
            self.drive = self._open()
            self.began = self.drive.project
            self.drive.drop(*pictures(folder, seed))
            self._select(seed)
            self.drive.at("Gather").kind.accept(self.drive.window.desk.selection.sheets)
            self.drive.settle()
        desk = self.drive.window.desk
        desk.do("Began a level", lambda project: add_level(project)[0])
        desk.done.connect(self._check)

    def _check(self, before: Project, after: Project) -> None:
        desk = self.drive.window.desk
        others = self.drive.at("Weave").hand.held.others
        words = desk.history.words
        self.broken += broken(before, after, desk.art, words, others != "replaced")

    def _settle(self, act: str) -> None:
        """Let everything end that an act began; then the promises must hold."""
        for popup in filter(None, [QApplication.activePopupWidget()]):
            popup.close()
        QApplication.processEvents()
        jobs = self.drive.window.jobs
        self.drive.wait_for(lambda: not jobs.running)
        tried(WHAT)
        assert not self.broken, f"{act}: {self.broken}"

    def _seen(self, *kinds: type[QWidget]) -> list[Any]:
        slip = self.drive.window.frame.slip.currentWidget()
        found = [one for kind in kinds for one in slip.findChildren(kind)]
        return [one for one in found if one.isVisible() and one.isEnabled()]

    def _select(self, pick: int) -> None:
        desk = self.drive.window.desk
        dice = random.Random(pick)
        names = [sheet.name for sheet in desk.project.sheets]
        chosen = dice.sample(names, min(len(names), dice.choice((1, 1, 2, len(names) or 1))))
        known = [
            piece.number
            for sheet in desk.project.sheets
            if sheet.name in chosen
            for piece in sheet.pieces
        ]
        some = dice.sample(known, min(len(known), dice.choice((0, 1, 3, len(known)))))
        pieces = frozenset(some)
        desk.select(replace(desk.selection, sheets=tuple(chosen), pieces=pieces, animation=""))

    @rule(station=st.integers(1, len(STATIONS)), face=numbers)
    def go_to(self, station: int, face: int) -> None:
        self.drive.station(station)
        router = self.drive.window.router
        router.turn_face(face % len(router.stations[router.station].names))
        self._settle("went to another face")

    @rule(pick=numbers)
    def select(self, pick: int) -> None:
        self._select(pick)
        self._settle("selected")

    @rule(pick=numbers, index=st.integers(0, 3))
    def command(self, pick: int, index: int) -> None:
        commands = self.drive.window.commands
        able = [c.identity for c in COMMANDS if c.identity not in NOT_ALONE and not c.held]
        able = [identity for identity in able if commands.can(identity)]
        identity = able[pick % len(able)]
        stepped = commands.all[identity].stepped
        commands.run(identity, index % max(len(commands.keys(identity)), 1) if stepped else 0)
        self._settle(f"the command {identity}")

    @rule(pick=numbers, value=numbers)
    def control(self, pick: int, value: int) -> None:
        seen = self._seen(Stepper, Check, Chips, Choice, Field, Slider)
        if not seen:
            return
        one = seen[pick % len(seen)]
        if isinstance(one, Stepper):
            shown = (0, 1, 2, 3, 7, 16, 17, 32, -4, 0.5, "", "64 × 0", 10**8, "∞")[value % 14]
            enter(one.edit, str(shown))
        elif isinstance(one, Field):
            enter(one, TEXTS[value % len(TEXTS)])
        elif isinstance(one, Check):
            one.click()
        elif isinstance(one, Slider):
            QTest.mouseClick(one, LEFT, pos=QPoint(value % max(one.width(), 1), one.height() // 2))
        elif isinstance(one, Chips):
            chips = one.findChildren(QAbstractButton)
            chips[value % len(chips)].click()
        elif one.count():
            one.setCurrentIndex(value % one.count())
            one.activated.emit(one.currentIndex())
        self._settle(f"the control {one.accessibleName()}")

    @rule(pick=numbers)
    def button(self, pick: int) -> None:
        seen = [one for one in self._seen(QAbstractButton) if one.text() not in LEFT_ALONE]
        if seen:
            one = seen[pick % len(seen)]
            one.click()
            self._settle(f"the button {one.text() or one.accessibleName()}")

    @rule(
        x=st.floats(0, 1),
        y=st.floats(0, 1),
        dx=st.floats(-0.3, 0.3),
        dy=st.floats(-0.3, 0.3),
        held=st.sampled_from(HELD),
        ends=st.integers(0, 9),
        button=st.sampled_from((1, 1, 2)),
    )
    def drag(
        self, x: float, y: float, dx: float, dy: float, held: Any, ends: int, button: int
    ) -> None:
        table = self.drive.table
        wide, high = max(table.width() - 1, 1), max(table.height() - 1, 1)
        spots = [
            QPoint(
                round(min(max(x + dx * t, 0), 1) * wide), round(min(max(y + dy * t, 0), 1) * high)
            )
            for t in (0, 0.5, 1)
        ]
        within = table.childAt(spots[0]) or table
        first, *others = [within.mapFrom(table, spot) for spot in spots]
        QTest.mousePress(within, Qt.MouseButton(button), held, first)
        for spot in others:
            QTest.mouseMove(within, spot)
        if ends == 0:
            QTest.keyClick(self.drive.window.focusWidget() or table, Qt.Key.Key_Escape)
        if ends == 1:
            self.drive.window.commands.run("edit.undo")
        QTest.mouseRelease(within, Qt.MouseButton(button), held, others[-1])
        self._settle("a drag over the table")

    @rule(pick=numbers, held=st.sampled_from((*HELD, Qt.KeyboardModifier.AltModifier)))
    def key(self, pick: int, held: Any) -> None:
        """Hit a key, on the table or where the focus is."""
        focused = QApplication.focusWidget() if pick % 3 == 0 else None
        key = KEYS[pick % len(KEYS)]
        QTest.keyClick(focused or self.drive.table, key, held)
        self._settle(f"the key {key.name}")

    @rule()
    def look_elsewhere(self) -> None:
        focused = QApplication.focusWidget() or self.drive.table
        QApplication.sendEvent(focused, QFocusEvent(QEvent.Type.FocusOut))
        self._settle("looked elsewhere")

    @rule(pick=numbers)
    def brush(self, pick: int) -> None:
        """Take pieces in hand, as one does in the tray."""
        desk = self.drive.window.desk
        known = [piece.number for _, piece in desk.project.pieces()]
        if known:
            from rushweed.core.weave.painting import Brush

            number, other = known[pick % len(known)], known[(pick // 7) % len(known)]
            rows = (((number, 0),),) if pick % 3 else (((number, 0), (other, 0)),)
            self.drive.at("Weave").hand.picking.take_brush(Brush(rows))
            self._settle("took a brush")

    @rule(steps=st.integers(1, 3), again=st.booleans())
    def undo(self, steps: int, again: bool) -> None:
        desk = self.drive.window.desk
        for _ in range(steps):
            desk.undo()
        for _ in range(steps if again else 0):
            desk.redo()
        self._settle("undid")

    def teardown(self) -> None:
        if self.drive is None:
            return
        desk = self.drive.window.desk
        desk.abandon_drag()
        self.drive.settle()
        last, steps = desk.project, 0
        told = [*broken_on_disk(last), *broken_pictures(last, desk.art)]
        if desk.saved.levels:  # the demo, which has a place on disk
            assert desk.save() and not desk.unsaved and files.load(desk.folder) == last
        while desk.history.earlier is not None:
            desk.undo()
            steps += 1
        assert desk.project is self.began, "undo gives back the very same project"
        same = last is self.began or not self.began.levels
        assert desk.unsaved or same, "what is undone differs from what is on disk"
        for _ in range(steps):
            desk.redo()
        self.drive.close()
        assert not told, told
        assert desk.project is last, "redo leads to another project"


@pytest.mark.opens_projects
@pytest.mark.slow
def test_promises_hold_whatever_is_done(open_window: Callable[..., Driver], tmp_path: Path) -> None:
    run_state_machine_as_test(
        lambda: Acts(open_window, tmp_path),  # type: ignore[arg-type]
        settings=settings(
            max_examples=amount(6, 200),
            stateful_step_count=amount(50, 100),
            deadline=None,
            derandomize=not os.environ.get("RUSHWEED_ART"),
            database=None,
            phases=(Phase.generate, Phase.shrink) if not LONG else (Phase.generate,),
            suppress_health_check=list(HealthCheck),
        ),
    )
