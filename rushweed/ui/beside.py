"""Edits of large sheets, made while the window goes on."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Edit, Outcome
from rushweed.ui.canvas.sheet_images import LARGE, Images, is_large
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs

Stepwise = Callable[[Project], Iterator[Project | Outcome]]
Told = Callable[[Outcome | None], object]
"""Hears what an edit led to; None where it was refused or stopped."""
MANY = 12
"""Edits of more sheets than this are made beside the window, as are those of large ones."""


@dataclass(frozen=True, slots=True)
class _Asked:
    """An edit that is to be made, and whom to tell whether it was."""

    words: str
    edit: Stepwise
    names: tuple[str, ...]
    told: Told


class Beside:
    """Makes edits one after the other in the order in which they were asked for. What else is done
    meanwhile stays: an edit that finds another project than it began with is made anew on that."""

    def __init__(self, desk: Desk, jobs: Jobs, images: Images) -> None:
        self._desk, self._jobs, self._images = desk, jobs, images
        self._waiting: deque[_Asked] = deque()
        self._working: object | None = None

    def do(
        self,
        words: str,
        edit: Edit,
        names: Sequence[str],
        told: Told = lambda outcome: None,
        takes_long: bool = False,
    ) -> None:
        """Make an edit of the sheets of these names: at once where they are small, it does not
        take long for another reason, and nothing waits. `told` hears whether it was made."""
        self.do_stepwise(words, lambda project: iter((edit(project),)), names, told, takes_long)

    def do_stepwise(
        self,
        words: str,
        edit: Stepwise,
        names: Sequence[str],
        told: Told = lambda outcome: None,
        takes_long: bool = False,
    ) -> None:
        """The same with an edit that takes a step for about each of the names; the project of its
        last one has all of it. It can be stopped at each step."""
        if self._working is None and not takes_long and not self._is_large(names):
            told(self._desk.do(words, lambda project: deque(edit(project), maxlen=1).pop()))
            return
        self._waiting.append(_Asked(words, edit, tuple(names), told))
        self._go_on()

    def _is_large(self, names: Sequence[str]) -> bool:
        wanted = set(names)
        sizes = [sheet.size for sheet in self._desk.project.sheets if sheet.name in wanted]
        return len(sizes) > MANY or sum(size.area for size in sizes) > LARGE

    def _go_on(self) -> None:
        if self._waiting and self._working is None:
            self._begin(self._waiting.popleft())

    def _end(self, turn: object) -> None:
        """Go on with the next edit once one is made, refused or stopped."""
        if turn is self._working:
            self._working = None
            self._go_on()

    def _begin(self, asked: _Asked) -> None:
        before = self._desk.history.project

        def work() -> Iterator[tuple[float, str, Outcome]]:
            outcome = Outcome(before)
            yield 0.0, asked.words, outcome
            for step, result in enumerate(asked.edit(before), 1):
                outcome = result if isinstance(result, Outcome) else Outcome(result)
                yield step / (len(asked.names) + 1), asked.words, outcome
            for sheet in outcome.project.sheets:
                if sheet.name in asked.names and is_large(sheet):
                    self._images.make(sheet)
            yield 1.0, asked.words, outcome

        def take(outcome: Outcome) -> None:
            if self._desk.history.project is before:
                asked.told(self._desk.do(asked.words, lambda project: outcome))
            else:
                self._waiting.appendleft(asked)
            self._end(turn)

        def refuse(sentence: str) -> None:
            self._desk.refused.emit(sentence)
            asked.told(None)
            self._end(turn)

        def stopped() -> None:
            if turn is self._working:
                asked.told(None)
                self._end(turn)

        turn = self._working = object()
        self._jobs.start(work, take, refuse, ended=stopped)
