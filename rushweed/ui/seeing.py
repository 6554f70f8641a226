"""What is seen in sheets, found while the window goes on."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from contextlib import suppress
from functools import partial
from time import monotonic

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.cut.gathering import see, seen_before, sight_key
from rushweed.core.cut.inspect import Seen
from rushweed.core.cut.seeing.packs import Pack, pack_of, seen_in_pack
from rushweed.core.gather.art import Art
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.ui.jobs import Jobs

RESTED = 2.0
"""Seconds after which a picture is looked at once more that could not be read."""


class Sight(QObject):
    """Looks at sheets, one after the other; `arrived` tells now and then that more is known."""

    arrived = pyqtSignal()

    def __init__(self, art: Art, jobs: Jobs) -> None:
        super().__init__(jobs)
        self._art, self._jobs = art, jobs
        self._wanted: deque[Sheet] = deque()
        self._asked: set[object] = set()
        self._refused: dict[object, tuple[Refusal, float]] = {}
        self._looking = False
        self._ahead: object = None
        self._arrivals = 0
        self._told: dict[str, tuple[Sheet, Seen, Seen]] = {}
        self._pack: tuple[tuple[Sheet, ...], int, Pack] | None = None

    def seen(self, sheet: Sheet) -> Seen | None:
        """What is seen in a sheet, or None as long as it was not looked at, which is done soon.
        Raises Refusal where its picture cannot be read."""
        known = seen_before(self._art, sheet)
        if known is not None:
            return known
        key = sight_key(self._art, sheet)
        refusal, when = self._refused.get(key, (None, 0.0))
        if refusal is not None and monotonic() - when < RESTED:
            raise refusal
        if key not in self._asked:
            self._asked.add(key)
            self._wanted.append(sheet)
        if not self._looking:
            self._looking = True
            self._jobs.start(
                self._look,
                lambda _: None,
                arrived=lambda _: self.arrived.emit(),
                quiet=True,
                ended=self._end,
            )
        return None

    def in_pack(self, project: Project, sheet: Sheet) -> Seen | None:
        """The same, next to what is known of the project's other sheets."""
        seen, pack = self.seen(sheet), self._pack_of(project)
        if seen is None:
            return None
        known = self._told.get(sheet.name)
        if known is None or known[0] is not sheet or known[1] is not seen:
            known = self._told[sheet.name] = sheet, seen, seen_in_pack(seen, sheet, pack)
        return known[2]

    def _pack_of(self, project: Project) -> Pack:
        """What sheets speak for, as long as no sheet is another and nothing more was seen."""
        told = project.sheets, self._arrivals
        if self._pack is None or self._pack[0] is not told[0] or self._pack[1] != told[1]:
            pack = pack_of(project.sheets, partial(seen_before, self._art))
            if self._pack is None or self._pack[2] != pack:
                self._told.clear()
            self._pack = (*told, pack)
        return self._pack[2]

    def look_ahead(self, sheet: Sheet) -> None:
        """Look at a sheet that somebody may want to see something of, once, and tell nobody."""
        key = sight_key(self._art, sheet)
        if key != self._ahead and key not in self._asked:
            self._ahead = key

            def work() -> Iterator[tuple[float, str, None]]:
                with suppress(Refusal):
                    see(self._art, sheet)
                yield 1.0, "", None

            self._jobs.start(work, lambda _: None, quiet=True, gives_way=True)

    def _look(self) -> Iterator[tuple[float, str, None]]:
        while self._wanted:
            sheet = self._wanted.popleft()
            key = sight_key(self._art, sheet)
            try:
                see(self._art, sheet)
                self._refused.pop(key, None)
            except Refusal as refusal:
                self._refused[key] = (refusal, monotonic())
            self._asked.discard(key)
            self._arrivals += 1
            yield 0.0, "", None

    def _end(self) -> None:
        self._looking = False
        self.arrived.emit()
