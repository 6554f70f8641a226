"""What was taken as the art says: given to pieces that nobody decided about, and kept in mind as
long as it may be meant otherwise."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.bound.ground import Wanted, decided, to_decide
from rushweed.core.bound.proposing import Proposal
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.sitting import Made, Outcome
from rushweed.core.words import say, say_of
from rushweed.ui.beside import Beside
from rushweed.ui.desk import Desk, Offer

Found = Mapping[int, Proposal]


class Proposals(QObject):
    """One for the window; `known` is what was proposed for pieces, by their numbers, `waits` says
    whether pieces are looked at just now. `found` tells that more is known."""

    found = pyqtSignal()

    def __init__(
        self,
        desk: Desk,
        beside: Beside,
        offer: Offer,
        show: Callable[[], object],
    ) -> None:
        super().__init__(desk)
        self._desk, self._beside, self._offer, self._show = desk, beside, offer, show
        self.known: dict[int, Proposal] = {}
        self.waits = False

    def doubtful(self, sheet: Sheet) -> dict[int, Piece]:
        """The pieces of a sheet that are as they were proposed, or the other way, where both may
        be meant."""
        known = self.known
        if not known:
            return {}
        return {
            piece.number: piece
            for piece in sheet.pieces
            if (one := known.get(piece.number)) is not None
            and not one.sure
            and one.turned != one
            and piece.shapes in (one.shapes, one.other)
        }

    def take_ground(self, *levels: str) -> None:
        """Take what levels are made of as the art says, as far as nobody decided about it. What
        was proposed before and let be is looked at anew, for more is painted now."""
        project = self._desk.project
        wanted: dict[str, set[int]] = {}
        for level in levels:
            for sheet, numbers in to_decide(project, project.level(level), self.known).items():
                wanted.setdefault(sheet, set()).update(numbers)
        if wanted:
            self.take(wanted, say("Took the ground as the art says"), self._tell)

    def take(
        self, wanted: Wanted, words: str, told: Callable[[Found], object] = lambda found: None
    ) -> None:
        """Take pieces, by sheet, as their art says; `told` hears what was proposed for them."""
        art, known = self._desk.art, dict(self.known)

        def steps(project: Project) -> Iterator[Outcome]:
            found: dict[int, Proposal] = {}
            for name, numbers in wanted.items():
                step = decided(project, art, {name: numbers}, known)
                project, found = step.project, {**found, **step.made}
                yield Made(project, found)

        def keep(outcome: Outcome | None) -> None:
            self.waits = False
            if isinstance(outcome, Made):
                self.known |= outcome.made
                self.found.emit()
                told(outcome.made)

        self.waits = True
        self._beside.do_stepwise(words, steps, tuple(wanted), keep, takes_long=True)

    def _tell(self, found: Found) -> None:
        if found:
            told = say_of(
                len(found),
                "1 piece that nobody had decided about was taken as its art says.",
                "{count} pieces that nobody had decided about were taken as their art says.",
            )
            self._offer(told, say("Look at them in Bound"), lambda: self._look_at(found))

    def _look_at(self, found: Found) -> None:
        """Show the first sheet with pieces that may be meant otherwise, else the first at all."""
        project = self._desk.project
        sheets = [s for s in project.sheets if any(p.number in found for p in s.pieces)]
        sheet = next(filter(self.doubtful, sheets), sheets[0]) if sheets else None
        if sheet is not None:
            numbers = frozenset(self.doubtful(sheet))
            chosen = replace(self._desk.selection, sheets=(sheet.name,), pieces=numbers)
            self._desk.select(chosen)
        self._show()
