"""A project whose files somebody else changed under the open window: told, and taken in."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import QFileSystemWatcher, QObject

from rushweed.core.folder.inside import Inside
from rushweed.core.project import files
from rushweed.core.project.head import HEAD
from rushweed.core.project.known import Known
from rushweed.core.project.project import Project
from rushweed.core.project.three_way import Versions
from rushweed.core.words import say, some
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.outside import QUIET
from rushweed.ui.shell.notice import Act, Notice
from rushweed.ui.soon import soon

Theirs = tuple[Known, Project, Known] | None
"""What was known when files were looked at, and the project that lies there with what they hold;
None where nothing changed."""

ABOUT = "theirs"


class TheirChanges(QObject):
    """Watches the project's own files, and asks which is to count: theirs, mine, or both."""

    def __init__(self, desk: Desk, jobs: Jobs, notice: Notice, parent: QObject) -> None:
        super().__init__(parent)
        self._desk, self._jobs, self._notice = desk, jobs, notice
        self._closed = False
        self._watcher = QFileSystemWatcher(self)
        self._soon = soon(self, QUIET, self.look)
        self._watcher.directoryChanged.connect(self.look_soon)
        self._watcher.fileChanged.connect(self.look_soon)
        desk.moved.connect(self._watch)
        desk.elsewhere.connect(self.look)
        self._watch()

    def look_soon(self, path: str = "") -> None:
        """Look when nothing was written for a moment: a pull writes many files."""
        if not self._closed:
            self._soon.start()

    def look(self) -> None:
        """Compare the files with what they were; beside the window."""
        desk = self._desk
        if self._closed or not desk.known.digests:
            return
        folder, known = desk.folder, desk.known

        def work() -> Iterator[tuple[float, str, Theirs]]:
            theirs: Theirs = None
            if known.changed(Inside(folder)):
                theirs = known, *files.load_known(folder)
            yield 1.0, "", theirs

        self._jobs.start(work, self._found, self._failed, quiet=True)

    def close(self) -> None:
        """Stop watching: the window goes away."""
        self._closed = True
        self._soon.stop()
        self._watcher.blockSignals(True)

    def _watch(self) -> None:
        folder = self._desk.folder
        old = [*self._watcher.directories(), *self._watcher.files()]
        if old:
            self._watcher.removePaths(old)
        places = (folder, folder / "sheets", folder / "levels", folder / HEAD)
        there = [str(place) for place in places if place.exists()]
        if there:
            self._watcher.addPaths(there)

    def _found(self, theirs: Theirs) -> None:
        self._watch()
        if theirs is None:
            return
        known, project, held = theirs
        if known is not self._desk.known:  # it was saved from here meanwhile
            self.look_soon()
            return
        versions = self._desk.versions(project)
        if not versions.is_news:
            self._desk.note_saved(project, held)
            return

        def work() -> Iterator[tuple[float, str, list[str]]]:
            yield 0.0, "", []
            yield 1.0, "", versions.merged.made

        if self._desk.unsaved:
            self._jobs.start(work, partial(self._ask, versions, held), self._failed, quiet=True)
        else:
            self._ask(versions, held, [])

    def _failed(self, sentence: str) -> None:
        """What lies there cannot be read: it is told, and nothing is saved over it."""
        self._notice.tell(
            say("The project was changed outside, and cannot be read: {why}", why=sentence)
        )

    def _ask(self, versions: Versions, held: Known, meeting: list[str]) -> None:
        """Mine is kept by knowing theirs: the next save writes over it."""
        theirs, changed = versions.theirs, self._desk.unsaved
        asked = say("{what}: changed outside, by somebody else.", what=some(versions.told))
        words = say("Take it in"), say("Keep mine")
        if changed:
            told = say("{what}: changed outside, and there are changes here.")
            asked, words = told.format(what=some(versions.told)), (say("Theirs"), say("Mine"))
        if meeting:
            asked += " " + say("Both changed {what}.", what=some(meeting))
        acts: list[Act] = [
            (words[0], partial(self._take, theirs, held)),
            (words[1], partial(self._desk.note_saved, theirs, held)),
        ]
        if changed and not meeting:
            acts.insert(0, (say("Both"), partial(self._merge, versions, held)))
        self._notice.ask(ABOUT, asked, *acts)

    def _take(self, theirs: Project, held: Known) -> None:
        """Go on with what lies there; undo brings back what was here."""
        self._desk.do(say("Took in what was changed outside"), lambda project: theirs)
        self._desk.note_saved(theirs, held)

    def _merge(self, versions: Versions, held: Known) -> None:
        """Take in what was merged beside the window, or merge what is here by now."""
        words = say("Took in what was changed outside")
        now = self._desk.versions(versions.theirs)
        merged = (versions if now.mine is versions.mine else now).merged
        if self._desk.do(words, lambda project: merged.project) is not None:
            self._desk.note_saved(versions.theirs, held)
