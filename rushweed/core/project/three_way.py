"""Mine and theirs: a project that two changed since they had the same one."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from rushweed.core.project.merging import SHARED, in_words, merged
from rushweed.core.project.named import LEVELS, SHEETS
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Made
from rushweed.core.words import say


@dataclass(frozen=True, eq=False)
class Versions:
    """The project as both had it, as it is here, and as it lies on disk now."""

    base: Project
    mine: Project
    theirs: Project

    @property
    def is_news(self) -> bool:
        """Whether they changed anything."""
        return bool(self.told)

    @cached_property
    def told(self) -> list[str]:
        """What they changed, in words: each thing that the whole project shares, sheet and
        level."""
        found = [
            say(words)
            for field, words in SHARED.items()
            if getattr(self.theirs, field) != getattr(self.base, field)
        ]
        for named in (SHEETS, LEVELS):
            base, theirs = (
                {one.name: one for one in named.things(project)}
                for project in (self.base, self.theirs)
            )
            changed = (name for name in {**base, **theirs} if theirs.get(name) != base.get(name))
            found += [in_words((named.field, name)) for name in changed]
        return found

    @cached_property
    def merged(self) -> Made[list[str]]:
        """What either changed, and in words what both did, each in another way: that is as it is
        here."""
        return merged(self.base, self.mine, self.theirs)
