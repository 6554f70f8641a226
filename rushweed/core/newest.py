"""Work that is kept for the newest few versions of something that never changes."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

Version = TypeVar("Version")
Made = TypeVar("Made")

KEPT = 4


def for_newest(make: Callable[[Version], Made]) -> Callable[[Version], Made]:
    """What is made of a version, kept for the newest few by their identity: comparing two of them
    would cost as much as making it."""
    kept: list[tuple[Version, Made]] = []

    def made_of(version: Version) -> Made:
        for known, made in kept:
            if known is version:
                return made
        made = make(version)
        kept.insert(0, (version, made))
        del kept[KEPT:]
        return made

    return made_of
