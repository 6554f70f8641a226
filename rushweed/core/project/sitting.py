"""A sitting: the versions of a project, and the edit that is under way on top of the newest."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from rushweed.core.project.history import History
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal

Edit = Callable[[Project], Project]


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

    @property
    def changed(self) -> bool:
        """Whether it has come to anything."""
        return self.project is not self.base

    def to(self, edit: Edit) -> Transaction:
        """The transaction with this edit in place of what it did so far."""
        return replace(self, edit=edit, project=edit(self.base))

    def further(self, edit: Edit) -> Transaction:
        """The transaction with one more edit."""
        first = self.edit
        both = edit if first is None else lambda project: edit(first(project))
        return replace(self, edit=both, project=edit(self.project))

    def onto(self, base: Project) -> Transaction:
        """The same edit on another base. Raises Refusal, or LookupError when what it works on is
        gone."""
        return replace(self, base=base, project=self.edit(base) if self.edit else base)


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

    def do(self, words: str, edit: Edit) -> Sitting:
        """Make an edit and remember it. Raises what the edit raises."""
        return self._onto(self.history.do(words, edit(self.history.project)))

    def amend(self, last: History, words: str, edit: Edit) -> Sitting:
        """Make an edit as part of the step that led to `last`, if nothing was done since; else as
        a step of its own."""
        if self.history is last and last.earlier is not None:
            return self._onto(last.amend(words, edit(last.project)))
        return self.do(words, edit)

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
