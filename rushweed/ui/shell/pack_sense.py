"""After something was done to one sheet, the same is offered for its kin."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from rushweed.core.project.project import Project
from rushweed.core.words import counted, say, some
from rushweed.ui.desk import Desk, Offer
from rushweed.ui.jobs import Jobs

if TYPE_CHECKING:
    from rushweed.core.gauge.pack import Same


class PackSense(QObject):
    """Looks beside the window what could be done to others too, and offers it."""

    def __init__(
        self,
        desk: Desk,
        jobs: Jobs,
        offer: Offer,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._desk, self._jobs, self._offer = desk, jobs, offer
        desk.done.connect(self._look)

    def _look(self, before: Project, after: Project) -> None:
        if before.sheets is after.sheets or len(after.sheets) < 2:
            return
        art = self._desk.art

        def work() -> Iterator[tuple[float, str, Same | None]]:
            from rushweed.core.gauge.pack import same_for_kin

            yield 1.0, "", same_for_kin(before, after, art)

        def done(same: Same | None) -> None:
            if same is not None and after is self._desk.project:
                self._tell(same)

        self._jobs.start(work, done, quiet=True)

    def _tell(self, same: Same) -> None:
        told = say(
            "{n} more like {name}: {names}.",
            n=len(same.names),
            name=same.sheet,
            names=some(same.names),
        )
        what = counted(len(same.names), "sheet", "sheets")
        words = say("Gave {what} {deed} of {name}")
        words = words.format(what=what, deed=say(same.what), name=same.sheet)
        press = say("Give them {deed}", deed=say(same.what))
        self._offer(told, press, lambda: self._desk.do(words, same.do))
