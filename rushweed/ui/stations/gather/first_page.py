"""What an empty project shows: how to begin, what was open lately, and the demo."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from rushweed.core.project.head import is_project
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.common.invitation import Invitation

MOST_RECENT = 3


def first_page(services: Services, gather: Callable[[], object]) -> Invitation:
    """The page; `gather` asks for pictures."""
    return Invitation(
        say("Drop pictures here, or open them."),
        say(
            "The first evening: drop a pack, take all as seen, paint a room in Weave, walk in it, "
            "and write the bundle."
        ),
        (say("Open pictures"), gather),
        (say("Open a project …"), partial(services.commands.run, "project.open")),
        *(
            (say("Open {name} again", name=folder.name), partial(services.open_project, folder))
            for folder in _recent(services)
        ),
        (say("Look around in the demo"), partial(_open_demo, services)),
    )


def _recent(services: Services) -> list[Path]:
    """The projects that were open lately and are still there, the last one first."""
    here = services.desk.folder
    folders = [Path(path) for path in services.settings.values.recent]
    return [one for one in folders if one != here and is_project(one)][:MOST_RECENT]


def _open_demo(services: Services) -> None:
    from rushweed.demo import own_copy

    try:
        services.open_project(own_copy())
    except Refusal as refusal:
        services.desk.refused.emit(str(refusal))
