"""Figures that touch each other, parted where they hang together by little."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np

from rushweed.core.arrays import Mask, Reals, Whole
from rushweed.core.cut.regions import Boxes
from rushweed.core.pixels import box_around

Box = list[int]
"""Left, top, right, bottom and count of pixels."""

FEWEST_ALIKE, MOSTLY, NEARLY = 4, 0.6, 0.2
"""Of so many figures at least this part is within so much of the usual width and height."""
LONGER = 1.5
"""What is so many times as wide or high as is usual may be several figures."""
THIN = 0.25
"""Figures hang together by no more than this part of the thicker place on either side."""
LEAST = 0.5
"""Each part is at least so large, against what is usual."""
ALIKE = 0.8
"""Silhouettes are the same when they share so much of what both cover."""
MASS = 0.2
"""Where so much of what is drawn hangs together, it may be many figures."""
MOST_LOOKED_AT, LARGEST = 512, 1 << 24
"""More regions than that, and larger pictures, are not looked at so closely."""
MOST_FIGURES = 1024
"""What would be more figures than that is ground with the dust of a dither around it."""
MOST_LOOKS = 96
"""Each pixel of what is cut up is looked at so many times at most."""


def parted(mask: Mask, regions: Boxes) -> Boxes:
    """Regions of a mask of shape (height, width), with those that are several figures parted: at
    their thinnest place, or where the same silhouette begins again. Of shape (parts, 5)."""
    if not len(regions):
        return regions
    usual = _usual(mask, regions)
    times = (regions[:, 2:4] - regions[:, :2]) / usual
    long: Mask = np.maximum(times[:, 0], times[:, 1]) >= LONGER
    figures = times[long].clip(1).prod(axis=1).sum()
    if not long.any() or np.count_nonzero(long) > MOST_LOOKED_AT or figures > MOST_FIGURES:
        return regions
    found: list[Box] = []
    for box, is_long in zip(regions.tolist(), long.tolist(), strict=True):
        if is_long:
            left, top, right, bottom, area = box
            alone = _alone(mask[top:bottom, left:right], area)
            found += _cut_up(alone, left, top, partial(_where_it_parts, usual=usual))
        else:
            found.append(box)
    return np.array(found, np.int64).reshape(-1, 5)


def alike_parts(mask: Mask, regions: Boxes) -> int:
    """Of how many figures of one size the regions of a mask are made; 0 where they are as many as
    they are, or of all sizes."""
    parts = parted(mask, regions)
    return len(parts) if len(parts) > len(regions) and are_alike(parts) else 0


def are_alike(regions: Boxes) -> bool:
    """Whether most regions are of one size."""
    if len(regions) < FEWEST_ALIKE:
        return False
    sides = regions[:, 2:4] - regions[:, :2]
    near = np.abs(sides - np.median(sides, axis=0)) <= NEARLY * np.median(sides, axis=0)
    return bool(near.all(axis=1).mean() >= MOSTLY)


def _usual(mask: Mask, regions: Boxes) -> tuple[float, float]:
    """How wide and high one figure is: as most regions are, or, where these are of all sizes, as
    most of what lies between the thin places of the picture."""
    large = regions[regions[:, 4] >= np.median(regions[:, 4]) / 4]
    in_one = regions[:, 4].max() >= MASS * regions[:, 4].sum()
    if in_one and not are_alike(large) and len(large) <= MOST_LOOKED_AT and mask.size <= LARGEST:
        between = np.array(list(_cut_up(mask, 0, 0, _where_thin)), np.int64).reshape(-1, 5)
        solid = between[between[:, 4] >= np.median(between[:, 4]) / 4] if len(between) else between
        if are_alike(solid):
            large = solid
    sides = np.median(large[:, 2:4] - large[:, :2], axis=0)
    return float(sides[0]), float(sides[1])


def _cut_up(
    part: Mask, left: int, top: int, where: Callable[[Mask], tuple[int, int]]
) -> Iterator[Box]:
    """The boxes of what is left when a part that lies there is cut straight through, and so on
    (recursive cuts: G. Nagy, S. Seth, Hierarchical representation of optically scanned documents,
    7th International Conference on Pattern Recognition, 1984). `where` says before which place of
    which side, or 0; what is still whole after so much looking stays so."""
    waiting, looks = [(part, left, top)], MOST_LOOKS * part.size
    while waiting:
        part, left, top = waiting.pop()
        drawn = box_around(part)
        if drawn is None:
            continue
        part = part[drawn.y : drawn.bottom, drawn.x : drawn.right]
        left, top = left + drawn.x, top + drawn.y
        looks -= part.size
        at, axis = where(part) if looks > 0 else (0, 0)
        if at:
            before, after = np.split(part, [at], axis=1 - axis)
            waiting.append((after, *((left + at, top) if axis == 0 else (left, top + at))))
            waiting.append((before, left, top))
        else:
            height, width = part.shape
            yield [left, top, left + width, top + height, int(np.count_nonzero(part))]


def _where_thin(part: Mask) -> tuple[int, int]:
    """The thinnest place of a part and its side; 0 where it is thin nowhere."""
    share, at, axis = min((_thinnest(part, axis) for axis in (0, 1)), key=lambda found: found[0])
    return (at, axis) if share <= THIN else (0, 0)


def _thinnest(part: Mask, axis: int) -> tuple[float, int, int]:
    """How thin a part is at the thinnest place along a side, against the thicker places before
    and after it; that place, and the side."""
    share = _share(part.sum(axis=axis))
    at = int(np.argmin(share))
    return float(share[at]), max(at, 1), axis


def _share(thickness: Whole) -> Reals:
    """How thick each place along a side is, against the thickest before and after it."""
    before = np.maximum.accumulate(thickness)
    after = np.maximum.accumulate(thickness[::-1])[::-1]
    share: Reals = thickness / np.maximum(np.minimum(before, after), 1)
    return share


def _where_it_parts(part: Mask, usual: tuple[float, float]) -> tuple[int, int]:
    """The place where a region is best parted, and its side; 0 where it is one figure."""
    height, width = part.shape
    long = [axis for axis in (0, 1) if (width, height)[axis] >= LONGER * usual[axis]]
    thin = min(
        ((*_thin_place(part, axis, usual[axis]), axis) for axis in long), default=(1.0, 0, 0)
    )
    share, at, axis = thin
    if share <= THIN:
        return at, axis
    repeats = ((_where_it_repeats(part, axis, usual[axis]), axis) for axis in long)
    return next((found for found in repeats if found[0]), (0, 0))


def _alone(part: Mask, area: int) -> Mask:
    """The region of that area in its box, without what else reaches into it."""
    if np.count_nonzero(part) == area:
        return part
    from scipy import ndimage

    labels, _ = ndimage.label(part, np.ones((3, 3), bool))
    sizes = np.bincount(labels.ravel())[1:]
    alone: Mask = labels == 1 + int(np.argmin(np.abs(sizes - area)))
    return alone


def _thin_place(part: Mask, axis: int, usual: float) -> tuple[float, int]:
    """How thin a region is at the place along a side before which it is best cut, and that place,
    the one nearest to the end of a usual figure among the thinnest."""
    thickness = part.sum(axis=axis)
    first = max(1, round(LEAST * usual))
    last = len(thickness) - first + 1
    if last <= first:
        return 1.0, 0
    share = _share(thickness)
    cut = np.maximum(share[first - 1 : last - 1], share[first:last])  # both sides of it are thin
    thinnest = first + np.flatnonzero(cut <= cut.min() + 1e-9)
    at = int(thinnest[np.argmin(np.abs(thinnest - usual))])
    return float(cut.min()), at


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
