"""What hangs together in a picture, and how bits are counted by the cells of a grid."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Whole
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect

Boxes = npt.NDArray[np.int64]
"""Rows of left, top, right, bottom and count of pixels."""

MOST_CUT = 0.12
"""Of what is drawn, weighed by the root of its area, no more than this may cross cell borders."""


def regions_of(mask: npt.NDArray[np.bool_]) -> Boxes:
    """What hangs together in a mask of shape (height, width), by sides and corners; of shape
    (regions, 5), in the order of their first pixels.

    Stretches of each row are joined with those that touch them in the next (run-based labelling:
    L. He, Y. Chao, K. Suzuki, A run-based two-scan labeling algorithm, IEEE Transactions on Image
    Processing 17, 2008), so that the work grows with outlines rather than with areas.

    >>> regions_of(np.array([[1, 1, 0, 0], [0, 0, 0, 1]], bool)).tolist()
    [[0, 0, 2, 1, 2], [3, 1, 4, 2, 1]]
    """
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    height, width = mask.shape
    line = width + 1  # a clear pixel ends every row
    lines = np.zeros(height * line + 1, bool)
    lines[1:].reshape(height, line)[:, :width] = mask
    turns = np.flatnonzero(lines[1:] != lines[:-1])
    starts, stops = turns[::2], turns[1::2]
    touched = _touched(starts, stops, line)
    shape = (len(starts), len(starts))
    graph = coo_array((np.ones(len(touched[0]), np.int8), touched), shape=shape)
    count, numbers = connected_components(graph, directed=False)
    regions = np.empty((count, 5), np.int64)
    regions[:] = width, height, 0, 0, 0
    left, top, right, bottom, area = regions.T
    np.minimum.at(left, numbers, starts % line)
    np.minimum.at(top, numbers, starts // line)
    np.maximum.at(right, numbers, starts % line + stops - starts)
    np.maximum.at(bottom, numbers, starts // line + 1)
    area[:] = np.bincount(numbers, stops - starts, count)
    return regions


def _touched(starts: Whole, stops: Whole, line: int) -> tuple[Whole, Whole]:
    """Pairs of stretches of which the second touches the first from the next row."""
    first = np.searchsorted(stops, starts + line, "left")
    last = np.searchsorted(starts, stops + line, "right")
    number = np.maximum(last - first, 0)
    upper = np.repeat(np.arange(len(starts)), number)
    before = np.repeat(np.cumsum(number) - number, number)
    return upper, np.repeat(first, number) + np.arange(number.sum()) - before


def in_cells(regions: Boxes, layout: EvenCells) -> list[Rect] | None:
    """One rectangle for each cell with something in it, around all of that, in reading order; None
    where cell borders cut too much. Bits that cross a border belong where their middle is."""
    if not len(regions):
        return []
    left, top, right, bottom, area = regions.T
    across, down = (_cells_of(layout, side) for side in (0, 1))
    cut = (across(left) != across(right - 1)) | (down(top) != down(bottom - 1))
    weight = np.sqrt(area)
    if (cut * weight).sum() > MOST_CUT * weight.sum():
        return None
    rows, columns = down((top + bottom) // 2), across((left + right) // 2)
    order = np.lexsort((columns, rows))
    moved = (np.diff(rows[order]) != 0) | (np.diff(columns[order]) != 0)
    firsts = np.flatnonzero(np.concatenate([[True], moved]))
    sides = zip(
        np.minimum.reduceat(left[order], firsts).tolist(),
        np.minimum.reduceat(top[order], firsts).tolist(),
        np.maximum.reduceat(right[order], firsts).tolist(),
        np.maximum.reduceat(bottom[order], firsts).tolist(),
        strict=True,
    )
    return [rect_of(side) for side in sides]


def rect_of(box: Sequence[int]) -> Rect:
    """The rectangle of one row of boxes."""
    return Rect(box[0], box[1], box[2] - box[0], box[3] - box[1])


def _cells_of(layout: EvenCells, side: int) -> Callable[[Whole], Whole]:
    """Which cell along a side places lie in."""
    margin, step = layout.margin[side], layout.cell[side] + layout.gap[side]
    return lambda places: (places - margin) // step
