"""Ways to read a picture, as they come out of reading it."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.project.sheet import Layout


@dataclass(frozen=True, slots=True)
class Reading:
    """One way to read a picture: its layout, its columns and rows, how probable it is among the
    others, and why, in a sentence's end."""

    layout: Layout
    columns: int
    rows: int
    share: float
    why: str


@dataclass(frozen=True, slots=True)
class Ranked:
    """All readings, likeliest first, and how probable it is that the first is right, from 0 to 1,
    as measured on pictures that nothing was learned from."""

    readings: tuple[Reading, ...]
    sure: float
