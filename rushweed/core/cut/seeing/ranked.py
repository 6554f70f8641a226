"""Ways to read a picture, as they come out of reading it."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.project.sheet import Kind, Layout

LIKELY = 1.5
"""Scores are turned into probabilities with this steepness."""


@dataclass(frozen=True, slots=True)
class Reading:
    """One way to read a picture: its layout, its columns and rows, how probable it is among the
    others, why, in a sentence's end, and what kind of picture it makes."""

    layout: Layout
    columns: int
    rows: int
    share: float
    why: str
    kind: Kind = "sheet"


@dataclass(frozen=True, slots=True)
class Ranked:
    """All readings, likeliest first, and how probable it is that the first is right, from 0 to 1,
    as measured on pictures that nothing was learned from."""

    readings: tuple[Reading, ...]
    sure: float
