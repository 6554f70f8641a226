"""A copy of unsaved work outside the project, to be offered after a crash.

Only its owner can read it.
"""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal


class Recovery:
    """The recovery copy of one project's folder, kept below a state folder."""

    def __init__(self, state: Path, folder: Path) -> None:
        name = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:16]
        self._place = state / "recovery" / name
        self._inside = Inside(self._place, private=True)

    def keep(self, project: Project) -> None:
        """Write the copy; a disk that cannot take it is not in the way of the work."""
        try:
            self._place.mkdir(mode=0o700, parents=True, exist_ok=True)
            self._place.chmod(0o700)
            saving.write_all(self._inside, files.to_files(project))
        except (OSError, Refusal):
            return

    def found(self, saved: Project) -> Project | None:
        """The kept project, when there is one that differs from what was saved."""
        try:
            kept = files.load(self._place)
        except (OSError, Refusal):
            return None
        return kept if kept != saved else None

    def clear(self) -> None:
        """Forget the copy: the work is saved, or was left on purpose."""
        shutil.rmtree(self._place, ignore_errors=True)
