"""What is measured once for each division of a side, for all readings that it takes part in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import Floats, Mask, Whole
from rushweed.core.cut.regions import Boxes
from rushweed.core.cut.seeing.divisions import Divisions
from rushweed.core.cut.seeing.profiles import Profiles

BESIDE = (0, -1, 1, -2, 2)
"""Where the picture changes is looked for at the end of a cell, and so many pixels beside it."""


@dataclass(frozen=True, slots=True)
class Side:
    """One division of a side, and what it does to the regions of the picture.

    `begins`, `ends` and `middle` are the cells that a region begins, ends and has its middle in;
    `cut`, whether it is more than one. `widest` and `usual` say how large the largest and the usual
    regions are against a cell, as powers of two, and `fits` which are not larger. `changes` adds
    up from the first row on, in every so manieth row, how much the picture changes where cells
    end, right beside, and where the next begin, of shape (rows + 1, places, ends).
    """

    cell: int
    step: int
    margin: int
    gap: int
    count: int
    begins: Whole
    ends: Whole
    cut: Mask
    middle: Whole
    widest: float
    usual: float
    fits: Mask
    changes: Floats
    every: int


def side_of(ways: Divisions, place: int, lines: Profiles, regions: Boxes, axis: int) -> Side:
    """Measure one of the divisions of a side: `axis` is 0 across, 1 down."""
    cell, gap = int(ways.cell[place]), int(ways.gap[place])
    margin, count = int(ways.margin[place]), int(ways.count[place])
    first, beyond = regions[:, axis], regions[:, axis + 2]
    begins, ends = (
        np.minimum(np.maximum((side - margin) // (cell + gap), 0), count - 1)
        for side in (first, beyond - 1)
    )
    extent = beyond - first
    widest = usual = 0.0
    if len(regions):
        large = extent[regions[:, 4] >= np.median(regions[:, 4])]
        widest, usual = (float(np.log2(value / cell)) for value in (extent.max(), np.median(large)))
    return Side(
        cell,
        cell + gap,
        margin,
        gap,
        count,
        begins,
        ends,
        begins != ends,
        (begins + ends) // 2,
        widest,
        usual,
        extent <= cell,
        _changes(lines, cell, margin, gap, count),
        lines.every,
    )


def _changes(lines: Profiles, cell: int, margin: int, gap: int, count: int) -> Floats:
    """Sums from the first row on of how much the picture changes where cells end, beside it, and
    where the next cells begin if gaps lie between, of shape (rows + 1, places, ends)."""
    ends = margin + np.arange(count - 1) * (cell + gap) + cell - 1
    last = lines.changes.shape[1] - 1
    ends = ends[ends <= last]
    places = np.concatenate([ends + offset for offset in (*BESIDE, *((gap,) if gap else ()))])
    columns = lines.changes[:, np.minimum(np.maximum(places, 0), last)]
    sums = np.zeros((len(columns) + 1, columns.shape[1]), np.float32)
    np.cumsum(columns, axis=0, out=sums[1:])
    return sums.reshape(len(sums), -1, len(ends)) if len(ends) else sums[:, None]
