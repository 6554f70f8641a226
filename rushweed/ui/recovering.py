"""Keeping a recovery copy while there are changes, in the background."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PyQt6.QtCore import QObject

from rushweed.core.project.recovery import Recovery
from rushweed.ui.desk import Desk
from rushweed.ui.soon import soon

QUIET = 3000
"""Milliseconds of quiet after a change before the copy is written."""
LATEST = 4000
"""Milliseconds after the first change that is not in a copy in which it is written all the same."""


class RecoveryKeeper(QObject):
    """Writes the copy after changes, and forgets it once all is saved."""

    def __init__(self, desk: Desk, state: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._desk, self._state = desk, state
        self._of, self._copy = desk.folder, Recovery(state, desk.folder)
        self._writer = ThreadPoolExecutor(1, "recovery")
        self._soon = soon(self, QUIET, self.keep)
        self._latest = soon(self, LATEST, self.keep)
        desk.saved_changed.connect(self._change)

    @property
    def copy(self) -> Recovery:
        """The copy of the folder that the project is in now."""
        if self._of != self._desk.folder:
            self._of, self._copy = self._desk.folder, Recovery(self._state, self._desk.folder)
        return self._copy

    def keep(self) -> None:
        """Write the copy now."""
        self._soon.stop()
        self._latest.stop()
        if self._desk.unsaved:
            self._writer.submit(self.copy.keep, self._desk.history.project)

    def wait(self) -> None:
        """Wait until what is to be written is."""
        self._writer.submit(lambda: None).result()

    def close(self) -> None:
        """Forget the copy: the project was saved, or its changes were left on purpose."""
        self._soon.stop()
        self._latest.stop()
        self._writer.shutdown(wait=True, cancel_futures=True)
        self.copy.clear()

    def _change(self) -> None:
        if self._desk.unsaved:
            self._soon.start()
            if not self._latest.isActive():
                self._latest.start()
        else:
            self._soon.stop()
            self._latest.stop()
            self._writer.submit(self.copy.clear)
