"""One window writes a project at a time."""

from __future__ import annotations

from pathlib import Path

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.locks import Held, Lock
from rushweed.core.folder.saving import HIDDEN, hidden_folder
from rushweed.core.values import Refusal

LOCK = f"{HIDDEN}/lock"


class OpenElsewhere(Refusal):
    """The project is whole, but another window holds it."""


class ProjectLock:
    """Held while a window has the project open, or a verb changes it. Raises Refusal when another
    one holds it, or when the hidden folder leads elsewhere."""

    def __init__(self, folder: Path) -> None:
        inside = Inside(folder)
        self.read_only = False
        self._lock = Lock(inside, LOCK)
        try:
            hidden_folder(inside)
            self._lock.acquire()
        except Held as problem:
            raise OpenElsewhere(
                "“{name}” is open in another window. Close it there first.", name=folder.name
            ) from problem
        except OSError:
            self.read_only = True

    def release(self) -> None:
        """Let others open the project; safe to call twice."""
        self._lock.release()
