"""Loose pieces: what hangs together, told apart by empty space."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.cut.bits import with_bits
from rushweed.core.cut.parting import parted
from rushweed.core.cut.regions import Boxes, in_cells, rect_of, regions_of
from rushweed.core.project.sheet import LoosePieces
from rushweed.core.values import Rect

FLAT = 2.5
"""A shadow is at least so many times as wide as high."""
UNDER = 0.6
"""At least this part of a shadow lies under what throws it."""


def part_of(mask: Mask, rect: Rect) -> Mask:
    """What is something in a rectangle, of its size; what lies past the picture is nothing."""
    inside = rect.intersection(Rect(0, 0, mask.shape[1], mask.shape[0]))
    if inside == rect:
        return mask[rect.y : rect.bottom, rect.x : rect.right]
    part = np.zeros((rect.height, rect.width), bool)
    if inside.area:
        left, top = inside.x - rect.x, inside.y - rect.y
        place = np.s_[top : top + inside.height, left : left + inside.width]
        part[place] = mask[inside.y : inside.bottom, inside.x : inside.right]
    return part


def loose_pieces(mask: Mask, layout: LoosePieces, regions: Boxes | None = None) -> list[Rect]:
    """The rectangles around pieces in reading order.

    Pixels belong together when they touch, by a side or a corner, or when fewer than
    `layout.distance` empty pixels lie between them. Pieces with fewer than `layout.least`
    pixels are left out; with `layout.parted`, those that are several figures are parted. With
    `layout.within`, all that lies in one of its cells is one piece.
    `regions` is what hangs together, where that is known already.
    """
    if layout.within is not None:
        regions = regions_of(mask) if regions is None else regions
        in_each = in_cells(regions[regions[:, 4] >= layout.least], layout.within)
        if in_each is not None:
            return in_each
    if layout.distance <= 1:
        grown, regions = mask, regions_of(mask) if regions is None else regions
    else:
        grown, regions = _joined(mask, layout.distance)
    if layout.bits:
        regions = with_bits(grown, regions)
    large = regions[regions[:, 4] >= layout.least]
    found = [rect_of(box) for box in (parted(mask, large) if layout.parted else large).tolist()]
    return with_shadows(found) if layout.shadows else reading_order(found)


def _joined(mask: Mask, distance: int) -> tuple[Mask, Boxes]:
    """What belongs together where fewer than so many empty pixels lie between, in one piece; and
    the regions, as they were drawn."""
    from scipy import ndimage

    grown = ndimage.maximum_filter(mask, size=distance, mode="constant")
    labels, _ = ndimage.label(grown, np.ones((3, 3), bool))
    labels = np.where(mask, labels, 0)
    found = [
        (part[1].start, part[0].start, part[1].stop, part[0].stop, (labels[part] == label).sum())
        for label, part in enumerate(ndimage.find_objects(labels), 1)
        if part is not None
    ]
    return grown, np.array(found, np.int64).reshape(-1, 5)


def reading_order(rects: list[Rect]) -> list[Rect]:
    """Rows from the top, each from the left."""
    return [rect for row in rows_of(rects) for rect in row]


def rows_of(rects: list[Rect]) -> list[list[Rect]]:
    """Rows from the top, each from the left; a row is what overlaps by half in height."""
    rows: list[list[Rect]] = []
    open_rows: list[tuple[int, int, list[Rect]]] = []
    tallest = max((rect.height for rect in rects), default=0)
    for rect in sorted(rects, key=lambda r: (r.y + r.height / 2, r.x)):
        top, bottom = rect.y, rect.bottom
        reach = top + rect.height / 2 - tallest / 2
        open_rows = [row for row in open_rows if row[1] > reach]
        for first, last, row in open_rows:
            shared = min(last, bottom) - max(first, top)
            if shared * 2 >= min(last - first, bottom - top):
                row.append(rect)
                break
        else:
            rows.append([rect])
            open_rows.append((top, bottom, rows[-1]))
    rows.sort(key=lambda row: min(rect.y for rect in row))
    return [sorted(row, key=lambda rect: rect.x) for row in rows]


def with_shadows(rects: list[Rect]) -> list[Rect]:
    """Flat pieces joined with what stands just above them, as a shadow does."""
    result = list(rects)
    for flat in rects:
        above = [rect for rect in result if rect != flat and _stands_on(rect, flat)]
        if flat.width >= FLAT * flat.height and above and flat in result:
            nearest = max(above, key=lambda rect: rect.bottom)
            result[result.index(nearest)] = nearest.union(flat)
            result.remove(flat)
    return reading_order(result)


def _stands_on(rect: Rect, flat: Rect) -> bool:
    """Whether a piece stands above a flat one, near enough to throw it as a shadow."""
    shared = min(rect.right, flat.right) - max(rect.x, flat.x)
    near = -flat.height <= flat.y - rect.bottom <= 2 * flat.height
    return near and rect.height > flat.height and shared >= UNDER * flat.width
