"""Looking for garbage when nobody waits: with a large project a whole round takes long, and holds
every thread."""

from __future__ import annotations

import gc
from collections.abc import Callable

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from rushweed.core import bulk
from rushweed.core.newest import forget
from rushweed.ui.soon import soon

YOUNG, MIDDLE, NEVER = 10_000, 10, 1_000_000
"""How many new things there are before the collector looks at them, after how many such rounds it
looks once more, and after how many of those at all there is."""
EVERY, AWAY = 2_000, 20_000
"""Milliseconds after which what was looked at counts as kept, and for how long the application is
not the one that is worked with before all is looked at."""


class Garbage(QObject):
    """Has Python look only at what is new. What has stayed for a while is taken out of its sight,
    for a project holds no circles: those of the window are looked for while somebody works
    elsewhere, and the window is not `busy`."""

    def __init__(self, application: QApplication, busy: Callable[[], bool] = lambda: False) -> None:
        super().__init__(application)
        self._busy = busy
        gc.set_threshold(YOUNG, MIDDLE, NEVER)
        bulk.after_many = gc.freeze
        self._often = QTimer(self)
        self._often.timeout.connect(keep)
        self._often.start(EVERY)
        self._away = soon(self, AWAY, self._look_if_quiet)
        application.applicationStateChanged.connect(self._watch)

    def look_soon(self) -> None:
        """A whole window is gone: keep nothing of its project, and look at everything."""
        forget()
        QTimer.singleShot(0, look_at_all)

    def _look_if_quiet(self) -> None:
        if self._busy():
            self._away.start()
        else:
            look_at_all()

    def _watch(self, state: Qt.ApplicationState) -> None:
        if state == Qt.ApplicationState.ApplicationActive:
            self._away.stop()
        else:
            self._away.start()


def keep() -> None:
    """Look no more at what has outlived the young rounds."""
    if gc.get_count()[2]:
        gc.collect(1)
        gc.freeze()


def look_at_all() -> None:
    """Look at everything, once."""
    gc.unfreeze()
    gc.collect()
    gc.freeze()
