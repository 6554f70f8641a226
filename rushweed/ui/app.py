"""Starting the window: its frame first, and all that it needs after that."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication

from rushweed.core.bulk import in_bulk
from rushweed.core.folder.names import printable
from rushweed.core.project.head import is_project
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.application import has_display, make_application
from rushweed.ui.look.colours import look
from rushweed.ui.settings import Settings, state_folder
from rushweed.ui.shell.opening import Opening

if TYPE_CHECKING:
    from rushweed.ui.session import Session

LONGEST_TOLD = 4000


def run(folder: Path | None, settings: Settings | None = None) -> int:
    """Open the window on a project, else on the demo, and stay until it is closed. Returns the exit
    status."""
    if not has_display():
        told = say(
            "There is no display to open a window on. Run Rushweed in a desktop session, or use a "
            "verb: rushweed --help lists them."
        )
        print(told, file=sys.stderr)
        return 1
    with in_bulk():
        application = make_application()
        session = _opened(application, folder, settings or Settings())
    if session is None:
        return 1
    status = application.exec()
    session.end()
    return status


def _opened(application: QApplication, folder: Path | None, settings: Settings) -> Session | None:
    """A sitting with its window; None, and why on standard error, where the folder is not one to
    open."""
    look.theme = settings.values.theme
    try:
        folder = folder or _demo()
        opening = Opening(settings, folder)
        if is_project(folder):
            opening.appear()

        from rushweed.ui.log import keep_log
        from rushweed.ui.session import Session, settle_in, tell_faults

        keep_log(state_folder())
        session = Session(settings, opening=opening)
        settle_in(application, session)
        sys.excepthook = tell_faults(session)
        session.open_folder(folder)
    except Refusal as refusal:
        print(printable(str(refusal), LONGEST_TOLD), file=sys.stderr)
        return None
    return session


def _demo() -> Path:
    from rushweed.demo import own_copy

    return own_copy()
