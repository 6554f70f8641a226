"""Starting the window: its frame first, and all that it needs after that."""

from __future__ import annotations

import sys
from pathlib import Path

from rushweed.core.project.head import is_project
from rushweed.ui.application import has_display, make_application
from rushweed.ui.look.colours import look
from rushweed.ui.settings import Settings, state_folder
from rushweed.ui.shell.opening import Opening

NO_DISPLAY = (
    "There is no display to open a window on. Run Rushweed in a desktop session, or use a verb: "
    "rushweed --help lists them."
)


def run(folder: Path | None, settings: Settings | None = None) -> int:
    """Open the window on a project, else on the demo, and stay until it is closed. Returns the exit
    status."""
    if not has_display():
        print(NO_DISPLAY, file=sys.stderr)
        return 1
    application = make_application()
    settings = settings or Settings()
    look.theme = settings.values.theme
    opening = Opening(settings, folder)
    if folder is None or is_project(folder):
        opening.appear()

    from rushweed.core.values import Refusal
    from rushweed.demo import own_copy
    from rushweed.ui.log import keep_log
    from rushweed.ui.session import Session, settle_in, tell_faults

    keep_log(state_folder())
    session = Session(settings, opening=opening)
    settle_in(application, session)
    sys.excepthook = tell_faults(session)
    try:
        session.open_folder(folder or own_copy())
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
        return 1
    status = application.exec()
    session.end()
    return status
