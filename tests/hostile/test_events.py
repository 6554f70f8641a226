"""Somebody hits everything in the window without sense: nothing breaks, and all can be undone."""

from __future__ import annotations

import random
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QLineEdit,
    QMenuBar,
    QWidget,
)

from rushweed.core.project import files
from tests.driving import LEFT, Driver
from tests.driving import Seen as Shown
from tests.hands import QTest
from tests.hostile import amount, tried

KEYS = [getattr(Qt.Key, f"Key_{letter}") for letter in "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"]
KEYS += [Qt.Key(ord(sign)) for sign in ".,+-*/[]<>;"]
KEYS += [
    Qt.Key.Key_Delete,
    Qt.Key.Key_Backspace,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Return,
    Qt.Key.Key_Space,
    Qt.Key.Key_Tab,
    *(Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down),
    *(Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown),
]
HELD = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)
UNDONE = (Qt.Key.Key_Z, Qt.Key.Key_Y, Qt.Key.Key_A, Qt.Key.Key_C, Qt.Key.Key_V, Qt.Key.Key_D)
TEXTS = ("", "0", "-7", "99999999", "x" * 400, "64 × 0", "\u202eabc", "1,2;3", "{{ 7 }}", "∞")


class Brute:
    """Hands that know nothing, by chance but always the same way."""

    def __init__(self, drive: Driver, seed: int) -> None:
        self.drive = drive
        self.dice = random.Random(seed)
        self.acts: tuple[Callable[[], None], ...] = (
            self.click_anywhere,
            self.drag_anywhere,
            self.drag_anywhere,
            self.hit_a_key,
            self.hit_a_key,
            self.hit_a_key,
            self.press_a_button,
            self.press_a_button,
            self.type_somewhere,
            self.slide_somewhere,
            self.change_the_station,
            self.undo_or_copy,
            self.look_elsewhere,
        )

    def act(self) -> str:
        """Do one thing; returns what it was."""
        act = self.dice.choice(self.acts)
        act()
        for popup in filter(None, [QApplication.activePopupWidget()]):
            popup.close()
        QApplication.processEvents()
        return act.__name__

    def _spot(self, widget: QWidget) -> QPoint:
        width, height = max(widget.width(), 1), max(widget.height(), 1)
        return QPoint(self.dice.randrange(width), self.dice.randrange(height))

    def _of(self, kind: type[Shown]) -> Shown | None:
        found = self.drive.window.findChildren(kind)
        seen = [one for one in found if one.isVisible() and one.isEnabled()]
        return self.dice.choice(seen) if seen else None

    def click_anywhere(self) -> None:
        table = self.drive.table
        button = self.dice.choice((LEFT, LEFT, Qt.MouseButton.RightButton))
        held = self.dice.choice((*HELD, Qt.KeyboardModifier.ControlModifier))
        if button == LEFT or self.dice.random() < 0.3:
            spot = self._spot(table)
            within = table.childAt(spot) or table
            QTest.mouseClick(within, button, held, within.mapFrom(table, spot))

    def drag_anywhere(self) -> None:
        table = self.drive.table
        held = self.dice.choice((*HELD, Qt.KeyboardModifier.ControlModifier))
        spot = self._spot(table)
        within = table.childAt(spot) or table
        QTest.mousePress(within, LEFT, held, within.mapFrom(table, spot))
        for _ in range(self.dice.randrange(5)):
            QTest.mouseMove(
                within, within.mapFrom(table, self._spot(table)) * self.dice.choice((1, 9))
            )
            if self.dice.random() < 0.1:
                self.dice.choice((self.hit_a_key, self.look_elsewhere, self.undo_or_copy))()
        if self.dice.random() < 0.9:
            QTest.mouseRelease(within, LEFT, held, within.mapFrom(table, self._spot(table)))

    def hit_a_key(self) -> None:
        target = QApplication.focusWidget() if self.dice.random() < 0.3 else self.drive.table
        QTest.keyClick(target or self.drive.window, self.dice.choice(KEYS), self.dice.choice(HELD))

    def press_a_button(self) -> None:
        button = self._of(QAbstractButton)
        if button is not None and not isinstance(button.parent(), QMenuBar):  # that waits inside
            button.click()

    def type_somewhere(self) -> None:
        field = self._of(QLineEdit)
        if isinstance(field, QLineEdit):
            field.setFocus()
            field.setText(self.dice.choice(TEXTS))
            QTest.keyClick(field, Qt.Key.Key_Return)

    def slide_somewhere(self) -> None:
        slider = self._of(QAbstractSlider)
        if isinstance(slider, QAbstractSlider):
            slider.setValue(self.dice.randint(slider.minimum(), max(slider.maximum(), 0)))

    def change_the_station(self) -> None:
        self.drive.station(self.dice.randrange(7) + 1)
        router = self.drive.window.router
        router.turn_face(self.dice.randrange(len(router.stations[router.station].names)))

    def undo_or_copy(self) -> None:
        held = self.dice.choice((HELD[0], Qt.KeyboardModifier.ShiftModifier))
        keys = Qt.KeyboardModifier.ControlModifier | held
        QTest.keyClick(self.drive.window, self.dice.choice(UNDONE), keys)

    def look_elsewhere(self) -> None:
        focused = QApplication.focusWidget() or self.drive.table
        QApplication.sendEvent(focused, QFocusEvent(QEvent.Type.FocusOut))


@pytest.mark.parametrize("seed", range(amount(2, 25)))
def test_nothing_breaks_and_all_can_be_undone(
    open_window: Callable[..., Driver], demo: Path, seed: int
) -> None:
    first = files.load(demo)
    drive = open_window(demo)
    brute = Brute(drive, seed)
    for _ in range(amount(150, 800)):
        brute.act()
        tried("clicks, drags, keys and texts without sense at all stations, then all undone")
    drive.settle()
    desk = drive.window.desk
    desk.abandon_drag()
    while desk.history.earlier is not None:
        desk.undo()
    assert desk.history.project == first
