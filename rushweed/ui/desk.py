"""The only mutable thing: the history, the selection, the folder, and who listens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.gather.art import Art
from rushweed.core.gather.kept import Kept
from rushweed.core.gather.origins import Origins
from rushweed.core.project import files
from rushweed.core.project.history import History
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression
from rushweed.core.values import Refusal
from rushweed.ui.selection import Selection

Edit = Callable[[Project], Project]


class Desk(QObject):
    """Everything the window changes goes through here.

    `changed` carries the project before and after; listeners compare parts by identity.
    """

    changed = pyqtSignal(object, object)
    selected = pyqtSignal(object, object)
    saved_changed = pyqtSignal()
    refused = pyqtSignal(str)
    said = pyqtSignal(str)
    previewed = pyqtSignal()

    def __init__(self, folder: Path, project: Project, lock: ProjectLock | None = None) -> None:
        super().__init__()
        self.folder = folder
        self.art = Art(folder, keeps=True)
        self.history = History(project)
        self.selection = Selection().fitting(project)
        self._saved = project
        self._lock = lock
        self._drag: Drag | None = None
        self.looked_at: Compression | None = None

    @property
    def project(self) -> Project:
        return self._drag.project if self._drag else self.history.project

    @property
    def unsaved(self) -> bool:
        """Whether the project differs from what is on disk."""
        return self.history.project is not self._saved

    @property
    def read_only(self) -> bool:
        return self._lock is not None and self._lock.read_only

    def do(self, words: str, edit: Edit) -> bool:
        """Make an edit and remember it under these words. False when it was refused."""
        self.abandon_drag()
        try:
            project = edit(self.project)
        except Refusal as refusal:
            self.refused.emit(str(refusal))
            return False
        self._become(self.history.do(words, project))
        return True

    def amend(self, last: History, words: str, edit: Edit) -> History:
        """Make an edit as part of the step that led to `last`, if nothing was done since; else
        as a step of its own. Returns the version it led to."""
        self.abandon_drag()
        project = edit(self.project)
        if self.history is last and last.earlier is not None:
            self._become(last.amend(words, project))
        else:
            self._become(self.history.do(words, project))
        return self.history

    def undo(self) -> None:
        self.abandon_drag()
        self._become(self.history.undo())

    def redo(self) -> None:
        self.abandon_drag()
        self._become(self.history.redo())

    def drag(self, words: str) -> Drag:
        """Begin a change that is seen while it is being made and is one step of undo."""
        self.abandon_drag()
        self._drag = Drag(self, words)
        return self._drag

    def abandon_drag(self) -> None:
        """Leave a change that was not finished as if it had never begun."""
        if self._drag:
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
                f"“{self.folder}” may not be written. Save the project to another folder."
            )
            return False
        return self._write(self.folder)

    def save_to(self, folder: Path) -> bool:
        """Write the project, with its art, to another folder and go on there."""
        import shutil

        try:
            lock = self._move_in(folder)
            for sheet in self.project.sheets:
                for source in sheet.sources:
                    target = folder / source.path
                    target.parent.mkdir(parents=True, exist_ok=True)
                    if (self.folder / source.path).exists() and not target.exists():
                        shutil.copy2(self.folder / source.path, target)
            Kept(self.folder).copy_to(folder)
            Origins(folder).remember(Origins(self.folder).all())
        except (OSError, Refusal) as problem:
            self.refused.emit(str(problem))
            return False
        if not self._write(folder):
            lock.release()
            return False
        self.release()
        self.folder, self._lock = folder, lock
        self.art.folder = folder
        self.saved_changed.emit()
        return True

    def release(self) -> None:
        """Let other windows have the project."""
        if self._lock:
            self._lock.release()
            self._lock = None

    def _move_in(self, folder: Path) -> ProjectLock:
        folder.mkdir(parents=True, exist_ok=True)
        return ProjectLock(folder)

    def _write(self, folder: Path) -> bool:
        self.abandon_drag()
        try:
            files.save(self.history.project, folder)
        except Refusal as refusal:
            self.refused.emit(str(refusal))
            return False
        self._saved = self.history.project
        self.saved_changed.emit()
        return True

    def _become(self, history: History) -> None:
        before = self.history.project
        self.history = history
        self.announce(before)

    def announce(self, before: Project) -> None:
        """Tell everybody what changed since `before`, and keep the selection fitting."""
        if before is not self.project:
            self.select(self.selection)
            self.changed.emit(before, self.project)
            self.saved_changed.emit()


class Drag:
    """A change in the making. One of `end` and `abandon` finishes it."""

    def __init__(self, desk: Desk, words: str) -> None:
        self._desk = desk
        self._words = words
        self.before = desk.history.project
        self.project = self.before

    def to(self, edit: Edit) -> None:
        """Show the project as this edit makes it of what it was when the drag began."""
        self._show(edit(self.before))

    def further(self, edit: Edit) -> None:
        """Show the project with one more edit made."""
        self._show(edit(self.project))

    def end(self, words: str = "") -> None:
        """Keep the change as one step of undo."""
        desk, project = self._desk, self.project
        desk._drag = None
        desk.history = desk.history.do(words or self._words, project)
        desk.saved_changed.emit()

    def abandon(self) -> None:
        """Leave nothing behind."""
        shown = self.project
        self._desk._drag = None
        self._desk.announce(shown)

    def _show(self, project: Project) -> None:
        shown, self.project = self.project, project
        self._desk.announce(shown)


def open_project(folder: Path) -> tuple[Project, ProjectLock]:
    """Load a project and hold it. Raises Refusal with a sentence when it cannot be opened."""
    if not folder.exists():
        files.load(folder)
    lock = ProjectLock(folder)
    try:
        if not lock.read_only:
            from rushweed.core.project.saving import finish

            finish(folder)
        return files.load(folder), lock
    except Refusal:
        lock.release()
        raise
