"""A sitting: one window, on one project after the other."""

from __future__ import annotations

import traceback
from collections.abc import Callable, Iterator
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication

from rushweed.core.project.files import load_what_is_whole
from rushweed.core.project.head import is_large, is_project
from rushweed.core.project.known import Known
from rushweed.core.project.lock import OpenElsewhere, ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.ahead import Ahead
from rushweed.ui.desk import Desk, Opened, open_project
from rushweed.ui.garbage import Garbage
from rushweed.ui.log import log_file, logger
from rushweed.ui.look.colours import look
from rushweed.ui.settings import Settings, state_folder
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.folds import folds
from rushweed.ui.shell.opening import Opening, first_size
from rushweed.ui.shell.window import Window
from rushweed.ui.stations import make_station

MOST_TOLD = 4
"""Sentences about what was left out that are shown at once."""


class Session:
    """Keeps one window open, on one project after the other."""

    def __init__(
        self,
        settings: Settings | None = None,
        dialogs: Dialogs | None = None,
        opening: Opening | None = None,
    ) -> None:
        self.settings = settings or Settings()
        self._opening = opening
        self._dialogs = dialogs
        look.theme = self.settings.values.theme
        folds.begin(self.settings.values.folds, lambda names: self.settings.remember(folds=names))
        self.window: Window | None = None
        self.replaced: Callable[[], object] = lambda: None
        """Hears that another window took the place of one."""

    def open_folder(self, folder: Path) -> Window:
        """Open a project's folder. Raises Refusal, or tells the open window, when it cannot be."""
        try:
            opened = open_project(folder)
        except Refusal as refusal:
            if self.window is not None or is_project(folder):
                return self.refused(folder, refusal)
            raise
        self.settings.remember_project(folder)
        return self._show(folder, *opened)

    def open_beside(self, folder: Path) -> None:
        """The same while the window that is there goes on, where there is much to read; what is
        done in it meanwhile is asked about again."""
        window = self.window
        if window is None or not is_large(folder):
            self.open_folder(folder)
            return
        held: list[ProjectLock] = []

        def done_there() -> tuple[Project, dict[str, str]]:
            return window.desk.history.project, dict(window.desk.drafts)

        left = done_there()

        def work() -> Iterator[tuple[float, str, Opened | None]]:
            words = say("Opening {name} …", name=folder.name)
            yield 0.0, words, None
            opened = open_project(folder)
            held.append(opened.lock)
            yield 1.0, words, opened

        def done(opened: Opened) -> None:
            if done_there() == left or window.projects.may_leave():
                held.clear()
                self.settings.remember_project(folder)
                self._show(folder, *opened)

        def ended() -> None:
            for lock in held:
                lock.release()

        refused = lambda sentence: self.refused(folder, Refusal(sentence))  # noqa: E731
        window.jobs.start(work, done, refused, ended=ended)

    def open_whole(self, folder: Path) -> Window:
        """Open what is whole of a project that is partly broken, and say what was left out. It is
        not saved over the rest."""
        try:
            project, left_out = load_what_is_whole(folder)
        except Refusal as refusal:
            return self.refused(folder, refusal)
        window = self._show(folder, project)
        window.desk.partial = True
        window.frame.notice.tell(
            "\n".join([*left_out[:MOST_TOLD], say("Saving asks for another folder.")])
        )
        return window

    def refused(self, folder: Path, refusal: Refusal) -> Window:
        """Tell why a project cannot be opened, in a window that has another one, or none yet."""
        window = self.window or self.open_new()
        acts = []
        if is_project(folder) and not isinstance(refusal, OpenElsewhere):
            acts = [(say("Open what is whole"), lambda: self.open_whole(folder))]
        window.frame.notice.tell(str(refusal), *acts)
        return window

    def open_new(self) -> Window:
        """Begin an untitled project; its art waits in a folder of its own until it is saved."""
        import tempfile

        folder = Path(tempfile.mkdtemp(prefix="untitled-", dir=_drafts()))
        return self._show(folder, Project())

    def end(self) -> None:
        """Take the window apart while the application is still there."""
        if self.window is not None:
            self.window.deleteLater()
            self.window = None
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def _show(
        self,
        folder: Path,
        project: Project,
        lock: ProjectLock | None = None,
        known: Known | None = None,
    ) -> Window:
        old = self.window
        desk = Desk(folder, project, lock, known)
        self.window = Window(desk, self.settings, make_station, self._dialogs)
        self.window.projects.open_folder = self.open_beside
        self.window.projects.open_new = self.open_new
        if old is not None:
            self.window.setGeometry(old.geometry())
        else:
            self.window.resize(first_size())
            self.window.restore_place()
        if self._opening is not None:
            self._opening.give_way(self.window)
            self._opening = None
        self.window.show()
        if old is not None:
            old.let_go()
            old.hide()
            old.destroyed.connect(self.replaced)  # and not before: what it does may be under way
            old.deleteLater()
        return self.window


def settle_in(application: QApplication, session: Session) -> None:
    """Have nobody wait for what can be done beside: looking for garbage, and making what stations
    need."""

    def busy() -> bool:
        return session.window is not None and bool(session.window.jobs.running)

    session.replaced = Garbage(application, busy).look_soon
    Ahead(application, lambda: session.window)


def tell_faults(
    session: Session,
) -> Callable[[type[BaseException], BaseException, TracebackType | None], None]:
    """A fault in a slot must not end the sitting: tell it, keep the project."""

    def tell(kind: type[BaseException], fault: BaseException, where: TracebackType | None) -> None:
        logger.error("a fault in the window", exc_info=(kind, fault, where))
        traceback.print_exception(kind, fault, where)
        if session.window is not None:
            session.window.desk.abandon_drag()
            session.window.frame.notice.tell(
                say(
                    "Something went wrong inside Rushweed ({fault}). Your project is as it was; "
                    "save it, then go on. What happened is written down in {file}.",
                    fault=fault,
                    file=log_file(state_folder()),
                )
            )

    return tell


def _drafts() -> Path:
    folder = state_folder() / "drafts"
    folder.mkdir(parents=True, exist_ok=True)
    return folder
