"""Work that is kept for the newest few versions of something that never changes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol, TypeVar

Version = TypeVar("Version")
Made = TypeVar("Made")


class Named(Protocol):
    """A part of something, known there by its name."""

    @property
    def name(self) -> str: ...


Part = TypeVar("Part", bound=Named)

KEPT = 4
_all: list[list[Any]] = []
"""All that is kept, by what it is made with."""


def for_newest(make: Callable[[Version], Made]) -> Callable[[Version], Made]:
    """What is made of a version, kept for the newest few by their identity: comparing two of them
    would cost as much as making it."""
    kept: list[tuple[Version, Made]] = []
    _all.append(kept)

    def made_of(version: Version) -> Made:
        for known, made in kept:
            if known is version:
                return made
        made = make(version)
        kept.insert(0, (version, made))
        del kept[KEPT:]
        return made

    return made_of


def for_newest_parts(
    make: Callable[[Version, Part], Made],
) -> Callable[[Version, Part], Made]:
    """What is made of a version and a part of it, kept for the newest part of each name: after an
    edit of one part only that is made anew."""
    known_of: Callable[[Version], dict[str, tuple[Part, Made]]] = for_newest(lambda version: {})

    def made_of(version: Version, part: Part) -> Made:
        known = known_of(version)
        before = known.get(part.name)
        if before is not None and before[0] is part:
            return before[1]
        made = make(version, part)
        known[part.name] = part, made
        return made

    return made_of


def forget() -> None:
    """Keep nothing of what was made: a project that is closed would be held by it."""
    for kept in _all:
        kept.clear()
