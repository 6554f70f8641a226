"""The overview of a level, and what the lens shows of it."""

from __future__ import annotations

from collections.abc import Callable

from rushweed.core.project.level import Level
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.controls import Check, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.weave.overview import Overview


class MapGroup(Group):
    """The whole level, small; and whether solid outlines are shown, and other layers faded."""

    def __init__(
        self, number: int, services: Services, canvas: Canvas, level: Callable[[], Level | None]
    ) -> None:
        super().__init__(number, say("Overview"))
        self._overview = Overview(services.desk, services.images, canvas, level)
        self.solid = Check(say("Solid outlines"), lambda on: canvas.update())
        self.fade = Check(say("Fade other layers"), lambda on: canvas.update())
        self.add(self._overview, wide=True)
        self.add(row(self.solid, None))
        self.add(row(self.fade, None))

    def refresh(self) -> None:
        """Show the level as it is."""
        self._overview.refresh()
