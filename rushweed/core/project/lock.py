"""One window writes a project at a time."""

from __future__ import annotations

from pathlib import Path

from rushweed.core.project.saving import HIDDEN
from rushweed.core.values import Refusal


class ProjectLock:
    """Held while a window has the project open. Raises Refusal when another one holds it."""

    def __init__(self, folder: Path) -> None:
        from filelock import FileLock, Timeout

        self.read_only = False
        try:
            (folder / HIDDEN).mkdir(exist_ok=True)
            ignore = folder / HIDDEN / ".gitignore"
            if not ignore.exists():
                ignore.write_text("*\n")
        except OSError:
            self.read_only = True
        self._lock = FileLock(folder / HIDDEN / "lock")
        if self.read_only:
            return
        try:
            self._lock.acquire(timeout=0)
        except Timeout as problem:
            raise Refusal(
                f"“{folder.name}” is open in another window. Close it there first."
            ) from problem
        except OSError:
            self.read_only = True

    def release(self) -> None:
        """Let others open the project; safe to call twice."""
        if not self.read_only:
            self._lock.release()
