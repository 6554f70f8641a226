"""Hems read from rims: every set of known truth, of any scale, clear or opaque."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.gather.art import cut_out
from rushweed.core.project.cells import Cells
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.finding_hems import find_hems
from rushweed.core.weave.finishing import draw_hem
from rushweed.core.weave.hem_marks import read_marks
from rushweed.core.weave.hems import Around, propose_hem
from tools.corpus.hem_sets import HemSet, draw_set, marks_of

SIZES = [(16, 16), (32, 32), (24, 16), (8, 8), (48, 40)]


@pytest.mark.slow
@pytest.mark.parametrize("count", [9, 13, 16, 47, 256])
@pytest.mark.parametrize("clear", [True, False])
def test_nearly_all_tiles_of_made_sets_are_marked_rightly(count: int, clear: bool) -> None:
    right = tiles_in_all = 0
    for width, height in SIZES:
        widest = min(width, height) // 2 - 1
        for rim in sorted({1, 2, width // 4, widest}):
            rough = int(2 < rim < widest - 1)
            tiles, marks = draw_set(HemSet(count, width, height, rim, clear, rough))
            read = read_marks(dict(enumerate(tiles)))
            right += sum(read[place] == parts for place, parts in enumerate(marks))
            tiles_in_all += len(marks)
    assert right / tiles_in_all >= 0.98


@pytest.mark.slow
@settings(max_examples=20)
@given(
    st.sampled_from(SIZES),
    st.booleans(),
    st.sets(st.tuples(st.integers(0, 5), st.integers(0, 5)), min_size=1, max_size=25),
)
def test_islands_are_drawn_right_cell_by_cell(
    size: tuple[int, int], clear: bool, island: set[tuple[int, int]]
) -> None:
    tiles, marks = draw_set(HemSet(47, *size, 3, clear))
    hem = propose_hem("shore", {n + 1: tile for n, tile in enumerate(tiles)})
    drawn = draw_hem(Cells(), hem, Around({}), island)
    assert not drawn.lacking
    bits = {(-1, -1): 1, (0, -1): 2, (1, -1): 4, (-1, 0): 8, (1, 0): 32}
    bits |= {(-1, 1): 64, (0, 1): 128, (1, 1): 256}
    for x, y in island:
        around = {to for to in bits if (x + to[0], y + to[1]) in island}
        wanted = 16 + sum(
            bits[to] for to in around if 0 in to or {(to[0], 0), (0, to[1])} <= around
        )
        assert marks[drawn.cells.at(x, y)[0] - 1] == wanted


Blocks = dict[tuple[int, int], list[np.ndarray]]


def a_tileset(blocks: Blocks, side: int) -> tuple[Sheet, np.ndarray]:
    """A sheet of 10 × 8 tiles of noise, with some tiles put at cells, three in a row."""
    dice = np.random.default_rng(5)
    picture = np.full((8 * side, 10 * side, 4), 255, np.uint8)
    picture[..., :3] = dice.integers(0, 256, (8, 10, 3)).repeat(side, 0).repeat(side, 1)
    for (column, row), tiles in blocks.items():
        for place, tile in enumerate(tiles):
            wide = 3 if len(tiles) == 9 else 2
            y, x = (row + place // wide) * side, (column + place % wide) * side
            picture[y : y + side, x : x + side] = tile
    pieces = tuple(
        Piece(1 + n, Rect(n % 10 * side, n // 10 * side, side, side), Point(0, 0))
        for n in range(80)
    )
    return Sheet("fen", (), kind="tileset", pieces=pieces), picture


def thirteen(clear: bool, side: int = 16) -> Blocks:
    """A nine and its inner corners, as they lie in a tileset."""
    tiles, marks = draw_set(HemSet(13, side, side, 4, clear))
    by_marks = dict(zip(marks, tiles, strict=True))
    nine = [by_marks[m] for m in (432, 504, 216, 438, 511, 219, 54, 63, 27)]
    return {(2, 1): nine, (6, 2): [by_marks[511 - corner] for corner in (256, 64, 4, 1)]}


@pytest.mark.parametrize("clear", [True, False])
def test_hems_are_found_in_a_tileset_without_being_asked(clear: bool) -> None:
    side = 16
    sheet, picture = a_tileset(thirteen(clear), side)
    (found,) = [one for one in find_hems(sheet, picture) if one]
    cells = [((n - 1) % 10, (n - 1) // 10) for n in found]
    assert cells[:9] == [(2 + x, 1 + y) for y in range(3) for x in range(3)]
    assert cells[9:] == [(6, 2), (7, 2), (6, 3), (7, 3)]
    apart = Sheet("fen", (), kind="tileset", layout=EvenCells(Size(side, side), gap=Size(3, 2)))
    wide = np.zeros((8 * (side + 2), 10 * (side + 3), 4), np.uint8)
    pieces = []
    for piece in sheet.pieces:
        x, y = piece.rect.x // side * (side + 3), piece.rect.y // side * (side + 2)
        wide[y : y + side, x : x + side] = cut_out(picture, piece.rect)
        pieces.append(replace(piece, rect=Rect(x, y, side, side)))
    assert found in list(find_hems(replace(apart, pieces=tuple(pieces)), wide)), "with gaps, too"
    plain, noise = a_tileset({}, side)
    assert not any(find_hems(plain, noise))
    assert not any(find_hems(Sheet("none", ()), noise))
    flat = np.full_like(noise, 90)
    assert not any(find_hems(plain, flat))
    assert cut_out(flat, plain.pieces[0].rect).shape == (side, side, 4)


@pytest.mark.parametrize("clear", [True, False])
@pytest.mark.parametrize(("count", "across", "column"), [(47, 8, 1), (47, 7, 3), (16, 4, 2)])
def test_whole_sets_are_found_as_one_block(
    count: int, across: int, column: int, clear: bool
) -> None:
    side, shuffled = 16, np.random.default_rng(count + across)
    tiles, marks = draw_set(HemSet(count, side, side, 3, clear))
    order = shuffled.permutation(count)
    sheet, picture = a_tileset({}, side)
    for place, which in enumerate(order):
        y, x = (1 + place // across) * side, (column + place % across) * side
        picture[y : y + side, x : x + side] = tiles[which]
    found = next(one for one in find_hems(sheet, picture) if one)
    cells = [((n - 1) % 10, (n - 1) // 10) for n in found]
    wanted = [(column + n % across, 1 + n // across) for n in range(count)]
    assert set(wanted) <= set(cells) and len(cells) <= count + 2
    hem = propose_hem("shore", {n: cut_out(picture, sheet.pieces[n - 1].rect) for n in found})
    read = {cell: tile.parts for cell, tile in zip(cells, hem.tiles, strict=True)}
    right = [read[cell] == marks[which] for cell, which in zip(wanted, order, strict=True)]
    assert np.mean(right) >= 0.95


def test_sets_have_as_many_tiles_as_they_say() -> None:
    for count in (9, 13, 16, 47, 256):
        assert len(marks_of(count)) == count
    assert len(set(marks_of(47))) == 47
