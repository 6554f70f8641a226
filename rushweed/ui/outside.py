"""Pictures that were saved outside, waiting to be taken in."""

from __future__ import annotations

import os
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import Stamps, saved_outside, watched
from rushweed.core.gather.kept import Kept
from rushweed.core.gather.origins import Origins
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.soon import soon

if TYPE_CHECKING:
    from rushweed.core.cut.matching import How
    from rushweed.core.cut.rereading import Reread

QUIET = 300
"""Milliseconds without a further save before files are read: programs write in several steps."""


class Watched(NamedTuple):
    """The files and folders of a project's pictures that there are, and the names of the sheets
    whose files were touched since they were last looked at."""

    there: frozenset[str]
    touched: frozenset[str]


class Look(NamedTuple):
    """What was found in the files of one sheet: a change, nothing, or a sentence of refusal."""

    sheet: str
    reread: Reread | None
    refusal: str


class Outside(QObject):
    """Watches the files of a project's pictures. `found` tells of sheets that wait anew."""

    found = pyqtSignal(list)
    failed = pyqtSignal(str)

    def __init__(self, desk: Desk, jobs: Jobs, parent: QObject) -> None:
        super().__init__(parent)
        self._desk, self._jobs = desk, jobs
        self._waiting: dict[str, Reread] = {}
        self._closed = False
        self._stamps = Stamps()
        self._watcher = QFileSystemWatcher(self)
        self._soon = soon(self, QUIET, self.look)
        self._watcher.fileChanged.connect(self.look_soon)
        self._watcher.directoryChanged.connect(self.look_soon)
        desk.changed.connect(self._follow)
        desk.moved.connect(self.look_soon)
        self._soon.start()
        if not desk.read_only:
            contents = {s.content for sheet in desk.project.sheets for s in sheet.sources}
            Kept(desk.folder).forget_others(contents)

    def waiting(self) -> list[Reread]:
        """Every change that was not taken in, in the order of the sheets."""
        return [
            self._fresh(sheet)
            for sheet in self._desk.project.sheets
            if sheet.name in self._waiting
            and self._waiting[sheet.name].saved.sources != sheet.sources
        ]

    def change(self, other: Reread) -> None:
        """Keep a change that somebody corrected."""
        self._waiting[other.saved.sheet] = other
        self.found.emit([])

    def take(self, changes: list[Reread], words: str = "") -> bool:
        """Take changes in, as one step of undo."""
        names = [change.saved.sheet for change in changes]
        what = names[0] if len(names) == 1 else counted(len(names), "picture", "pictures")

        art = self._desk.art

        def edit(project: Project) -> Project:
            from rushweed.core.cut.rereading import take_changes

            for change in changes:
                project = take_changes(project, art, change)
            return project

        words = words or say("Took in {what} as saved outside", what=what)
        taken = self._desk.do(words, edit)
        self.found.emit([])
        return taken is not None

    def look_soon(self, path: str = "") -> None:
        """Look when nothing was saved for a moment."""
        if not self._closed:
            self._soon.start()

    def close(self) -> None:
        """Stop watching: the window goes away."""
        self._closed = True
        self._soon.stop()
        known = [*self._watcher.files(), *self._watcher.directories()]
        if known:
            self._watcher.removePaths(known)
        self._watcher.blockSignals(True)

    def look(self) -> None:
        """Read the files that were touched since they were last looked at."""
        if not self._closed:
            work = partial(_watched, self._desk.project, self._desk.folder, self._stamps)
            self._jobs.start(work, self._read, quiet=True)

    def _follow(self, before: Project, after: Project) -> None:
        """Watch what was gathered since."""
        if [s.sources for s in before.sheets] != [s.sources for s in after.sheets]:
            self.look_soon()

    def _read(self, found: Watched) -> None:
        known = {*self._watcher.files(), *self._watcher.directories()}
        if found.there - known:
            self._watcher.addPaths(sorted(found.there - known))
        if known - found.there:
            self._watcher.removePaths(sorted(known - found.there))
        sheets = [sheet for sheet in self._desk.project.sheets if sheet.name in found.touched]
        if sheets:
            work = partial(_look, sheets, self._desk.art)
            self._jobs.start(work, self._take_note, quiet=True)

    def _take_note(self, looks: list[Look]) -> None:
        fresh = []
        for look in looks:
            self._waiting.pop(look.sheet, None)
            if look.reread is not None:
                self._waiting[look.sheet] = look.reread
                fresh.append(look.reread)
        refusals = [look.refusal for look in looks if look.refusal]
        if refusals:
            self.failed.emit("\n".join(refusals[:3]))
        self.found.emit(fresh)

    def _fresh(self, sheet: Sheet) -> Reread:
        """The change, matched anew when the sheet was edited since."""
        known = self._waiting[sheet.name]
        if known.sheet is not sheet:
            from rushweed.core.cut.rereading import reread

            known = self._waiting[sheet.name] = reread(sheet, self._desk.art, known.saved)
        return known


def _watched(
    project: Project, folder: Path, stamps: Stamps
) -> Iterator[tuple[float, str, Watched]]:
    """Look which files of a project's pictures there are, and which were touched."""
    files = watched(project, folder, Origins(folder).all())
    paths = {path for paths in files.values() for path in paths}
    there = frozenset(filter(os.path.exists, paths | set(map(os.path.dirname, paths))))
    touched = [name for name, paths in files.items() if sum(map(stamps.touched, paths))]
    yield 1.0, "", Watched(there, frozenset(touched))


def _look(sheets: list[Sheet], art: Art) -> Iterator[tuple[float, str, list[Look]]]:
    """Look at the files of some sheets."""
    from rushweed.core.cut.rereading import reread

    origins = Origins(art.folder).all()
    looks: list[Look] = []
    for index, sheet in enumerate(sheets):
        yield index / len(sheets), sheet.name, looks
        try:
            saved = saved_outside(sheet, art, origins)
            change = reread(sheet, art, saved) if saved is not None else None
            looks.append(Look(sheet.name, change, ""))
        except Refusal as refusal:
            looks.append(Look(sheet.name, None, str(refusal)))
    yield 1.0, "", looks


WAYS: dict[How, str] = {
    "moved": "moved",
    "changed": "changed a little",
    "recoloured": "recoloured",
    "redrawn": "redrawn in place",
    "new": "new",
    "back": "back again",
    "gone": "gone",
    "scaled": "scaled with the picture",
}


def change_words(change: Reread) -> str:
    """“12 moved, 3 new” for a change of one sheet."""
    parts = [
        f"{change.count(how)} {say(words)}" for how, words in WAYS.items() if change.count(how)
    ]
    return ", ".join(parts) or say("no piece changed")


def banner_words(changes: list[Reread]) -> str:
    """What the quiet banner says about pictures that were saved outside."""
    if len(changes) == 1:
        change = changes[0]
        return say(
            "{name} was saved outside: {what}.", name=change.saved.sheet, what=change_words(change)
        )
    names = ", ".join(change.saved.sheet for change in changes[:3])
    more = " …" if len(changes) > 3 else ""
    return say(
        "{n} pictures were saved outside: {names}{more}", n=len(changes), names=names, more=more
    )
