"""Pieces that came with a picture saved outside and are drawn like some that were decided about:
they are offered all of it at once."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from PyQt6.QtCore import QObject

from rushweed.core.bound.carrying import Carried, find_block
from rushweed.core.cut.likeness import shown
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import say, say_of
from rushweed.ui.desk import Desk, Offer
from rushweed.ui.jobs import Jobs


class Resemblances(QObject):
    """Looks beside the window once a picture was taken in. `known` is what was found, by the names
    of sheets, until somebody takes it over or leaves it."""

    def __init__(
        self,
        desk: Desk,
        jobs: Jobs,
        offer: Offer,
        show: Callable[[], object],
    ) -> None:
        super().__init__(desk)
        self._desk, self._jobs, self._offer, self._show = desk, jobs, offer, show
        self.known: dict[str, list[Carried]] = {}
        desk.done.connect(self._look)

    def of(self, sheet: Sheet) -> list[Carried]:
        """What was found for a sheet, as far as its pieces are still undecided."""
        open_ = {piece.number for piece in sheet.pieces if piece.shapes is None}
        return [one for one in self.known.get(sheet.name, ()) if one.to in open_]

    def leave(self, name: str) -> None:
        """Offer no more of what was found for a sheet."""
        self.known.pop(name, None)

    def _look(self, before: Project, after: Project) -> None:
        old = {sheet.name: sheet for sheet in before.sheets}
        for sheet in after.sheets:
            was = old.get(sheet.name)
            if was is not None and was.pieces and was.sources != sheet.sources:
                new = {piece.number for piece in sheet.pieces} - {p.number for p in was.pieces}
                if new:
                    self._look_through(sheet, new)

    def _look_through(self, sheet: Sheet, new: set[int]) -> None:
        art = self._desk.art

        def work() -> Iterator[tuple[float, str, list[Carried]]]:
            yield 1.0, "", find_block(shown(art.picture(sheet)), sheet, new)

        def done(found: list[Carried]) -> None:
            if found and any(one is sheet for one in self._desk.project.sheets):
                self.known[sheet.name] = found
                self._tell(sheet, found)

        self._jobs.start(work, done, quiet=True)

    def _tell(self, sheet: Sheet, found: list[Carried]) -> None:
        told = say_of(
            len(found),
            "1 new piece of {name} is drawn like one that was decided about.",
            "{count} new pieces of {name} are drawn like some that were decided about.",
            name=sheet.name,
        )

        def show() -> None:
            chosen = frozenset(one.to for one in found)
            self._desk.select(replace(self._desk.selection, sheets=(sheet.name,), pieces=chosen))
            self._show()

        self._offer(told, say("Show them beside each other"), show)
