"""Hands that count what they do: a click, a typed value and a drag are one act each, a choice in
a list is two, and one more where the slip has to be scrolled first."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QLineEdit, QPlainTextEdit, QScrollArea, QWidget

from rushweed.ui.shell.controls import Choice
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.reading_card import ReadingCard
from tests.driving import Driver
from tests.hands import LEFT, NONE, QTest, drag_over


class Counting:
    """Counted acts in one window. Nothing is touched that cannot be seen."""

    def __init__(self, drive: Driver) -> None:
        self.drive = drive
        self.acts = 0

    def station(self, name: str) -> None:
        """Click a station's knot."""
        trail = self.drive.window.frame.trail
        index = next(i for i, stage in enumerate(trail.stages) if stage.name == name)
        self._click(trail, trail.tag_rect(index).center().toPoint())

    def face(self, name: str) -> None:
        """Click the name of a face."""
        self._click(self.drive.button(name, self.drive.window.frame.faces))

    def press(self, name: str) -> None:
        """Click a button."""
        button = self.drive.button(name)
        self._bring_into_view(button)
        self._click(button)

    def choose(self, sheet: str, reading: str) -> None:
        """Click one of the small pictures of how a sheet may be cut."""
        cards = self.drive.window.findChildren(ReadingCard)
        named = [card for card in cards if card.isVisible() and sheet in card.accessibleName()]
        self._click(next(card for card in named if reading in card.accessibleName()))

    def write(self, field: QLineEdit | QPlainTextEdit, text: str) -> None:
        """Type a value over the old one, and Enter."""
        self._bring_into_view(field)
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.acts += 1
        self.drive.settle()

    def number(self, name: str, text: str) -> None:
        """Type into a number's field, and Enter."""
        found = [one for one in self.drive.window.findChildren(Stepper) if one.isVisible()]
        field = next(one for one in found if one.accessibleName() == name)
        self._bring_into_view(field)
        self.drive.type_number(name, text)
        self.acts += 1
        self.drive.settle()

    def pick(self, name: str, text: str) -> None:
        """Choose something in a list, which is two acts."""
        self._bring_into_view(self.drive.seen(Choice, name))
        self.drive.choose(name, text)
        self.acts += 2

    def key(self, key: str) -> None:
        """Press a key where the focus is; that is an act, too."""
        window = self.drive.window
        QTest.keyClick(window.focusWidget() or window, QKeySequence(key)[0].key())
        self.acts += 1
        self.drive.settle()

    def click(self, x: float, y: float) -> None:
        """Click a place of the picture."""
        self.drive.click(x, y)
        self.acts += 1
        self.drive.settle()

    def drag_over(self, widget: QWidget, *places: QPoint) -> None:
        """Drag over a part of the slip, or click it."""
        self._bring_into_view(widget)
        drag_over(widget, *places)
        self.acts += 1
        self.drive.settle()

    def drag(
        self,
        *places: tuple[float, float],
        held: Qt.KeyboardModifier = NONE,
    ) -> None:
        """Drag over the table."""
        self.drive.drag(*places, held=held)
        self.acts += 1
        self.drive.settle()

    def _click(self, widget: QWidget, place: QPoint | None = None) -> None:
        QTest.mouseClick(widget, LEFT, pos=place or widget.rect().center())
        self.acts += 1
        self.drive.settle()

    def _bring_into_view(self, widget: QWidget) -> None:
        page = self.drive.window.frame.slip.currentWidget()
        if not isinstance(page, QScrollArea) or not page.isAncestorOf(widget):
            return
        self.drive.qtbot.wait(10)
        viewport = page.viewport()
        assert viewport is not None
        top = widget.mapTo(viewport, QPoint(0, 0)).y()
        if top < 0 or top + widget.height() > viewport.height():
            page.ensureWidgetVisible(widget)
            self.acts += 1
