"""Guessing the grid of a sheet from its pixels.

For every boundary between two columns (and rows) it is measured how much the picture changes
there, and whether content runs across. A grid is as likely as its boundaries stand out from all
others, in standard errors of their mean, and as the picture is like itself moved by a step of the
grid. So a grid of half the true size loses for having weak lines and unlike cells, and one of
double the size for having few lines.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rushweed.core.cut.loose import Mask
from rushweed.core.cut.profiles import Profiles, measure
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size

SMALLEST, LARGEST = 4, 1024
MARGINS = (0, 1, 2, 3, 4, 8)
GAPS = (0, 1, 2, 3, 4, 8)
USUAL = frozenset({8, 16, 24, 32, 48, 64, 96, 128})
MOST_USUAL = frozenset({16, 32})
FEW_LINES = 1.5
"""How many lines of no evidence are mixed in, so that a single strong line is not believed."""
FULL = 0.3
"""Cells are filled up to their edges when this share of the edges' pixels is something."""
LIKENESS = 3.0
"""What a picture that is wholly like itself moved by a step is worth, in standard errors."""
WEAK = 0.8
"""How much of the weakness of every second or third line counts against a grid."""
BESIDE = 10.0
"""What a step loses when the picture repeats itself more a pixel or two beside it."""
REPEATS = 0.12
"""A distance at which the picture is at least this much like itself is worth a closer look."""
SQUARE, SQUARE_TILE = 1.2, 2.8
"""What it is worth that cells are square, where there is empty ground and where there is none."""
SMALL = 0.8
"""What a cell of less than 8 pixels costs."""
PADDED, CUT_OFF = 1.2, 2.5
"""What it costs that empty space is left at the far end, or that a last cell is cut off."""
ASTRAY = 1.0
"""What it costs, a pixel, that things do not stand alike in their cells."""
EVEN = 0.25
"""What it is worth, where nothing else speaks for a size, that it is even."""
NAMED = 1.5
"""What it is worth that the picture's name speaks of a size."""
SIZE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?[x×] ?(\d{1,4})(?!\d)", re.IGNORECASE)
SIDE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?px(?![a-z])", re.IGNORECASE)
MOST_CELLS = 16
"""In so many cells, spread evenly, it is looked how things stand."""
LOOKED_AT, KEPT = 16, 12
"""Of so many divisions of a side it is looked how things stand in them; so many are paired."""


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


def guess_grids(
    picture: Picture, mask: Mask, limit: int = 5, named: Collection[Size] = ()
) -> list[GridGuess]:
    """The likeliest grids, best first; empty when the picture is too small for any.

    `named` are sizes that the picture's name speaks of; they count a little, no more.
    """
    profiles = measure(picture, mask)
    across, down = map(_candidates, profiles)
    square = SQUARE_TILE if profiles[0].opaque else SQUARE
    pairs = [
        (_fit(x, y, square) + NAMED * ((x.cell, y.cell) in named), x, y)
        for x in across
        for y in down
        if x.count * y.count > 1
    ]
    pairs.sort(key=lambda pair: -pair[0])
    return [_guess(*pair, best=pairs[0][0], named=named) for pair in pairs[:limit]]


def sizes_in(name: str) -> frozenset[Size]:
    """The sizes a picture's name speaks of, such as `fen_16x24` or `crab 32px`."""
    found = {Size(int(width), int(height)) for width, height in SIZE_IN_NAME.findall(name)}
    found |= {Size(int(side), int(side)) for side in SIDE_IN_NAME.findall(name)}
    return frozenset(size for size in found if min(size) >= SMALLEST and max(size) <= LARGEST)


def _candidates(lines: Profiles) -> list[_Axis]:
    found = [_Axis(lines.length, 0, 0, 1, 0.0, 0.0)]
    some_flat = any(lines.flat[1:-1])
    for gap in GAPS if some_flat else GAPS[:1]:
        for margin in MARGINS:
            if margin and not (all(lines.flat[:margin]) and all(lines.flat[-margin:])):
                break
            found += _regular(lines, gap, margin)
    found += _padded(lines)
    best: dict[tuple[int, int, int], _Axis] = {}
    for axis in sorted(found, key=lambda axis: axis.strength):
        best[axis.cell, axis.gap, axis.margin] = axis
    kept = sorted(best.values(), key=lambda axis: -axis.strength)[:LOOKED_AT]
    kept = [_weighed(lines, axis) for axis in kept]
    return sorted(kept, key=lambda axis: -axis.strength)[:KEPT]


def _weighed(lines: Profiles, axis: _Axis) -> _Axis:
    """A division, less likely the more things stand astray in its cells."""
    lost = ASTRAY * _astray(lines, axis.cell, axis.cell + axis.gap, axis.margin, axis.count)
    return replace(axis, strength=axis.strength - lost) if lost else axis


def _regular(lines: Profiles, gap: int, margin: int) -> Iterator[_Axis]:
    """Cells that fill the side exactly, with the margin or the gap at the far end or without."""
    most = min((lines.length - 2 * margin - gap) // 2, LARGEST)
    room = lines.length - margin + gap
    rest = room % np.arange(SMALLEST + gap, most + gap + 1)
    for place in np.flatnonzero((rest == margin) | (rest == margin + gap)).tolist():
        cell = SMALLEST + place
        count = room // (cell + gap)
        if not _gaps_are_flat(lines, cell, gap, margin, count):
            continue
        if _seen_gap(lines, cell, gap, margin, count) >= 0:
            yield _axis(lines, cell, gap, margin, count, 0.4 * (rest[place] != margin))


def _padded(lines: Profiles) -> Iterator[_Axis]:
    """Cells that leave empty space at the far end, as canvases of rounded sizes do: those at
    whose distance the picture repeats itself, and the usual ones."""
    most = min(lines.extent[1], lines.length // 2, LARGEST)
    values = lines.repeats
    likely = {size for size in USUAL if size <= most}
    for step in range(SMALLEST, min(most, len(values) - 2) + 1):
        if values[step] > REPEATS and values[step - 1] <= values[step] > values[step + 1]:
            likely.update((step - 1, step, step + 1))
    for cell in sorted(likely):
        count = -(-lines.extent[1] // cell)
        over = lines.length - count * cell
        if over > 0 and count > 1:
            yield _axis(lines, cell, 0, 0, count, PADDED, fills=False)
        elif over < 0 and cell in USUAL and count > 2:
            yield _axis(lines, cell, 0, 0, count - 1, CUT_OFF, fills=False)


def _gaps_are_flat(lines: Profiles, cell: int, gap: int, margin: int, count: int) -> bool:
    start = margin + cell
    step = cell + gap
    return all(all(lines.flat[start + i :: step][: count - 1]) for i in range(gap))


def _axis(
    lines: Profiles,
    cell: int,
    gap: int,
    margin: int,
    count: int,
    penalty: float,
    fills: bool = True,
) -> _Axis:
    """How likely a division is; one that does not fill the side must repeat the more clearly."""
    step = cell + gap
    ends = [slice(margin + step - 1, None, step)]
    if gap:
        ends.append(slice(margin + cell - 1, None, step))
    values = [value for end in ends for value in lines.stands_out[end][: count - 1]]
    crossings = [value for end in ends for value in lines.crossed[end][: count - 1]]
    z = (_steady(values) - lines.usual) / lines.spread
    seen = _seen_gap(lines, cell, gap, margin, count)
    many = count - 1 if seen < 0 else len(values)
    z *= many / (many + FEW_LINES) ** 0.5
    crossed = sum(crossings) / len(crossings)
    strength = z + seen - penalty
    strength += _seen_margin(lines, margin + count * step - gap, margin)
    strength += _repeating(lines, step) * (1 if fills else 2) * (1 - 1 / count)
    strength -= 0 if lines.opaque else 3 * crossed
    strength += _usual(cell) if fills else EVEN * (cell % 2 == 0)
    return _Axis(cell, gap, margin, count, strength - SMALL * (cell < 8), crossed)


def _astray(lines: Profiles, cell: int, step: int, margin: int, count: int) -> float:
    """By how many pixels, on average, what is drawn begins, ends or has its middle elsewhere in
    its cell than usual, whichever is steadiest; up to 2. Things stand on a common line."""
    if lines.opaque or count < 2:
        return 0.0
    begins: list[float] = []
    ends: list[float] = []
    every = step * (count // MOST_CELLS + 1)
    for start in range(margin, margin + count * step, every):
        first, last = lines.first[start], lines.last[start + cell - 1]
        if first <= last:
            begins.append(first - start)
            ends.append(last - start)
    if len(ends) < 2:
        return 0.0
    middles = [(begin + end) / 2 for begin, end in zip(begins, ends, strict=True)]
    return min(2.0, *map(_spread, (begins, ends, middles)))


def _spread(values: Sequence[float]) -> float:
    """Mean distance from the median."""
    middle = sorted(values)[len(values) // 2]
    return sum(abs(value - middle) for value in values) / len(values)


def _usual(cell: int) -> float:
    """Some sizes are met more often than others, whatever the pixels say."""
    return 0.35 * (cell in USUAL) + 0.15 * (cell % 8 == 0) + 0.35 * (cell in MOST_USUAL)


def _steady(values: list[float]) -> float:
    """The mean of lines, less where every second or third is weaker than the others: then the
    true grid is two or three times as large."""
    mean = weakest = sum(values) / len(values)
    for every in (2, 3):
        for start in range(every if len(values) >= every else 0):
            part = values[start::every]
            weakest = min(weakest, sum(part) / len(part))
    return mean - WEAK * (mean - weakest)


def _repeating(lines: Profiles, step: int) -> float:
    """What it is worth that the picture repeats itself at a step, and not just beside it."""
    here = lines.repeats[step]
    return LIKENESS * here - BESIDE * (max(lines.repeats[step - 2 : step + 3]) - here)


def _seen_gap(lines: Profiles, cell: int, gap: int, margin: int, count: int) -> float:
    """A gap is plain to see when cells are filled up to it; between small things it is not."""
    if not gap:
        return 0.0
    step, many = cell + gap, count - 1
    within = lines.filled[margin + cell :: step][:many]
    before = lines.filled[margin + cell - 1 :: step][:many]
    after = lines.filled[margin + step :: step][:many]
    drawn = sum(within) > FULL * many
    full = sum(before) + sum(after) > FULL * 2 * many
    return many**0.5 * 0.8 if drawn or full else -1.6


def _seen_margin(lines: Profiles, end: int, margin: int) -> float:
    """A margin is plain to see when the first and last cell are filled up to it."""
    if not margin:
        return 0.0
    beside = (lines.filled[margin] + lines.filled[min(end, lines.length) - 1]) / 2
    drawn = lines.filled[0] > FULL
    return 0.0 if drawn or beside > FULL else -0.8


def _fit(x: _Axis, y: _Axis, square: float) -> float:
    alike = square * (x.cell == y.cell)
    alike += 0.5 * (x.gap == y.gap) if x.count > 1 and y.count > 1 else 0.25
    alike += 0.5 * (x.margin == y.margin)
    return x.strength + y.strength + alike


def _guess(fit: float, x: _Axis, y: _Axis, best: float, named: Collection[Size]) -> GridGuess:
    grid = EvenCells(Size(x.cell, y.cell), Size(x.margin, y.margin), Size(x.gap, y.gap))
    score = max(0.0, min(1.0, 0.95 - 0.12 * (best - fit)))
    why = _evidence(x, y) + (", and its name says so" if grid.cell in named else "")
    return GridGuess(grid, x.count, y.count, round(score, 3), why)


def _evidence(x: _Axis, y: _Axis) -> str:
    crossed = max(x.crossed, y.crossed)
    if x.gap or y.gap:
        return f"gaps of {max(x.gap, y.gap)} px run right across the picture"
    if crossed == 0:
        return "every cut runs through empty space"
    if crossed < 0.15:
        return "cuts cross little of what is drawn"
    return "the picture changes most along these lines"
