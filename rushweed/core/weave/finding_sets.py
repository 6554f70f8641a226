"""Hems that lie in a tileset as one block: all 47 tiles that neighbours ask for, or all 16 that
sides or corners do."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Piece
from rushweed.core.weave.hem_marks import read_marks
from rushweed.core.weave.hems import ALL_CORNERS, SIDES, counting

Cell = tuple[int, int]
Grid = Mapping[Cell, Piece]
BLOCKS = ((12, 4), (4, 12), (8, 6), (6, 8), (7, 7), (10, 5), (5, 10), (16, 3), (47, 1), (4, 4))
"""Columns and rows of the blocks that such sets come in, the large ones first."""
WHOLE, NEARLY = 47, 44
"""Tiles of a set for all neighbours, and as many different ones as have to be read in it."""
SIXTEEN = 16
COMBINED = 15
"""So many of the sixteen ways in which four edges are inside or outside are met in a set."""


def find_sets(grid: Grid, edges: Mapping[Cell, Reals], picture: Picture) -> Iterator[list[Cell]]:
    """The cells of each set that lies as one block, tile by tile in reading order; empty ones
    between, so that it can be stopped. `edges` are the mean colours of each tile's edges."""
    taken: set[Cell] = set()
    corners = sorted(grid, key=lambda place: (place[1], place[0]))
    for across, down in BLOCKS:
        for column, row in corners:
            places = [(column + x, row + y) for y, x in product(range(down), range(across))]
            block = [place for place in places if place in grid]
            yield []
            few = len(block) < min(across * down, WHOLE)
            if few or not taken.isdisjoint(block) or not _combines([edges[one] for one in block]):
                continue
            tiles = {n: cut_out(picture, grid[place].rect) for n, place in enumerate(block)}
            if _is_whole(list(read_marks(tiles).values())):
                taken |= {*block}
                yield block


def _combines(edges: Sequence[Reals]) -> bool:
    """Whether edges are of two kinds that come in nearly all ways around tiles."""
    whole = np.array(edges)
    apart = whole - whole.mean(axis=(0, 1))
    along = np.linalg.svd(apart.reshape(-1, apart.shape[-1]), full_matrices=False)[2][0]
    inside = apart @ along > 0
    ways = np.unique(inside @ (1 << np.arange(4)))
    return len(ways) >= COMBINED


def _is_whole(marks: Sequence[int]) -> bool:
    """Whether tiles with these marks are a set that finishes any area."""
    around = len({counting(parts, "all around") for parts in marks})
    if len(marks) >= WHOLE:
        return around >= NEARLY
    sides = len({parts & sum(SIDES.values()) for parts in marks})
    corners = len({parts & ALL_CORNERS for parts in marks})
    return len(marks) == SIXTEEN and max(sides, corners) >= COMBINED
