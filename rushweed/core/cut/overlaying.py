"""Laying drawings of one figure over each other by what they share, whatever their limbs do.

Each is moved across to where it is most like the mean of all others: the cross-correlation of
their weights is largest there. How sure that is, a second look says: phase correlation after Kuglin
and Hines, "The phase correlation image alignment method", Proceedings of the IEEE International
Conference on Cybernetics and Society (1975), with phases weighted by the root of their strength,
since small drawings have few strong ones.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.fft import irfft, irfft2, next_fast_len, rfft, rfft2

from rushweed.core.arrays import Bytes, Floats, Reals

Weights = Bytes | Floats | Reals
"""How much each pixel says about where a drawing is, of shape (height, width)."""
Waves = npt.NDArray[np.complexfloating[Any, Any]]
SWING = 0.4
"""A drawing is moved across by no more than this part of its width."""
ROUNDS = 2
ALIKE = 1e-9
"""Likelihoods that differ by less than this part are the same; then the shorter way is taken."""


def farthest_across(width: int) -> int:
    """By how many pixels a drawing of some width may be moved.

    >>> farthest_across(20), farthest_across(1)
    (8, 1)
    """
    return max(1, int(width * SWING))


def over_each_other(boards: Sequence[Weights], most: Sequence[int]) -> list[int]:
    """By how many pixels each board must go to the right to lie over the others; the first one
    stays. All are of one shape (height, width), and none goes further than `most` says of it.

    All begin where they are; in each round, each is laid over all others.
    """
    if not boards:
        return []
    columns = _columns(boards[0])
    turns = -2j * np.pi * np.arange(columns // 2 + 1) / columns
    total = sum(waves_of(board) for board in boards)
    shifts = [0] * len(boards)
    for _ in range(ROUNDS):
        for place, board in enumerate(boards):
            waves = waves_of(board)
            total -= waves * np.exp(turns * shifts[place])
            shifts[place] = shift_between(total, waves, most[place])
            total += waves * np.exp(turns * shifts[place])
    return [shift - shifts[0] for shift in shifts]


def waves_of(board: Weights) -> Waves:
    """The rows of a board as waves, of shape (height, columns): whoever compares it with several
    makes them once."""
    waves: Waves = rfft(board, _columns(board), axis=1)
    return waves


def shift_between(first: Waves, other: Waves, most: int) -> int:
    """By how many pixels one board must go to the right to lie over the first, at most `most`; both
    as waves."""
    likely: Reals = irfft((first * other.conj()).sum(axis=0), 2 * (first.shape[1] - 1))
    return _likeliest(likely, most)


def shift_by_phases(first: Reals, other: Reals, most: int) -> int:
    """By how many pixels one board must go to the right to lie over the first, at most `most`, by
    the phases of both, which heed edges more than what is large."""
    room = _room(first)
    cross = rfft2(first, room) * np.conj(rfft2(other, room))
    cross /= np.maximum(np.sqrt(np.abs(cross)), 1e-9)
    return _likeliest(irfft2(cross, room)[0], most)


def shift_down(first: Reals, other: Reals, most: int) -> int:
    """By how many pixels one board must go down to lie over the first, where both may go across by
    at most `most` too, and down by at most half of it."""
    room = _room(first)
    likely = irfft2(rfft2(first, room) * np.conj(rfft2(other, room)), room)
    across = np.r_[0 : most + 1, -most:0]
    return _likeliest(likely[:, across].max(axis=1), max(1, most // 2))


def _columns(board: Weights) -> int:
    """At least twice a board's width, and even, so that nothing meets itself round the edge."""
    return 2 * int(next_fast_len(board.shape[1], real=True))


def _room(board: Reals) -> tuple[int, int]:
    """At least twice a board's size, so that nothing meets itself round the edge."""
    height, width = board.shape
    return next_fast_len(2 * height, real=True), next_fast_len(2 * width, real=True)


def _likeliest(likely: Reals, most: int) -> int:
    """The shift that is likeliest of those by at most `most`; negative ones stand at the end."""
    shifts = np.arange(-most, most + 1)
    found = likely[shifts]
    best = found >= found.max() - ALIKE * np.abs(likely).max()
    return int(min(shifts[best], key=abs))
