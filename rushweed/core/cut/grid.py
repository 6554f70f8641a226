"""Guessing the grid of a sheet from its pixels.

For every boundary between two columns (and rows) it is measured how much the picture changes
there, and whether content runs across. A grid is as likely as its boundaries stand out from all
others, in standard errors of their mean; so a grid of half the true size loses for having weak
lines, and one of double the size for having few.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.cut.loose import Mask
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size

SMALLEST = 4
MARGINS = (0, 1, 2, 3, 4, 8)
GAPS = (0, 1, 2, 3, 4, 8)
USUAL = (8, 16, 24, 32, 48, 64, 96, 128)

FEW_LINES = 1.5
"""How many lines of no evidence are mixed in, so that a single strong line is not believed."""
FULL = 0.3
"""Cells are filled up to their edges when this share of the edges' pixels is something."""

Profile = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class GridGuess:
    """A grid the picture may have been drawn on, how likely it is (0 to 1), and why."""

    grid: EvenCells
    columns: int
    rows: int
    score: float
    why: str


@dataclass(frozen=True, slots=True)
class _Axis:
    """One way to divide one side of the picture."""

    cell: int
    gap: int
    margin: int
    count: int
    strength: float
    crossed: float


@dataclass(frozen=True, slots=True)
class _Lines:
    """What was measured along one side: for boundary i between pixel i and i + 1."""

    length: int
    stands_out: Profile
    crossed: Profile
    flat: npt.NDArray[np.bool_]
    filled: Profile
    opaque: bool


def guess_grids(picture: Picture, mask: Mask, limit: int = 5) -> list[GridGuess]:
    """The likeliest grids, best first; empty when the picture is too small for any."""
    across = _candidates(_measure(picture, mask))
    down = _candidates(_measure(picture.swapaxes(0, 1), mask.T))
    pairs = [(_fit(x, y), x, y) for x in across for y in down if x.count * y.count > 1]
    pairs.sort(key=lambda pair: -pair[0])
    return [_guess(*pair, best=pairs[0][0]) for pair in pairs[:limit]]


def _measure(picture: Picture, mask: Mask) -> _Lines:
    pixels = picture.astype(np.int16) * mask[..., None]
    change = np.abs(np.diff(pixels, axis=1)).sum(axis=2)
    across = (mask[:, 1:] & mask[:, :-1]).mean(axis=0)
    flat = ~(np.diff(pixels, axis=0) != 0).any(axis=(0, 2)) if len(pixels) > 1 else None
    changed = (change > 24).mean(axis=0) + 0.5 * np.minimum(change, 255).mean(axis=0) / 255
    length = mask.shape[1]
    opaque = bool(mask.mean() > 0.97)
    return _Lines(
        length,
        changed if opaque else changed * 0.25 - across,
        across,
        flat if flat is not None else np.zeros(length, bool),
        mask.mean(axis=0),
        opaque,
    )


def _candidates(lines: _Lines) -> list[_Axis]:
    found = [_whole(lines)]
    for gap in GAPS:
        for margin in MARGINS:
            found += _regular(lines, gap, margin)
    found.sort(key=lambda axis: -axis.strength)
    return found[:12]


def _whole(lines: _Lines) -> _Axis:
    return _Axis(lines.length, 0, 0, 1, 0.0, 0.0)


def _regular(lines: _Lines, gap: int, margin: int) -> list[_Axis]:
    found = []
    largest = (lines.length - 2 * margin - gap) // 2
    for cell in range(SMALLEST, min(largest, 1024) + 1):
        step = cell + gap
        count, rest = divmod(lines.length - margin + gap, step)
        if rest not in (margin, margin + gap) and not (margin == gap and rest == gap):
            if gap or margin or cell not in USUAL or rest >= cell:
                continue
            penalty = 1.5
        else:
            penalty = 0.4 * (rest != margin)
        axis = _strength(lines, cell, gap, margin, count, penalty)
        if axis is not None:
            found.append(axis)
    return found


def _strength(
    lines: _Lines, cell: int, gap: int, margin: int, count: int, penalty: float
) -> _Axis | None:
    starts = margin + np.arange(1, count) * (cell + gap)
    if gap:
        inside = (starts[:, None] - 1 - np.arange(gap)).ravel()
        rims = np.r_[np.arange(margin), np.arange(lines.length - margin, lines.length)]
        if not lines.flat[inside].all() or not lines.flat[rims].all():
            return None
    elif margin and not lines.flat[np.r_[np.arange(margin), lines.length - margin]].all():
        return None
    edges = np.unique(np.r_[starts - 1, starts - gap - 1])
    values = lines.stands_out[edges]
    spread = float(lines.stands_out.std()) or 1.0
    above = float((values - lines.stands_out.mean()).sum()) / spread
    z = above / np.sqrt(len(values) + FEW_LINES)
    usual = 0.35 * (cell in USUAL) + 0.15 * (cell % 8 == 0)
    crossed = float(lines.crossed[edges].mean())
    if not lines.opaque:
        penalty += 3 * crossed
    strength = z + usual + _gap_bonus(lines, starts, gap) - penalty - 0.1 * bool(margin)
    return _Axis(cell, gap, margin, count, float(strength), crossed)


def _gap_bonus(lines: _Lines, starts: npt.NDArray[np.intp], gap: int) -> float:
    """A gap is plain to see when cells are filled up to it; between small things it is not."""
    if not gap:
        return 0.0
    beside = float(lines.filled[np.r_[starts, starts - gap - 1]].mean())
    return float(np.sqrt(len(starts))) * 0.8 if beside > FULL else -1.0


def _fit(x: _Axis, y: _Axis) -> float:
    alike = 1.2 * (x.cell == y.cell)
    alike += 0.5 * (x.gap == y.gap) if x.count > 1 and y.count > 1 else 0.25
    alike += 0.5 * (x.margin == y.margin)
    return x.strength + y.strength + alike


def _guess(fit: float, x: _Axis, y: _Axis, best: float) -> GridGuess:
    grid = EvenCells(Size(x.cell, y.cell), Size(x.margin, y.margin), Size(x.gap, y.gap))
    score = max(0.0, min(1.0, 0.95 - 0.12 * (best - fit)))
    return GridGuess(grid, x.count, y.count, round(score, 3), _evidence(x, y))


def _evidence(x: _Axis, y: _Axis) -> str:
    crossed = max(x.crossed, y.crossed)
    if x.gap or y.gap:
        return f"gaps of {max(x.gap, y.gap)} px run right across the picture"
    if crossed == 0:
        return "every cut runs through empty space"
    if crossed < 0.15:
        return "cuts cross little of what is drawn"
    return "the picture changes most along these lines"
