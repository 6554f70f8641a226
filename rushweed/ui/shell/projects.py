"""Opening, saving and leaving projects from the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject

from rushweed.core.project import files
from rushweed.core.project.head import is_project
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.recovering import RecoveryKeeper
from rushweed.ui.saving import Saving, is_much
from rushweed.ui.settings import Settings, state_folder
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.notice import Notice


class ProjectActs(QObject):
    """What the Project menu does. `open_folder` and `open_new` replace the window's project."""

    def __init__(
        self,
        desk: Desk,
        jobs: Jobs,
        settings: Settings,
        dialogs: Dialogs,
        notice: Notice,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._saving = Saving(desk, jobs, lambda: self._note(True))
        self._desk, self._settings, self._dialogs = desk, settings, dialogs
        self._notice = notice
        self.open_folder: Callable[[Path], object] | None = None
        self.open_new: Callable[[], object] | None = None
        self._saved_at: datetime | None = None
        self.recovery = RecoveryKeeper(desk, state_folder(), self)
        self._offered = self.recovery.copy.offered(desk.project)
        self._offer()

    def begin(self) -> None:
        """Leave this project for a new one."""
        if self.open_new is not None and self.may_leave():
            self.open_new()

    def ask_and_open(self) -> None:
        """Leave this project for another."""
        folder = self._dialogs.ask_project()
        if folder is not None:
            self.open(folder)

    def open(self, folder: Path) -> None:
        """Leave this project for one that is known."""
        if self.open_folder is not None and self.may_leave():
            self.open_folder(folder)

    def begin_saving(self) -> None:
        """Save, and let the window go on meanwhile where there is much to write."""
        desk = self._desk
        plain = is_project(desk.folder) and not desk.read_only and not desk.drafts
        if plain and is_much(desk.history.project):
            self._saving.begin()
        else:
            self.save()

    def save(self) -> bool:
        """Save; asks for a folder the first time. All is written when it returns."""
        self._saving.wait()
        if not is_project(self._desk.folder) or self._desk.read_only:
            return self.save_elsewhere()
        return self._note(self._desk.save())

    def save_elsewhere(self) -> bool:
        """Ask for a folder and go on there."""
        self._saving.wait()
        folder = self._dialogs.ask_save_folder(self._desk.project.name)
        if folder is None:
            return False
        if is_project(folder) and folder.resolve() != self._desk.folder.resolve():
            asked = say(
                "“{folder}” holds {what} already. It would be gone.",
                folder=folder.name,
                what=_other_project(folder),
            )
            self._notice.tell(asked, (say("Replace it"), lambda: self._save_to(folder)))
            return False
        return self._save_to(folder)

    def _save_to(self, folder: Path) -> bool:
        if self._desk.project.name == "Untitled":
            words = say("Named the project {name}", name=folder.name)
            self._desk.do(words, lambda p: replace(p, name=folder.name))
        return self._note(self._desk.save_to(folder))

    def may_leave(self) -> bool:
        """Whether the project may be left; asks about changes that are not saved."""
        if not self._desk.unsaved:
            return True
        answer = self._dialogs.ask_about_changes(self._desk.project.name)
        return answer == "discard" or (answer == "save" and self.save())

    def state(self) -> str:
        """Whether the project is saved, in words."""
        if self._desk.read_only:
            return say("read-only")
        if self._desk.unsaved:
            return say("not saved")
        if self._saved_at is not None:
            return say("saved {time}", time=f"{self._saved_at:%H:%M}")
        return say("saved")

    def _note(self, saved: bool) -> bool:
        if saved:
            self._saved_at = datetime.now()
            self._settings.remember_project(self._desk.folder)
            self._desk.saved_changed.emit()
        return saved

    def _offer(self) -> None:
        """Ask what is to become of work that an earlier sitting left; it stays until that is
        said."""
        if not self._offered:
            return
        asked = say("Rushweed ended before this project was saved. A copy of the work is here.")
        self._notice.ask(
            "recovery",
            asked,
            (say("Bring it back"), self._bring_back),
            (say("Throw the copy away"), self._throw_away),
        )

    def _bring_back(self) -> None:
        offered = self._offered.pop(0)
        kept = offered.project
        if self._desk.do(say("Brought back unsaved work"), lambda old: kept):
            self.recovery.keep()
            self.recovery.wait()
        offered.answered()
        self._offer()

    def _throw_away(self) -> None:
        self._offered.pop(0).answered()
        self._offer()


def _other_project(folder: Path) -> str:
    """The project that a folder holds already, in words."""
    try:
        project = files.load(folder)
    except Refusal:
        return say("a project that cannot be read")
    parts = {"sheets": len(project.sheets), "levels": len(project.levels)}
    return say("the project {name} ({sheets} sheets, {levels} levels)", name=project.name, **parts)
