"""Bringing in and making, once the window is there, what its stations need: so that nobody waits
for it when a station is opened for the first time."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from importlib import import_module

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication

from rushweed.ui.shell.window import Window
from rushweed.ui.stations import PLACES

BEGIN, EVERY = 400, 60
"""Milliseconds after the start, and between two looks whether a face can be made."""
PAUSE = 0.02
"""Seconds between two modules, in which the window has its turn."""
NEEDED = (
    "rushweed.core.findings.all",
    *(f"rushweed.ui.stations.{module}" for module, _ in PLACES.values()),
    "rushweed.core.walk.probing_apart",
    "rushweed.core.cut.likeness",
    "pydantic",
    "scipy.ndimage",
    "scipy.spatial",
)
"""Each brings in many others."""


class Ahead(QObject):
    """Brings modules in, in a thread of its own, and then makes one face after the other of the
    window that is open, and looks at the sheet that is selected, while nobody does anything in
    it."""

    def __init__(self, application: QApplication, window: Callable[[], Window | None]) -> None:
        super().__init__(application)
        self._application, self._window = application, window
        self._over = threading.Event()
        self._thread = threading.Thread(target=self.bring_in, name="ahead", daemon=True)
        application.aboutToQuit.connect(self._over.set)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._go_on)
        QTimer.singleShot(BEGIN, self._begin)

    def _begin(self) -> None:
        self._thread.start()
        self._timer.start(EVERY)

    def bring_in(self) -> None:
        """Bring in what stations need, in this thread, as long as the program goes on."""
        try:
            bring_in(self._over)
        except Exception:
            if not self._over.is_set():  # else what it needs is taken away while it is under way
                raise

    def _go_on(self) -> None:
        window = self._window()
        busy = self._application.mouseButtons() or self._thread.is_alive()
        if window is None or busy or window.jobs.running or window.watch.waits:
            return
        if not window.router.make_ahead():
            window.look_ahead()


def bring_in(over: threading.Event, pause: float = PAUSE) -> None:
    """Import all that stations need, with a pause of so many seconds before each, and have at
    hand what was learned about sheets, until it is over."""
    imports = (partial(import_module, module) for module in NEEDED)
    steps: tuple[Callable[[], object], ...] = (*imports, _know)
    for prepare in steps:
        if over.wait(pause):
            return
        prepare()


def _know() -> None:
    from rushweed.core.cut.seeing.trees import weights

    weights()
