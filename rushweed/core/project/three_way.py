"""Mine and theirs: a project that two changed since they had the same one, seen part by part.

A part is a sheet, a level, or one of the things that the whole project shares. What one alone
changed is taken from that one; a part that both changed meets, and somebody has to choose.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rushweed.core.newest import Part
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
        return [words for words, _, _ in self._parts()]

    @property
    def meeting(self) -> list[str]:
        """What both changed, each in another way, in words; and numbers that were given twice."""
        met = [words for words, mine, same in self._parts() if mine and not same]
        return [*met, *self._numbers_given_twice()]

    def both(self) -> Project:
        """What either changed. Where both did, it is as it is here."""
        base, mine, theirs = self.base, self.mine, self.theirs
        shared = {
            field: getattr(theirs, field)
            for field in SHARED
            if getattr(mine, field) == getattr(base, field)
        }
        return replace(
            mine,
            **shared,
            sheets=_merged(base.sheets, mine.sheets, theirs.sheets),
            levels=_merged(base.levels, mine.levels, theirs.levels),
            next_number=max(mine.next_number, theirs.next_number),
        )

    def _parts(self) -> Iterator[tuple[str, bool, bool]]:
        """Each part that they changed: in words, whether it was changed here, and alike."""
        for field, words in SHARED.items():
            base, mine, theirs = (
                getattr(one, field) for one in (self.base, self.mine, self.theirs)
            )
            if theirs != base:
                yield say(words), mine != base, mine == theirs
        for kind, field in ((say("the sheet"), "sheets"), (say("the level"), "levels")):
            base, mine, theirs = (
                {part.name: part for part in getattr(one, field)}
                for one in (self.base, self.mine, self.theirs)
            )
            for name in {**base, **theirs}:
                was, here, there = (parts.get(name) for parts in (base, mine, theirs))
                if there != was:
                    yield f"{kind} {name}", here != was, here == there

    def _numbers_given_twice(self) -> list[str]:
        """Both cut new pieces in different sheets, and gave them the same numbers."""
        known = self.base.next_number
        mine, theirs = (
            {piece.number: sheet.name for sheet, piece in one.pieces() if piece.number >= known}
            for one in (self.mine, self.theirs)
        )
        twice = [n for n in mine.keys() & theirs.keys() if mine[n] != theirs[n]]
        return [say("the numbers of new pieces")] if twice else []


def _merged(base: Sequence[Part], mine: Sequence[Part], theirs: Sequence[Part]) -> tuple[Part, ...]:
    """My parts, with theirs where I changed nothing; what they added stands at the end."""
    was = {part.name: part for part in base}
    here = {part.name: part for part in mine}
    there = {part.name: part for part in theirs}
    kept = []
    for name, part in here.items():
        if part != was.get(name):
            kept.append(part)
        elif name in there:
            kept.append(there[name])
    return *kept, *(part for name, part in there.items() if name not in was and name not in here)
