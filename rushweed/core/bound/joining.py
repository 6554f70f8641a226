"""Tiles that lie beside each other in levels, and whether one walks on from one to the next."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.bound.slabs import slabs
from rushweed.core.project.cells import CHUNK, Cells
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Rect

BLOCK = 8
"""Pairs are looked for, and remembered, in squares of so many chunks a side."""
MOST_KEPT = 4_000
"""Blocks of which pairs are remembered."""
SMALL_STEP = 2.0
"""A step of more pixels than this between two tiles is meant."""


@dataclass(frozen=True, slots=True)
class Step:
    """Two tiles beside each other whose tops differ by a few pixels; positive when the right one
    is higher. `cell` is a place of the left one in the level."""

    left: int
    right: int
    pixels: float
    cell: tuple[int, int]


def small_steps(project: Project, level: Level) -> Iterator[Step]:
    """Steps of a pixel or two between the tops of tiles that lie side by side with nothing solid
    above them, each pair of tiles once."""
    for left, right, cell in pairs_beside(project, level):
        before, after = _edge_height(project, left, True), _edge_height(project, right, False)
        if before is not None and after is not None and 0 < abs(before - after) <= SMALL_STEP:
            yield Step(left[0], right[0], before - after, cell)


def pairs_beside(
    project: Project, level: Level
) -> Iterator[tuple[tuple[int, int], tuple[int, int], tuple[int, int]]]:
    """Every two tiles with shapes, as (number, orientation), that lie side by side on a layer
    with nothing solid above them, once, and a cell of the left one."""
    shaped = _shaped_numbers(project)
    told: set[tuple[int, int]] = set()
    for layer in level.layers:
        if layer.parallax != 1 or not layer.solid:
            continue
        blocks = dict.fromkeys((x // BLOCK, y // BLOCK) for x, y in layer.cells.chunks)
        for block in blocks:
            for left, right, cell in _pairs_in(layer.cells, block, shaped):
                if (left, right) not in told:
                    told.add((left, right))
                    yield divmod(left, 8), divmod(right, 8), cell


_Found = list[tuple[int, int, tuple[int, int]]]
_memory: OrderedDict[tuple[int, ...], tuple[object, _Found]] = OrderedDict()
"""Pairs by what they were found in, which is kept beside them so that nothing else can have its
identity; a level of which little changed is looked through at once."""


def _pairs_in(cells: Cells, block: tuple[int, int], shaped: Mask) -> _Found:
    """The pairs whose left tile lies in a block, as codes, each with a cell."""
    column, row = block[0] * BLOCK, block[1] * BLOCK
    around = [
        cells.chunks.get((x, y))
        for y in range(row - 1, row + BLOCK)
        for x in range(column, column + BLOCK + 1)
    ]
    parts = [part for chunk in around for part in (chunk or (None, None))]
    identity = (column, row, *map(id, parts), id(shaped))
    known = _memory.get(identity)
    if known is None:
        found = _find_pairs(cells, (column * CHUNK, row * CHUNK), shaped)
        known = _memory[identity] = ((parts, shaped), found)
        if len(_memory) > MOST_KEPT:
            _memory.popitem(last=False)
    return known[1]


def _find_pairs(cells: Cells, corner: tuple[int, int], shaped: Mask) -> _Found:
    x, y = corner
    side = BLOCK * CHUNK + 1
    numbers, orientations = cells.window(Rect(x, y - 1, side, side))
    solid = shaped[np.minimum(numbers, len(shaped) - 1)] & (numbers < len(shaped))
    stands = solid[1:] & ~solid[:-1]
    rows, columns = np.nonzero(stands[:, :-1] & stands[:, 1:])
    codes = numbers[1:].astype(np.int64) * 8 + orientations[1:]
    both = codes[rows, columns] << 32 | codes[rows, columns + 1]
    values, firsts = np.unique(both, return_index=True)
    return [
        (code >> 32, code & 0xFFFFFFFF, (int(columns[first]) + x, int(rows[first]) + y))
        for code, first in zip(values.tolist(), firsts.tolist(), strict=True)
    ]


_shaped_memory: list[tuple[object, Mask]] = []


def _shaped_numbers(project: Project) -> Mask:
    """Which pieces are solid, by number; kept for the newest few versions of the sheets."""
    for sheets, known in _shaped_memory:
        if sheets is project.sheets:
            return known
    index = piece_index(project)
    shaped = np.zeros(max(index, default=0) + 2, bool)
    shaped[[number for number, (_, piece) in index.items() if _solid(piece)]] = True
    shaped[-1] = False
    _shaped_memory.insert(0, (project.sheets, shaped))
    del _shaped_memory[4:]
    return shaped


def _solid(piece: Piece) -> bool:
    return any(shape.stops != "sensor" for shape in piece.shapes or ())


def _edge_height(project: Project, tile: tuple[int, int], at_right: bool) -> float | None:
    """How high the top of a tile is at its right or left edge, in pixels over its lower edge."""
    found = project.find(tile[0])
    if found is None:
        return None
    size = found[1].rect.size
    far = Point(size.height if tile[1] & 4 else size.width, 0).x
    down = size.width if tile[1] & 4 else size.height
    edges = [
        slab.top_right if at_right else slab.top_left
        for slab in slabs(found[1].shapes or (), size, tile[1])
        if (slab.right == far if at_right else slab.left == 0)
    ]
    return down - min(edges) if edges else None
