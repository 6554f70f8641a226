"""Keys of commands, wherever the focus is: letters go to the table, save in typed texts."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QPlainTextEdit, QTextEdit, QWidget

from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import OVER, RACK, TABLE, WINDOW
from rushweed.ui.shell.stepper import Stepper

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
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        if not isinstance(watched, QWidget) or watched.window() is not self._window:
            return False
        if is_typing(watched) or self._ends_a_stroke(event):
            return False
        return any(self._commands.press(place, event) for place in self._places(watched, event))

    def _ends_a_stroke(self, event: QKeyEvent) -> bool:
        table = self._table()
        return isinstance(table, Canvas) and table.busy and event.key() == Qt.Key.Key_Escape

    def _places(self, watched: QWidget, event: QKeyEvent) -> Iterator[str]:
        """Where a key may mean something, the nearest first."""
        table = self._table()
        within = table is not None and (watched is table or table.isAncestorOf(watched))
        if self._rack.isAncestorOf(watched):
            yield RACK
        if within or (_is_letter(event) and watched is self._window.focusWidget()):
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
        number = isinstance(widget.parentWidget(), Stepper)
        return not number and not widget.isReadOnly()
    return isinstance(widget, QComboBox) and widget.isEditable()


def _is_letter(event: QKeyEvent) -> bool:
    return Qt.Key.Key_A <= event.key() <= Qt.Key.Key_Z and not event.modifiers() & HELD
