"""What the pieces of a sheet are in levels seen from above, where a wall is as full as the floor
beside it: names tell it, what is seen, and where tiles lie in the levels that are painted.

    # # # # # #      what lies around a room is its wall
    # . . . . #
    # . . T . #      of a tree the foot stops one, and the top
    # . . t . #      covers whoever is behind it
    # # # # # #
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from operator import attrgetter

import numpy as np

from rushweed.core.arrays import Numbers
from rushweed.core.bound.fitting import fit_boxes
from rushweed.core.bound.proposing import Proposal
from rushweed.core.bound.tile_looks import is_tall_grass, is_water
from rushweed.core.bound.tile_words import TileWord, told_by
from rushweed.core.cut.loose import part_of
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.facts import Facts
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import Sheet

FOOT = 0.25
"""So much of what stands is its foot, as far as a tile goes."""
HIDDEN = 0.25
"""Tall grass hides so much of a tile's height."""
AT_RIM, THICKEST = 0.9, 3
"""So many of a wall's cells lie within its thickness of the edge of what is painted."""
TALLEST, WIDEST, ROUNDED = 6, 4, 0.85
"""A tall thing is so many tiles high and wide at most, and fills less of its box than this."""
MOST_CELLS = 512
"""Levels are looked through for walls so far across and down."""


def for_above(
    sheet: Sheet,
    picture: Picture,
    proposals: Mapping[int, Proposal],
    tile: int,
    levels: Sequence[Level] = (),
) -> dict[int, Proposal]:
    """What is proposed for pieces of a sheet, by number, as it is meant from above. `picture`, of
    shape (height, width, 4), is that of the sheet; `tile` is how many pixels high a cell is;
    `levels` are those that may be painted with it."""
    walls = walls_of(levels)
    clear = {number for number, one in proposals.items() if not _is_full(one)} - walls
    tall = {} if sheet.animations else _tall_things(sheet, picture) | _tall_in(levels, clear)
    found = {}
    for piece in sheet.pieces:
        if piece.number not in proposals:
            continue
        rect, one = piece.rect, proposals[piece.number]
        seen = picture[rect.y : rect.bottom, rect.x : rect.right]
        told, of_sheet = told_by(piece.name), told_by(sheet.name)
        looks = None
        if told is None and of_sheet in (None, "carries"):
            looks = _seen(seen, one, tile, tall.get(piece.number), piece.number in walls)
        told = told or of_sheet
        if looks is not None:
            found[piece.number] = looks
        elif told is not None:
            found[piece.number] = _told(one, told, seen, tile)
        else:
            solid = one.shapes or one.other
            found[piece.number] = Proposal((), sure=not solid, other=solid)
    return found


def _told(proposal: Proposal, told: TileWord, seen: Picture, tile: int) -> Proposal:
    """What a name tells of a piece."""
    solid = proposal.shapes or proposal.other
    if told == "carries":
        return Proposal(())
    if told == "water":
        return Proposal((), True, solid, Facts(moves="swims"))
    if told == "tall":
        return Proposal((), True, (), _tall_grass(tile))
    if told == "stands":
        return Proposal(_foot(seen, tile), True, ())
    return Proposal(solid, sure=proposal.sure)


def _seen(
    seen: Picture, proposal: Proposal, tile: int, above: int | None, is_wall: bool
) -> Proposal | None:
    """What a piece without a telling name seems to be, `above` the foot of something tall by so
    many tiles; None where its look tells nothing. Nothing seen is sure."""
    solid = proposal.shapes or proposal.other
    if above is not None:
        return _part_of_tall(seen, above, tile)
    if is_wall and solid:
        return Proposal(solid, False)
    if is_water(seen):
        return Proposal((), False, (), Facts(moves="swims"))
    if is_tall_grass(seen):
        return Proposal((), False, (), _tall_grass(tile))
    if len(seen) > tile and (seen[..., 3] == 0).any():
        return Proposal(_foot(seen, tile), False)
    return None


def _tall_grass(tile: int) -> Facts:
    return Facts(wade=max(1, round(HIDDEN * tile)))


def _foot(seen: Picture, tile: int) -> tuple[Shape, ...]:
    """The box around the lowest rows of what is drawn."""
    rows = max(1, round(FOOT * min(len(seen), 2 * tile)))
    return fit_boxes({0: seen[..., 3] > 0}, rows).shapes[0]


def _part_of_tall(seen: Picture, above: int, tile: int) -> Proposal:
    """A tile of a tall thing that lies so many tiles above its foot."""
    if above:
        return Proposal((), False, (), Facts(cover=above))
    return Proposal(_foot(seen, tile), False)


def _tall_things(sheet: Sheet, picture: Picture) -> dict[int, int]:
    """The tiles of what is drawn over several rows of tiles and stands alone, such as a tree, by
    number, and how many tiles each lies above the foot."""
    from scipy import ndimage

    high = max((piece.rect.height for piece in sheet.pieces), default=1)
    wide = max((piece.rect.width for piece in sheet.pieces), default=1)
    labels, _ = ndimage.label(picture[..., 3] > 0, np.ones((3, 3)))
    ends = {}
    for label, (rows, columns) in enumerate(ndimage.find_objects(labels), 1):
        tall, across = rows.stop - rows.start, columns.stop - columns.start
        fits = high < tall <= TALLEST * high and across <= WIDEST * wide
        if fits and (labels[rows, columns] == label).mean() < ROUNDED:
            ends[label] = int(rows.stop)
    found = {}
    for piece in sheet.pieces if ends else ():
        inside = part_of(labels, piece.rect)
        counts = np.bincount(inside[inside > 0].ravel(), minlength=1)
        end = ends.get(int(counts.argmax())) if counts.any() else None
        if end is not None:
            found[piece.number] = max(0, -(-(end - piece.rect.bottom) // high))
    return found


def _is_full(proposal: Proposal) -> bool:
    """Whether all of a tile is drawn: it is given one box, as large as it is."""
    shapes = proposal.shapes or proposal.other
    form = shapes[0].form if len(shapes) == 1 else None
    return isinstance(form, Box) and (form.x, form.y) == (0, 0)


def _tall_in(levels: Iterable[Level], clear: Collection[int]) -> dict[int, int]:
    """The tiles that lie over each other in some levels, with nothing painted around them, and how
    many tiles each lies above the lowest; those that lie now here, now there are none."""
    from scipy import ndimage

    found: dict[int, set[int]] = {}
    for level in levels:
        for layer in filter(attrgetter("is_walked"), level.layers):
            area = layer.cells.bounds()
            if not area.area or max(area.size) > MOST_CELLS:
                continue
            cells, _ = layer.cells.window(area)
            labels, _ = ndimage.label(np.isin(cells, list(clear)))
            for label, (rows, columns) in enumerate(ndimage.find_objects(labels), 1):
                high, wide = rows.stop - rows.start, columns.stop - columns.start
                stands = 1 < high <= TALLEST and wide <= WIDEST
                for row, column in np.argwhere(labels[rows, columns] == label).tolist():
                    number = int(cells[rows.start + row, columns.start + column])
                    found.setdefault(number, set()).add(high - 1 - row if stands else -1)
    return {n: above.pop() for n, above in found.items() if len(above) == 1 and -1 not in above}


def walls_of(levels: Iterable[Level]) -> frozenset[int]:
    """The tiles that lie around a part of some levels, be it painted or not, and nowhere else."""
    return frozenset().union(*map(_walls, levels))


def _walls(level: Level) -> frozenset[int]:
    from scipy import ndimage

    area = bounds(level)
    layers = [layer.cells for layer in level.layers if layer.is_walked]
    if not area.area or max(area.size) > MOST_CELLS or not layers:
        return frozenset()
    cells = [layer.window(area.grown(1))[0] for layer in layers]
    painted = np.any([one > 0 for one in cells], axis=0)
    whole = _counts(cells)
    for thick in range(1, THICKEST + 1):
        at_rim = ndimage.binary_dilation(~painted, iterations=thick)
        rim = _counts([np.where(at_rim, one, 0) for one in cells])
        walls = [number for number in rim if rim[number] >= AT_RIM * whole[number]]
        around = np.any([np.isin(one, walls) for one in cells], axis=0)
        parts, _ = ndimage.label(~around)
        outside = np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]])
        if np.isin(parts[~around], outside, invert=True).any():
            return frozenset(walls)
    return frozenset()


def _counts(layers: Sequence[Numbers]) -> dict[int, int]:
    """How often each tile lies in the cells of some layers."""
    cells = np.concatenate([one[one > 0] for one in layers])
    numbers, counts = np.unique(cells, return_counts=True)
    return dict(zip(numbers.tolist(), counts.tolist(), strict=True))
