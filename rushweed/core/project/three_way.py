"""Mine and theirs: a project that two changed since they had the same one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rushweed.core.project.merging import merged
from rushweed.core.project.project import Project
from rushweed.core.words import say

SHARED = {
    "name": "the project's name",
    "rules": "the ground rules",
    "treatments": "the treatments",
    "recipes": "the recipes",
    "walker": "the walker",
    "hems": "the hems",
    "patches": "the patches",
    "mixes": "the mixes",
    "figures": "the figures",
}
"""What the whole project shares, by its field, in words."""


@dataclass(frozen=True, slots=True, eq=False)
class Versions:
    """The project as both had it, as it is here, and as it lies on disk now."""

    base: Project
    mine: Project
    theirs: Project

    @property
    def is_news(self) -> bool:
        """Whether they changed anything."""
        return bool(self.told)

    @property
    def told(self) -> list[str]:
        """What they changed, in words."""
        return [*self._parts()]

    @property
    def meeting(self) -> list[str]:
        """What both changed, each in another way, in words."""
        return merged(self.base, self.mine, self.theirs).made

    def both(self) -> Project:
        """What either changed. Where both did, it is as it is here."""
        return merged(self.base, self.mine, self.theirs).project

    def _parts(self) -> Iterator[str]:
        """Each part that they changed, in words."""
        for field, words in SHARED.items():
            if getattr(self.theirs, field) != getattr(self.base, field):
                yield say(words)
        for kind, field in ((say("the sheet"), "sheets"), (say("the level"), "levels")):
            base, theirs = (
                {part.name: part for part in getattr(one, field)}
                for one in (self.base, self.theirs)
            )
            for name in {**base, **theirs}:
                if theirs.get(name) != base.get(name):
                    yield f"{kind} {name}"
