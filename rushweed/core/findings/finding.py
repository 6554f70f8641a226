"""A finding: something noticed that will hurt in the game, where it is, and how to mend it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from rushweed.core.project.project import Project
from rushweed.core.values import Point

Mend = Callable[[Project], Project]


@dataclass(frozen=True, slots=True, eq=False)
class Finding:
    """`what` and `why` are sentences; `mend` is an edit that cures it, if there is one.

    `place` says in words where it is; `sheet`, `pieces` and `level` lead there. One that is about
    many sheets alike names all of them in `sheets`; `spot` is a place of the level, in pixels.
    """

    code: str
    station: str
    what: str
    why: str
    place: str
    sheet: str = ""
    pieces: tuple[int, ...] = ()
    level: str = ""
    mend_words: str = ""
    mend: Mend | None = None
    sheets: tuple[str, ...] = ()
    spot: Point | None = None

    @property
    def about(self) -> tuple[str, ...]:
        """The sheets it is about."""
        return self.sheets or ((self.sheet,) if self.sheet else ())
