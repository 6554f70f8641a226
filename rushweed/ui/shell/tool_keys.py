"""Keys of commands, wherever the focus is: signs go to the table, save in typed texts."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QPlainTextEdit,
    QTextEdit,
    QWidget,
)

from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import OVER, RACK, TABLE, WINDOW
from rushweed.ui.commands.places_of_keys import is_letter
from rushweed.ui.shell.controls import Field
from rushweed.ui.shell.stepper import Stepper

ENTERS = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
HELD = (
    Qt.KeyboardModifier.ControlModifier
    | Qt.KeyboardModifier.AltModifier
    | Qt.KeyboardModifier.MetaModifier
)


class ToolKeys(QObject):
    """Hands the keys that are pressed in a window to the commands of what they are meant for.

    `table` is the widget that keys of the station are for, `place` where the station's keys stand
    in the list of commands.
    """

    def __init__(
        self,
        window: QWidget,
        commands: Commands,
        rack: QWidget,
        table: Callable[[], QWidget | None],
        place: Callable[[], str],
    ) -> None:
        super().__init__(window)
        self._window, self._commands, self._rack = window, commands, rack
        self._table, self._place = table, place
        application = QApplication.instance()
        if application is not None:
            application.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QMouseEvent) and isinstance(watched, QAbstractButton):
            pressed = event.type() == QEvent.Type.MouseButtonPress
            if pressed and watched.window() is self._window:
                self._to_table()  # what was typed is taken before what is clicked is done
            return False
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        if not isinstance(watched, QWidget):
            return False
        typed = watched.focusProxy() if watched.isWindow() else watched  # a list hangs below it
        if event.key() in ENTERS and typed is not None and _is_entry(typed):
            if isinstance(typed, Field) and typed.goes_on:
                return False
            QTimer.singleShot(0, self._to_table)  # once what was typed is taken
            return False
        if watched.window() is not self._window:
            return False
        if is_typing(watched) or self._ends_a_stroke(event):
            return False
        return any(self._commands.press(place, event) for place in self._places(watched, event))

    def _to_table(self) -> None:
        """A value was entered: keys are for the table again."""
        table, entry = self._table(), self._window.focusWidget()
        if isinstance(entry, Field):
            entry.fold()
        if table is not None and table.isVisible() and _is_entry(entry):
            table.setFocus()

    def _ends_a_stroke(self, event: QKeyEvent) -> bool:
        table = self._table()
        return isinstance(table, Canvas) and table.busy and event.key() == Qt.Key.Key_Escape

    def _places(self, watched: QWidget, event: QKeyEvent) -> Iterator[str]:
        """Where a key may mean something, the nearest first."""
        table = self._table()
        within = table is not None and (watched is table or table.isAncestorOf(watched))
        if self._rack.isAncestorOf(watched):
            yield RACK
        if within or (_is_plain(event, watched) and watched is self._window.focusWidget()):
            place = self._place()
            if place:
                yield place
                yield from filter(None, [OVER.get(place)])
            if within:
                yield TABLE
            yield WINDOW


def is_typing(widget: QWidget) -> bool:
    """Whether a letter is a part of a text there. A number takes no letters, and a list that is
    folded shows none."""
    if isinstance(widget, (QPlainTextEdit, QTextEdit)):
        return not widget.isReadOnly()
    if isinstance(widget, QLineEdit):
        return not _is_number(widget) and not widget.isReadOnly()
    return isinstance(widget, QComboBox) and widget.isEditable()


def _is_entry(widget: QWidget | None) -> bool:
    """Whether a value is typed there that Enter ends."""
    return isinstance(widget, Field) or _is_number(widget)


def _is_number(widget: QWidget | None) -> bool:
    return isinstance(widget, QLineEdit) and isinstance(widget.parentWidget(), Stepper)


def _is_plain(event: QKeyEvent, watched: QWidget) -> bool:
    """Whether a key is a sign of its own, which nothing but a text takes; a number takes all signs
    but letters, and a button is pressed by a space."""
    if event.modifiers() & HELD:
        return False
    letter = is_letter(event.key())
    sign = Qt.Key.Key_Exclam <= event.key() <= Qt.Key.Key_AsciiTilde
    return letter or (sign and not _is_number(watched))
