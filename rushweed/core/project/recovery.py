"""A copy of unsaved work outside the project, to be offered after a crash.

Only its owner can read it.
"""

from __future__ import annotations

import hashlib
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.project import files
from rushweed.core.project.head import is_project
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal

MOST_OFFERED = 9
"""Copies that nobody answered of one project; of more, the oldest go."""


class Recovery:
    """The recovery copy of one project's folder, kept below a state folder; and beside it those of
    earlier sittings that were offered and not answered yet."""

    def __init__(self, state: Path, folder: Path) -> None:
        name = hashlib.sha256(str(folder.resolve()).encode("utf-8", "surrogateescape"))
        self._place = state / "recovery" / name.hexdigest()[:16]
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
        return _whole(self._place, saved)

    def offered(self, saved: Project) -> list[Offered]:
        """What of earlier sittings waits for an answer, the newest first. The copy that the last
        one left is put aside, so that nothing of this sitting is written over it."""
        if _whole(self._place, saved) is not None:
            self._put_aside()
        offered = []
        for place in sorted(self._aside(), key=_age):
            kept = _whole(place, saved)
            if kept is not None:
                offered.append(Offered(kept, place))
        return offered

    def clear(self) -> None:
        """Forget the copy: the work is saved, or was left on purpose."""
        self._kept = {}
        _remove(self._place)

    def _aside(self) -> list[Path]:
        return list(self._place.parent.glob(f"{self._place.name}-*"))

    def _put_aside(self) -> None:
        aside = self._aside()
        for old in sorted(aside, key=_age)[MOST_OFFERED - 1 :]:
            _remove(old)
        taken = {old.name for old in aside}
        names = (f"{self._place.name}-{number}" for number in range(1, MOST_OFFERED + 2))
        with suppress(OSError):
            self._place.rename(self._place.with_name(next(n for n in names if n not in taken)))
        self._kept = {}


@dataclass(frozen=True, slots=True, eq=False)
class Offered:
    """A copy of an earlier sitting that nobody answered yet."""

    project: Project
    _place: Path

    def answered(self) -> None:
        """Forget it: somebody said what is to become of it."""
        _remove(self._place)


def _whole(place: Path, saved: Project) -> Project | None:
    """The project that a copy holds, if it is whole and another one than was saved."""
    try:
        kept = files.load(place)
    except (OSError, Refusal):
        return None
    return kept if kept != saved else None


def _age(place: Path) -> float:
    """How long ago a copy was written, so that the newest come first."""
    try:
        return -place.lstat().st_mtime
    except OSError:
        return 0.0


def _remove(place: Path) -> None:
    import shutil

    shutil.rmtree(place, ignore_errors=True)
