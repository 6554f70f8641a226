"""A sitting: the versions of a project, and the edit that is under way on top of the newest."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Generic, TypeVar

from rushweed.core.project.history import History
from rushweed.core.project.project import Project
from rushweed.core.project.references import without_gone_animations
from rushweed.core.values import Refusal


@dataclass(frozen=True, slots=True)
class Outcome:
    """What an edit led to. One that has more to tell than the project, such as what it left alone,
    gives back a kind of this."""

    project: Project


Thing = TypeVar("Thing")


@dataclass(frozen=True, slots=True)
class Made(Outcome, Generic[Thing]):
    """What an edit led to, and what it made: a name, a number, a count."""

    made: Thing


Edit = Callable[[Project], Project | Outcome]
"""A pure function: what it is to do it knows from the beginning, and what it has to tell it gives
back. So it can be made on another project, later, and beside the window."""


def made(edit: Edit, project: Project) -> Outcome:
    """What an edit makes of a project; whatever took animations away, nothing refers to them any
    more. Raises what the edit raises."""
    result = edit(project)
    outcome = result if isinstance(result, Outcome) else Outcome(result)
    whole = without_gone_animations(project, outcome.project)
    return outcome if whole is outcome.project else replace(outcome, project=whole)


@dataclass(frozen=True, slots=True, eq=False)
class Transaction:
    """An edit that is seen while it is being made: `project` is `base` with it.

    It never holds a finished project, only what it does. So whatever else changes the base in the
    meantime is neither lost nor brought back by it.
    """

    words: str
    base: Project
    project: Project
    edit: Edit | None = None
    outcome: Outcome | None = None
    """What the edit led to last."""

    @property
    def changed(self) -> bool:
        """Whether it has come to anything."""
        return self.project is not self.base

    def to(self, edit: Edit) -> Transaction:
        """The transaction with this edit in place of what it did so far."""
        outcome = made(edit, self.base)
        return replace(self, edit=edit, project=outcome.project, outcome=outcome)

    def further(self, edit: Edit) -> Transaction:
        """The transaction with one more edit."""
        first = self.edit
        both = edit if first is None else lambda project: edit(made(first, project).project)
        outcome = made(edit, self.project)
        return replace(self, edit=both, project=outcome.project, outcome=outcome)

    def onto(self, base: Project) -> Transaction:
        """The same edit on another base. Raises Refusal, or LookupError when what it works on is
        gone."""
        if self.edit is None:
            return replace(self, base=base, project=base)
        return replace(self, base=base).to(self.edit)


@dataclass(frozen=True, slots=True, eq=False)
class Sitting:
    """The history, and at most one transaction.

    Whatever is done, undone or redone goes to the history, and the transaction is laid on top of
    what that led to; where it cannot be any more, it is dropped.
    """

    history: History
    live: Transaction | None = None

    @property
    def project(self) -> Project:
        """What is shown: the newest version with the edit under way."""
        return self.live.project if self.live else self.history.project

    def done(self, words: str, outcome: Outcome) -> Sitting:
        """Remember what an edit made of the newest version."""
        return self._onto(self.history.do(words, outcome.project))

    def amend(self, last: History, words: str, edit: Edit) -> Sitting:
        """Make an edit as part of the step that led to `last`, if nothing was done since; else as
        a step of its own."""
        outcome = made(edit, self.history.project)
        if self.history is last and last.earlier is not None:
            return self._onto(last.amend(words, outcome.project))
        return self.done(words, outcome)

    def undo(self) -> Sitting:
        """Take back what is under way, else the newest version."""
        if self.live is not None and self.live.changed:
            return self.abandoned()
        return self._onto(self.history.undo())

    def redo(self) -> Sitting:
        """Bring back the version that was undone last."""
        return self._onto(self.history.redo())

    def begun(self, words: str) -> Sitting:
        """Begin a transaction; one that was under way is abandoned."""
        project = self.history.project
        return replace(self, live=Transaction(words, project, project))

    def ended(self, words: str = "") -> Sitting:
        """Keep what is under way as one step of undo."""
        if self.live is None:
            return self
        return Sitting(self.history.do(words or self.live.words, self.live.project))

    def abandoned(self) -> Sitting:
        """Leave nothing of what is under way behind."""
        return replace(self, live=None) if self.live else self

    def _onto(self, history: History) -> Sitting:
        if self.live is None or history.project is self.live.base:
            return replace(self, history=history)
        try:
            return Sitting(history, self.live.onto(history.project))
        except (Refusal, LookupError):
            return Sitting(history)
