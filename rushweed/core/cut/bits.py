"""Bits that hang together with nothing, and what they belong to: sparks, hands, dots of letters."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Mask, Whole
from rushweed.core.cut.regions import Boxes

LESS = 8
"""A bit has less than this part of the pixels of a figure as most of the picture is made of."""
NEAR = 0.3
"""It lies nearer to its figure than this part of the figure's longer side."""
NEARER, CLOSEST = 0.7, 0.1
"""And nearer than this part of the space between figures, those aside that lie closest."""
LONELY = 1.7
"""Any other figure is so many times as far away."""
MOST, LARGEST = 1024, 1 << 23
"""Among more regions than that, and in larger pictures, nothing is joined."""


def with_bits(mask: Mask, regions: Boxes) -> Boxes:
    """All regions of a mask of shape (height, width), in the order of their first pixels, with bits
    joined to the figure that they lie by, where it is plain which one; of shape (regions, 5)."""
    if len(regions) < 2 or mask.size > LARGEST:
        return regions
    small = regions[:, 4] * LESS < _usual_area(regions[:, 4])
    if not small.any() or len(regions) > MOST:
        return regions
    belongs = _nearest_figures(mask, regions, small)
    found = regions.copy()
    for bit, figure in belongs.items():
        found[figure, :2] = np.minimum(found[figure, :2], regions[bit, :2])
        found[figure, 2:4] = np.maximum(found[figure, 2:4], regions[bit, 2:4])
        found[figure, 4] += regions[bit, 4]
    return np.delete(found, list(belongs), axis=0)


def _usual_area(areas: Whole) -> float:
    """Half of all that is drawn is in regions of at least so many pixels."""
    ordered = np.sort(areas)
    return float(ordered[np.searchsorted(ordered.cumsum(), ordered.sum() / 2)])


def _nearest_figures(mask: Mask, regions: Boxes, small: Mask) -> dict[int, int]:
    """For bits that lie by one figure and by no other, the place of that figure."""
    from scipy.spatial import cKDTree

    points, owners = _rims(mask)
    of_figures = ~small[owners]
    tree, of_tree = cKDTree(points[of_figures]), owners[of_figures]
    between = NEARER * _space_between(regions[~small])
    reach = np.minimum(NEAR * (regions[:, 2:4] - regions[:, :2]).max(axis=1), between)
    belongs = {}
    by_owner = points[np.argsort(owners, kind="stable")]
    ends = np.cumsum(np.bincount(owners, minlength=len(regions)))
    for bit in np.flatnonzero(small).tolist():
        own = by_owner[ends[bit - 1] if bit else 0 : ends[bit]]
        far, nearest = tree.query(own)
        place = int(np.argmin(far))
        figure = int(of_tree[nearest[place]])
        if far[place] > reach[figure]:
            continue
        around = tree.query_ball_point(own[place], LONELY * far[place])
        if (of_tree[around] == figure).all():
            belongs[bit] = figure
    return belongs


def _space_between(figures: Boxes) -> float:
    """How far the boxes of figures lie from the next, those aside that lie closest."""
    if len(figures) < 2:
        return float("inf")
    left, top, right, bottom = figures[:, :4].T
    across = np.maximum(left[:, None] - right, left - right[:, None])
    down = np.maximum(top[:, None] - bottom, top - bottom[:, None])
    apart = np.maximum(np.maximum(across, down), 0)
    np.fill_diagonal(apart, np.iinfo(apart.dtype).max)
    return float(np.quantile(apart.min(axis=1), CLOSEST))


def _rims(mask: Mask) -> tuple[Whole, Whole]:
    """The pixels at the rims of regions, of shape (points, 2) as across and down, and the place of
    the region that each is of, in the order of their first pixels."""
    from scipy import ndimage

    labels, _ = ndimage.label(mask, np.ones((3, 3), bool))
    y, x = np.nonzero(mask & ~ndimage.binary_erosion(mask))
    return np.stack([x, y], axis=1), labels[y, x] - 1
