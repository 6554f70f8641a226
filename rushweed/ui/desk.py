"""The only mutable thing: the history, the selection, the folder, and who listens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.saving import explain
from rushweed.core.gather.archive import Archive
from rushweed.core.gather.art import Art
from rushweed.core.gather.kept import Kept
from rushweed.core.gather.origins import Origins
from rushweed.core.project import files
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.head import is_project
from rushweed.core.project.history import History
from rushweed.core.project.known import Changed, Known
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression
from rushweed.core.project.sitting import Edit, Made, Outcome, Sitting, Transaction, made
from rushweed.core.project.three_way import Versions
from rushweed.core.values import Refusal
from rushweed.core.words import say, some
from rushweed.ui.selection import Selection

Thing = TypeVar("Thing")
Offer = Callable[[str, str, Callable[[], object]], None]
"""Says something, and puts a button with these words beside it that does so."""


class Desk(QObject):
    """Everything the window changes goes through here.

    `changed` carries the project before and after, and whether the edit that is under way made the
    change; listeners compare parts by identity. When that edit is kept, all of it is told once
    more, as a whole. `done` carries the same of what somebody did, and not of what was undone.
    `moved` tells that the project lives in another folder, `elsewhere` that it could not be saved
    for somebody else changed it there.
    """

    changed = pyqtSignal(object, object, bool)
    done = pyqtSignal(object, object)
    selected = pyqtSignal(object, object)
    saved_changed = pyqtSignal()
    moved = pyqtSignal()
    elsewhere = pyqtSignal()
    refused = pyqtSignal(str)
    said = pyqtSignal(str)
    previewed = pyqtSignal()

    def __init__(
        self,
        folder: Path,
        project: Project,
        lock: ProjectLock | None = None,
        known: Known | None = None,
    ) -> None:
        """`known` tells what the project's files held when it was read; None for a new one."""
        super().__init__()
        self.folder = folder
        self.art = Art(folder, keeps=True, archive=Archive.of_user())
        self._sitting = Sitting(History(project))
        self.selection = Selection().fitting(project)
        self._saved = project
        self.known = known or Known()
        self._lock = lock
        self.partial = False
        """Whether parts of what the folder holds were left out, and must not be saved over."""
        self._drag: Drag | None = None
        self.looked_at: Compression | None = None
        self.drafts: dict[str, str] = {}
        """Text files of the project that were edited and not written yet, by their paths in it."""

    @property
    def project(self) -> Project:
        return self._sitting.project

    @property
    def history(self) -> History:
        return self._sitting.history

    @property
    def busy(self) -> bool:
        """Whether an edit is under way."""
        return self._sitting.live is not None

    @property
    def can_undo(self) -> bool:
        """Whether there is anything to take back, be it under way or done."""
        live = self._sitting.live
        return self.history.earlier is not None or (live is not None and live.changed)

    @property
    def saved(self) -> Project:
        """The version that the folder holds."""
        return self._saved

    @property
    def unsaved(self) -> bool:
        """Whether the project differs from what is on disk."""
        return self.history.project is not self._saved or bool(self.drafts)

    @property
    def read_only(self) -> bool:
        return self.partial or (self._lock is not None and self._lock.read_only)

    def do(self, words: str, edit: Edit) -> Outcome | None:
        """Make an edit and remember it under these words. Gives back what it led to; None, once
        that is told, when it was refused. An edit that changes nothing is told, too."""
        try:
            outcome = made(edit, self.history.project)
        except Refusal as refusal:
            self.refused.emit(str(refusal))
            return None
        before = self.project
        self._become(self._sitting.done(words, outcome))
        if before is not self.project:
            self.done.emit(before, self.project)
        elif type(outcome) is Outcome:  # others tell what they left alone, or made
            self.said.emit(say("Nothing changed: it is so already."))
        return outcome

    def make(self, words: str, edit: Callable[[Project], tuple[Project, Thing]]) -> Thing | None:
        """The same with an edit that makes something, such as a level, and tells it beside the
        project. Gives back what was made; None when it was refused."""
        outcome = self.do(words, lambda project: Made(*edit(project)))
        return outcome.made if isinstance(outcome, Made) else None

    def amend(self, last: History, words: str, edit: Edit) -> History:
        """Make an edit as part of the step that led to `last`, if nothing was done since; else
        as a step of its own. Returns the version it led to."""
        try:
            self._become(self._sitting.amend(last, words, edit))
        except Refusal as refusal:
            self.refused.emit(str(refusal))
        return self.history

    def undo(self) -> None:
        self._become(self._sitting.undo())

    def redo(self) -> None:
        self._become(self._sitting.redo())

    def drag(self, words: str) -> Drag:
        """Begin a change that is seen while it is being made and is one step of undo. Without
        words it is only tried, and never kept."""
        self._become(self._sitting.abandoned())
        self._sitting = self._sitting.begun(words)
        self._drag = Drag(self)
        return self._drag

    def keep_drag(self) -> None:
        """End what is under way where it is, for something else begins."""
        if self._drag is not None and self._drag.words:
            self._drag.end()
        self.abandon_drag()

    def abandon_drag(self) -> None:
        """Leave what is under way as if it had never begun."""
        if self._drag is not None:
            self._drag.abandon()

    def select(self, selection: Selection) -> None:
        """Select something else; parts that do not exist are left out."""
        before, after = self.selection, selection.fitting(self.project)
        if after != before:
            self.selection = after
            self.selected.emit(before, after)

    def preview(self, compression: Compression | None) -> None:
        """Let everybody show the selection as this choice would make it; None ends that."""
        if compression != self.looked_at:
            self.looked_at = compression
            self.previewed.emit()

    def save(self) -> bool:
        """Write the project to its folder. False, with a sentence told, when that fails."""
        if self.read_only:
            self.refused.emit(
                say(
                    "“{folder}” may not be written. Save the project to another folder.",
                    folder=self.folder,
                )
            )
            return False
        return self._write(self.folder)

    def save_to(self, folder: Path) -> bool:
        """Write the project, with its art, to another folder and go on there. What lies there of
        another project goes, for somebody said so."""
        try:
            there = Inside(folder)
            art = self._art_for(there)
            lock = self._move_in(folder)
        except (OSError, Refusal) as problem:
            self.refused.emit(str(problem))
            return False
        before, self.known = self.known, Known.listed(there)
        try:
            for path, data in art.items():
                there.write(path, data)
            Kept(self.folder).copy_to(folder)
            Origins(folder).remember(Origins(self.folder).all())
            written = self._write(folder)
        except (OSError, Refusal) as problem:
            self.refused.emit(str(problem))
            written = False
        if not written:
            self.known = before
            lock.release()
            return False
        self.release()
        self.folder, self._lock, self.partial = folder, lock, False
        self.art.folder = folder
        self.moved.emit()
        self.saved_changed.emit()
        return True

    def _art_for(self, there: Inside) -> dict[str, bytes]:
        """The pictures and templates that another folder lacks, by their paths. Raises Refusal
        where one is gone."""
        here = Inside(self.folder)
        pictures = [source.path for sheet in self.project.sheets for source in sheet.sources]
        gone = [path for path in dict.fromkeys(pictures) if not here.holds(path)]
        if gone:
            raise Refusal(
                "{names} cannot be copied, for it is not in “{folder}” any more. Bring it back, "
                "then save elsewhere.",
                names=some(gone),
                folder=self.folder,
            )
        found = {}
        for path in dict.fromkeys((*pictures, *here.names(TEMPLATES))):
            data = here.read(path)
            if there.find(path) != data:
                found[path] = data
        return found

    def release(self) -> None:
        """Let other windows have the project."""
        if self.art.archive is not None:
            self.art.archive.close()
        if self._lock:
            self._lock.release()
            self._lock = None

    def _move_in(self, folder: Path) -> ProjectLock:
        folder.mkdir(parents=True, exist_ok=True)
        return ProjectLock(folder)

    def _write(self, folder: Path) -> bool:
        try:
            self.known = files.save(self.history.project, folder, self.known)
            for path in list(self.drafts):
                self.write_draft(path, folder)
        except Refusal as refusal:
            self.refused.emit(str(refusal))
            if isinstance(refusal, Changed):
                self.elsewhere.emit()
            return False
        self.note_saved(self.history.project)
        return True

    def note_saved(self, project: Project, known: Known | None = None) -> None:
        """The folder holds this version of the project now, in files that are known."""
        self._saved, self.known = project, known or self.known
        self.saved_changed.emit()

    def versions(self, theirs: Project) -> Versions:
        """What is here beside what lies in the folder now."""
        return Versions(self._saved, self.history.project, theirs)

    def write_draft(self, path: str, folder: Path | None = None) -> None:
        """Write one edited text file. Raises Refusal, and keeps the draft, when that fails."""
        inside = Inside(folder or self.folder)
        try:
            inside.write(path, self.drafts[path].encode())
        except OSError as problem:
            raise Refusal(explain(problem, inside.folder / path)) from problem
        del self.drafts[path]
        self.saved_changed.emit()

    def _become(self, sitting: Sitting, live: bool = False, before: Project | None = None) -> None:
        """Go on with another sitting, and tell everybody what changed in what is shown; the
        selection is kept fitting."""
        before = before or self.project
        self._sitting = sitting
        if sitting.live is None:
            self._drag = None
        if before is not self.project:
            self.select(self.selection)
            self.changed.emit(before, self.project, live)
        if before is not self.project or not live:
            self.saved_changed.emit()


class Drag:
    """The hold on a change in the making. Once it was ended, abandoned or overtaken by another
    one, it does nothing any more."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._left = Transaction("", desk.project, desk.project)

    @property
    def changed(self) -> bool:
        """Whether anything has come of it."""
        return self._live.changed

    @property
    def words(self) -> str:
        return self._live.words

    @property
    def outcome(self) -> Outcome | None:
        """What the edit led to last; None before there is any."""
        return self._live.outcome

    @property
    def _live(self) -> Transaction:
        sitting = self._desk._sitting
        return sitting.live if self._holds and sitting.live else self._left

    @property
    def _holds(self) -> bool:
        return self._desk._drag is self

    def to(self, edit: Edit) -> None:
        """Show the project as this edit makes it of what it is without the change."""
        self._try(lambda live: live.to(edit))

    def further(self, edit: Edit) -> None:
        """Show the project with one more edit made."""
        self._try(lambda live: live.further(edit))

    def end(self, words: str = "") -> None:
        """Keep the change as one step of undo."""
        if self._holds:
            desk, base = self._desk, self._live.base
            desk._become(desk._sitting.ended(words), before=base)
            if base is not desk.project:
                desk.done.emit(base, desk.project)

    def abandon(self) -> None:
        """Leave nothing behind."""
        if self._holds:
            self._desk._become(self._desk._sitting.abandoned())

    def _try(self, change: Callable[[Transaction], Transaction]) -> None:
        """Show the change as it would be; what is refused is told, and leaves it as it was."""
        if not self._holds:
            return
        try:
            live = change(self._live)
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        self._desk._become(Sitting(self._desk.history, live), live=True)


class Opened(NamedTuple):
    """A project that was read, who holds it, and what its files held."""

    project: Project
    lock: ProjectLock
    known: Known


def open_project(folder: Path) -> Opened:
    """Load a project and hold it. Raises Refusal with a sentence when it cannot be opened."""
    if not is_project(folder):
        files.load(folder)
    lock = ProjectLock(folder)
    try:
        project, known = files.load_known(folder)
    except Refusal:
        lock.release()
        raise
    return Opened(project, lock, known)
