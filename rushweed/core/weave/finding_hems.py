"""Hems that lie in a tileset: whole sets, nine tiles that finish an area on all sides, and inner
corners."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.values import Rect
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


NINE = (
    *(432, 504, 216),
    *(438, 511, 219),
    *(54, 63, 27),
)
"""The parts of the nine tiles of an island, in reading order."""
INNER = (511 - 256, 511 - 64, 511 - 4, 511 - 1)
"""The four tiles around a hole's corner where they lie as a square."""
NEAR = 4
"""Inner corners lie so many cells from their nine at most."""
MOST_TILES = 1200
LEAST_SIDE = 6
UNLIKE = 12.0
"""Colours inside and around an island differ by at least so much, in levels of RGBA."""
LEFT, RIGHT, TOP, BOTTOM = range(4)
Found = tuple[int, ...]


def find_hems(sheet: Sheet, picture: Picture) -> Iterator[Found]:
    """The pieces of each hem that lies in a tileset: a whole set of 47 or 16 as one block, or nine,
    or thirteen with inner corners. `picture` is the sheet's. Goes on from block to block, so that
    it can be stopped between."""
    grid = _grid(sheet)
    edges = {place: _edge_colours(cut_out(picture, piece.rect)) for place, piece in grid.items()}
    taken: set[tuple[int, int]] = set()
    for found in find_sets(grid, edges, picture):
        taken |= {*found}
        yield tuple(grid[place].number for place in found)
    for column, row in sorted(grid, key=lambda place: (place[1], place[0])):
        block = [(column + x, row + y) for y, x in product(range(3), range(3))]
        yield ()
        if not taken.isdisjoint(block) or not _may_be_an_island(edges, block):
            continue
        if _looks_like(grid, block, picture, NINE):
            inner = _inner(grid, block, picture, taken)
            taken |= {*block, *inner}
            yield tuple(grid[place].number for place in (*block, *inner))


def _grid(sheet: Sheet) -> Grid:
    """The tiles of the usual size by their cells; none where there are too many or too few."""
    sizes = [piece.rect.size for piece in sheet.pieces]
    if not 9 <= len(sizes) <= MOST_TILES:
        return {}
    usual = max(set(sizes), key=sizes.count)
    if min(usual) < LEAST_SIDE:
        return {}
    across, down, left, top = *usual, 0, 0
    if isinstance(sheet.layout, EvenCells):
        across, down = across + sheet.layout.gap.width, down + sheet.layout.gap.height
        left, top = sheet.layout.margin
    return {
        ((piece.rect.x - left) // across, (piece.rect.y - top) // down): piece
        for piece in sheet.pieces
        if piece.rect.size == usual
    }


def _edge_colours(tile: Picture) -> Reals:
    """The mean colours, multiplied by alpha, of the middles of the four edges: left, right, top,
    bottom; of shape (4, 4)."""
    height, width = tile.shape[:2]
    rows, columns = slice(height // 3, -(height // 3)), slice(width // 3, -(width // 3))
    lines = (tile[rows, 0], tile[rows, -1], tile[0, columns], tile[-1, columns])
    means = []
    for line in lines:
        alpha = line[:, 3:].astype(np.float64)
        means.append(np.concatenate([line[:, :3] * alpha / 255, alpha], axis=1).mean(axis=0))
    return np.array(means)


def _may_be_an_island(edges: Mapping[tuple[int, int], Reals], block: list[tuple[int, int]]) -> bool:
    """Whether edges inside of a block are like each other, and unlike those around it."""
    if not all(place in edges for place in block):
        return False
    tiles = np.array([edges[place] for place in block]).reshape(3, 3, 4, 4)
    pairs = np.concatenate([
        np.stack([tiles[:, :2, RIGHT], tiles[:, 1:, LEFT]], axis=2).reshape(-1, 2, 4),
        np.stack([tiles[:2, :, BOTTOM], tiles[1:, :, TOP]], axis=2).reshape(-1, 2, 4),
    ])  # fmt: skip
    outer = np.concatenate([
        tiles[:, 0, LEFT], tiles[:, 2, RIGHT], tiles[0, :, TOP], tiles[2, :, BOTTOM]
    ])  # fmt: skip
    unlike = float(np.linalg.norm(pairs.mean(axis=(0, 1)) - outer.mean(axis=0)))
    fits = float(np.linalg.norm(pairs[:, 0] - pairs[:, 1], axis=1).mean())
    return unlike > UNLIKE and fits < unlike


def _looks_like(
    grid: Grid,
    block: list[tuple[int, int]],
    picture: Picture,
    marks: tuple[int, ...],
) -> bool:
    tiles = {number: cut_out(picture, grid[place].rect) for number, place in enumerate(block)}
    if not (tiles[4][..., 3] > 127).all():
        return False
    return tuple(read_marks(tiles).values()) == marks


def _inner(
    grid: Grid, block: list[tuple[int, int]], picture: Picture, taken: set[tuple[int, int]]
) -> list[tuple[int, int]]:
    """Four inner corners as a square near the nine, in either order; none where there are none."""
    left, top = block[0]
    around = Rect(left, top, 3, 3).grown(NEAR)
    nine = {number: cut_out(picture, grid[place].rect) for number, place in enumerate(block)}
    for row, column in product(range(around.y, around.bottom), range(around.x, around.right)):
        square = [(column + x, row + y) for y, x in product(range(2), range(2))]
        if not all(place in grid for place in square) or {*square} & {*block, *taken}:
            continue
        tiles = {9 + n: cut_out(picture, grid[place].rect) for n, place in enumerate(square)}
        marks = [*read_marks(nine | tiles).values()]
        if tuple(marks[:9]) == NINE and sorted(marks[9:]) == sorted(INNER):
            return square
    return []


def is_new(found: Found, project: Project) -> bool:
    """Whether something was found, and no hem of the project has these tiles."""
    known = {tile.piece for hem in project.hems for tile in hem.tiles}
    return bool(found) and not known.intersection(found)
