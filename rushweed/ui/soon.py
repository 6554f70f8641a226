"""Acts that wait for a moment of quiet."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer


def soon(parent: QObject, milliseconds: int, act: Callable[[], object]) -> QTimer:
    """A timer that acts once, so many milliseconds after it was started the last time; gone with
    its parent."""
    timer = QTimer(parent)
    timer.setSingleShot(True)
    timer.setInterval(milliseconds)
    timer.timeout.connect(act)
    return timer
