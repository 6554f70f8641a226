"""A copy of unsaved work outside the project, to be offered after a crash.

Only its owner can read it.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.project import files
from rushweed.core.project.head import is_project
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal


class Recovery:
    """The recovery copy of one project's folder, kept below a state folder."""

    def __init__(self, state: Path, folder: Path) -> None:
        name = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:16]
        self._place = state / "recovery" / name
        self._inside = Inside(self._place, private=True)
        self._kept: dict[str, bytes] = {}

    def keep(self, project: Project) -> None:
        """Write what changed since the copy was written last; a disk that cannot take it is not in
        the way of the work."""
        try:
            self._place.mkdir(mode=0o700, parents=True, exist_ok=True)
            self._place.chmod(0o700)
            if not is_project(self._place):
                self._kept = {}
            whole = files.to_files(project)
            changed = {name: data for name, data in whole.items() if self._kept.get(name) != data}
            self._kept = {}
            saving.write_all(self._inside, changed)
            self._kept = whole
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
        import shutil

        self._kept = {}
        shutil.rmtree(self._place, ignore_errors=True)
