"""Keys of tools, wherever the focus is: letters go to the table, save in a text that is typed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QLineEdit,
    QPlainTextEdit,
    QTextEdit,
    QWidget,
)

from rushweed.ui.shell.stepper import Stepper

HELD = (
    Qt.KeyboardModifier.ControlModifier
    | Qt.KeyboardModifier.AltModifier
    | Qt.KeyboardModifier.MetaModifier
)


class ToolKeys(QObject):
    """Passes letters that are pressed anywhere in a window to the widget that knows the tools."""

    def __init__(self, window: QWidget, table: Callable[[], QWidget | None]) -> None:
        super().__init__(window)
        self._window, self._table = window, table
        self._passing = False
        application = QApplication.instance()
        if application is not None:
            application.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QKeyEvent) or not isinstance(watched, QWidget) or self._passing:
            return False
        kinds = (QEvent.Type.KeyPress, QEvent.Type.KeyRelease)
        if event.type() not in kinds or watched.window() is not self._window:
            return False
        table = self._table()
        if table is None or not _is_letter(event) or is_typing(watched):
            return False
        if watched is table or table.isAncestorOf(watched):
            return False
        if watched is not self._window.focusWidget():
            return False
        self._passing = True
        try:
            QApplication.sendEvent(table, event)
        finally:
            self._passing = False
        return True


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
