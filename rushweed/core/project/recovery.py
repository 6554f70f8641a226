"""A copy of unsaved work outside the project, to be offered after a crash."""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

from rushweed.core.project import files, saving
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal


class Recovery:
    """The recovery copy of one project's folder, kept below a state folder."""

    def __init__(self, state: Path, folder: Path) -> None:
        name = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:16]
        self._place = state / "recovery" / name

    def keep(self, project: Project) -> None:
        """Write the copy; a disk that cannot take it is not in the way of the work."""
        try:
            self._place.mkdir(parents=True, exist_ok=True)
            saving.write_all(self._place, files.to_files(project))
        except (OSError, Refusal):
            return

    def found(self, saved: Project) -> Project | None:
        """The kept project, when there is one that differs from what was saved."""
        try:
            saving.finish(self._place)
            kept = files.load(self._place)
        except (OSError, Refusal):
            return None
        return kept if kept != saved else None

    def clear(self) -> None:
        """Forget the copy: the work is saved, or was left on purpose."""
        shutil.rmtree(self._place, ignore_errors=True)
