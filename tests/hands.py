"""The hands that tests drive the window with: real clicks, drags and keys."""

from __future__ import annotations

from typing import Any

from PyQt6 import QtTest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QWidget


class Hands(QtTest.QTest):
    """The toolkit's own, but for moves: where the system lets nobody put its pointer anywhere,
    they go by way of the window."""

    @staticmethod
    def mouseMove(widget: Any, place: Any, *more: Any) -> None:  # type: ignore[override]
        if QGuiApplication.platformName() == "wayland":
            widget, place = widget.window().windowHandle(), widget.mapTo(widget.window(), place)
        QtTest.QTest.mouseMove(widget, place, *more)


QTest: Any = Hands
"""Its functions want no instance, whatever their type hints say."""
LEFT, RIGHT = Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton
NONE, CONTROL = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


def drag_over(
    widget: QWidget, *places: QPoint, held: Qt.KeyboardModifier = NONE, button=LEFT
) -> None:
    """Press at the first place of a widget, move through the others, release at the last."""
    QTest.mousePress(widget, button, held, places[0])
    for place in places[1:]:
        QTest.mouseMove(widget, place)
        QTest.qWait(2)
    QTest.mouseRelease(widget, button, held, places[-1])
