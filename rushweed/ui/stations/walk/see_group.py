"""What the stage shows beside the game's picture."""

from __future__ import annotations

from collections.abc import Callable

from rushweed.core.words import say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.shell.controls import Check, button, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.walk.stage import Stage


class SeeGroup(Group):
    """Switches what is seen. `fix` opens the shape of what stopped the walker."""

    def __init__(
        self, number: int, stage: Stage, commands: Commands, fix: Callable[[], None]
    ) -> None:
        super().__init__(number, say("See"))
        self._stage = stage
        shapes = Check(say("Shapes"), self._show_shapes)
        shapes.setChecked(True)
        body = Check(say("Walker's body"), self._show_body)
        body.setChecked(True)
        trace = Check(say("Trace of the path"), self._show_trace)
        large = Check(say("Drawn large, not on whole pixels"), self._show_large)
        tip = say("Open what stopped or carries the walker in Bound; it waits here")
        commands.bind("walk.shapes", shapes.click)
        commands.bind("walk.trace", trace.click)
        self.add(row(shapes, 24, body, None))
        for part in (trace, large, button(say("Fix its shape"), fix, tip=tip)):
            self.add(row(part, None))

    def _show_shapes(self, shown: bool) -> None:
        self._stage.marks.shapes = shown
        self._stage.update()

    def _show_body(self, shown: bool) -> None:
        self._stage.marks.body = shown
        self._stage.update()

    def _show_trace(self, shown: bool) -> None:
        self._stage.marks.trace = shown
        self._stage.update()

    def _show_large(self, shown: bool) -> None:
        self._stage.draws_large = shown
        self._stage.redraw()
