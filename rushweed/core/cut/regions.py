"""What hangs together in a picture, and how bits are counted by the cells of a grid."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect

Whole = npt.NDArray[np.int64]
Boxes = npt.NDArray[np.int64]
"""Rows of left, top, right, bottom and count of pixels."""

MOST_CUT = 0.12
"""Of what is drawn, weighed by the root of its area, no more than this may cross cell borders."""


def regions_of(mask: npt.NDArray[np.bool_]) -> Boxes:
    """What hangs together in a mask of shape (height, width), by sides and corners; of shape
    (regions, 5)."""
    from scipy import ndimage

    labels, count = ndimage.label(mask, np.ones((3, 3), bool))
    if not count:
        return np.zeros((0, 5), np.int64)
    found = ndimage.find_objects(labels)
    areas = np.bincount(labels.ravel(), minlength=count + 1)[1:]
    return np.array(
        [
            (part[1].start, part[0].start, part[1].stop, part[0].stop, area)
            for part, area in zip(found, areas.tolist(), strict=True)
            if part is not None
        ],
        np.int64,
    ).reshape(-1, 5)


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
    cells: dict[tuple[int, int], Rect] = {}
    for row, column, box in zip(rows.tolist(), columns.tolist(), regions.tolist(), strict=True):
        rect, key = rect_of(box), (row, column)
        cells[key] = cells[key].union(rect) if key in cells else rect
    return [cells[key] for key in sorted(cells)]


def rect_of(box: Sequence[int]) -> Rect:
    """The rectangle of one row of boxes."""
    return Rect(box[0], box[1], box[2] - box[0], box[3] - box[1])


def _cells_of(layout: EvenCells, side: int) -> Callable[[Whole], Whole]:
    """Which cell along a side places lie in."""
    margin, step = layout.margin[side], layout.cell[side] + layout.gap[side]
    return lambda places: (places - margin) // step
