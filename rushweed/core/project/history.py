"""Undo and redo: versions of the project with the words for what led to each."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.project.project import Project


@dataclass(frozen=True, slots=True, eq=False)
class History:
    """One version of the project and how it came about.

    Versions form a chain through `earlier`; what was undone waits in `later`, nearest last.
    """

    project: Project
    words: str = ""
    earlier: History | None = None
    later: tuple[History, ...] = ()

    def do(self, words: str, project: Project) -> History:
        """A newer version; the same history when nothing changed. Forgets what was undone."""
        if project is self.project:
            return self
        return History(project, words, self._without_later())

    def amend(self, words: str, project: Project) -> History:
        """This version made anew, in the same step of undo; the same when nothing changed."""
        if project is self.project:
            return self
        before = self.earlier or self
        return History(project, words, before)

    def undo(self) -> History:
        """The version before; the same history at the beginning."""
        if self.earlier is None:
            return self
        before = self.earlier
        later = (*self.later, self._without_later())
        return History(before.project, before.words, before.earlier, later)

    def redo(self) -> History:
        """The version that was undone last; the same history when there is none."""
        if not self.later:
            return self
        after = self.later[-1]
        return History(after.project, after.words, after.earlier, self.later[:-1])

    @property
    def redo_words(self) -> str:
        """What redo would do again; empty when there is nothing."""
        return self.later[-1].words if self.later else ""

    def _without_later(self) -> History:
        if not self.later:
            return self
        return History(self.project, self.words, self.earlier)
