"""Chance that is the same each time: drawn from a place, not from a clock."""

from __future__ import annotations

from collections.abc import Sequence

Weighted = Sequence[tuple[int, int]]
"""Pieces by number, each with its weight."""


def chosen(tiles: Weighted, column: int, row: int, seed: int = 0) -> int:
    """One of the pieces for a cell, each as often as its weight says; 0 for none.

    >>> picks = [chosen(((7, 3), (9, 1)), column, 0) for column in range(4000)]
    >>> round(picks.count(7) / picks.count(9))
    3
    """
    whole = sum(weight for _, weight in tiles)
    if whole <= 0:
        return 0
    left = scrambled(column, row, seed) % whole
    for number, weight in tiles:
        if left < weight:
            return number
        left -= weight
    return 0


def scrambled(column: int, row: int, seed: int = 0) -> int:
    """A number of 32 bits for a place, hardly alike for neighbours (the finalizer of G. Steele,
    D. Lea and C. Flood, Fast splittable pseudorandom number generators, OOPSLA 2014)."""
    mask = (1 << 64) - 1
    state = column * 0x9E3779B97F4A7C15 + row * 0xC2B2AE3D27D4EB4F + seed * 0x165667B19E3779F9
    state &= mask
    state = ((state ^ state >> 30) * 0xBF58476D1CE4E5B9) & mask
    state = ((state ^ state >> 27) * 0x94D049BB133111EB) & mask
    return (state ^ state >> 31) >> 32 & 0xFFFFFFFF
