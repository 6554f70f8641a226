"""Figures that touch each other, parted where they hang together by little."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from rushweed.core.cut.regions import Boxes

Mask = npt.NDArray[np.bool_]
Box = list[int]
"""Left, top, right, bottom and count of pixels."""

LONGER = 1.5
"""What is so many times as wide or high as is usual may be several figures."""
THIN = 0.25
"""Figures hang together by no more than this part of the thicker place on either side."""
LEAST = 0.5
"""Each part is at least so large, against what is usual."""
ALIKE = 0.8
"""Silhouettes are the same when they share so much of what both cover."""
MOST_LOOKED_AT = 512


def parted(mask: Mask, regions: Boxes) -> Boxes:
    """Regions of a mask of shape (height, width), with those that are several figures parted: at
    their thinnest place, or where the same silhouette begins again. Of shape (parts, 5)."""
    if len(regions) < 2:
        return regions
    large = regions[regions[:, 4] >= np.median(regions[:, 4]) / 4]
    usual = float(np.median(large[:, 2] - large[:, 0])), float(np.median(large[:, 3] - large[:, 1]))
    long = (regions[:, 2] - regions[:, 0] >= LONGER * usual[0]) | (
        regions[:, 3] - regions[:, 1] >= LONGER * usual[1]
    )
    if not long.any() or np.count_nonzero(long) > MOST_LOOKED_AT:
        return regions
    found: list[Box] = []
    for box, is_long in zip(regions.tolist(), long.tolist(), strict=True):
        if is_long:
            left, top, right, bottom, area = box
            found += _parts(_alone(mask[top:bottom, left:right], area), left, top, usual)
        else:
            found.append(box)
    return np.array(found, np.int64).reshape(-1, 5)


def _parts(part: Mask, left: int, top: int, usual: tuple[float, float]) -> Iterator[Box]:
    """The boxes of the figures in a region that lies there."""
    rows, columns = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
    part = part[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    left, top = left + int(columns[0]), top + int(rows[0])
    height, width = part.shape
    for axis, length in enumerate((width, height)):
        if length < LONGER * usual[axis]:
            continue
        at = _thin_place(part, axis, usual[axis]) or _where_it_repeats(part, axis, usual[axis])
        if at:
            before, after = np.split(part, [at], axis=1 - axis)
            yield from _parts(before, left, top, usual)
            yield from _parts(after, *((left + at, top) if axis == 0 else (left, top + at)), usual)
            return
    yield [left, top, left + width, top + height, int(np.count_nonzero(part))]


def _alone(part: Mask, area: int) -> Mask:
    """The region of that area in its box, without what else reaches into it."""
    if np.count_nonzero(part) == area:
        return part
    from scipy import ndimage

    labels, _ = ndimage.label(part, np.ones((3, 3), bool))
    sizes = np.bincount(labels.ravel())[1:]
    alone: Mask = labels == 1 + int(np.argmin(np.abs(sizes - area)))
    return alone


def _thin_place(part: Mask, axis: int, usual: float) -> int:
    """The place along a side before which a region is best cut; 0 where it is thin nowhere."""
    thickness = part.sum(axis=axis)
    first = max(1, round(LEAST * usual))
    last = len(thickness) - first + 1
    if last <= first:
        return 0
    before = np.maximum.accumulate(thickness)
    after = np.maximum.accumulate(thickness[::-1])[::-1]
    share = thickness / np.maximum(np.minimum(before, after), 1)
    cut = np.maximum(share[first - 1 : last - 1], share[first:last])  # both sides of it are thin
    thinnest = first + np.flatnonzero(cut <= cut.min() + 1e-9)
    at = int(thinnest[np.argmin(np.abs(thinnest - usual))])
    return at if cut.min() <= THIN else 0


def _where_it_repeats(part: Mask, axis: int, usual: float) -> int:
    """The place along a side from which on the same silhouette comes again; 0 where none does."""
    length = part.shape[1 - axis]
    count = round(length / usual)
    if count < 2:
        return 0
    step = length // count
    along = part if axis == 0 else part.T
    pieces = [along[:, n * step : (n + 1) * step] for n in range(count)]
    both = np.logical_and.reduce(pieces).sum()
    any_ = np.logical_or.reduce(pieces).sum()
    return step if both >= ALIKE * any_ else 0
