"""Whatever changes cells, hems are finished, and nothing of another purpose is lost."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.gather.art import Art, cut_out
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem, HemTile
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.finding_hems import find_hems
from rushweed.core.weave.finishing import draw_hem
from rushweed.core.weave.hand import (
    Drawn,
    Hand,
    drawn,
    lay_box,
    lay_fill,
    lay_moved,
    lay_nothing,
    lay_places,
)
from rushweed.core.weave.hems import CORNERS, SIDES, Around, counting, propose_hem
from rushweed.core.weave.levels import crop_level, spread_level
from rushweed.core.weave.painting import Brush
from tests.conftest import DEMO
from tools.corpus.hem_sets import HemSet, draw_set, marks_of

ALL = [n for n in range(512) if n & 16]
ART = Art(DEMO)
places = st.sets(st.tuples(st.integers(-4, 5), st.integers(-4, 5)), min_size=1, max_size=40)
ways = st.sampled_from(["all around", "sides"])
rects = st.builds(
    Rect, st.integers(-4, 4), st.integers(-4, 4), st.integers(1, 5), st.integers(1, 5)
)


def full_hem(name: str, first: int, way: str = "all around", meets: tuple[str, ...] = ()) -> Hem:
    """A hem that has a tile for every case, numbered by its parts."""
    return Hem(name, tuple(HemTile(first + n, n) for n in ALL), way, meets=meets)  # type: ignore[arg-type]


def level_with(cells: Cells, *hems: Hem) -> Project:
    return Project(levels=(Level("fen", (Layer("Ground", cells),)),), hems=hems)


def cells_of(project: Project) -> Cells:
    return project.levels[0].layers[0].cells


def painted(cells: Cells) -> set[Key]:
    area = cells.bounds()
    columns, rows = range(area.x, area.right), range(area.y, area.bottom)
    return {(x, y) for x in columns for y in rows if cells.at(x, y)[0]}


def lay(project: Project, act) -> Drawn:
    return drawn(project, ART, "fen", 0, act)


def assert_finished(cells: Cells, hem: Hem) -> None:
    """Each tile is one that the hem would draw there."""
    drawn_anew = draw_hem(Cells(), hem, Around({}), painted(cells)).cells
    for place in painted(cells):
        one, other = (counting(layer.at(*place)[0] - 1, hem.way) for layer in (cells, drawn_anew))
        assert one == other


@given(places, ways, rects, st.tuples(st.integers(-6, 6), st.integers(-6, 6)), st.booleans())
def test_hems_are_finished_whatever_changed_their_cells(area, way, part, by, copy) -> None:
    hem = full_hem("shore", 1, way)
    project = level_with(draw_hem(Cells(), hem, Around({}), area).cells, hem)
    rubbing = Hand(rubs=True)
    acts = (
        lambda spot: lay_nothing(spot, part),
        lambda spot: lay_moved(spot, Hand(), part, by, copy),
        lambda spot: lay_places(spot, rubbing, [(part.x, part.y)]),
    )
    for act in acts:
        assert_finished(cells_of(lay(project, act).project), hem)
    for edit in (
        lambda p: spread_level(p, "fen", part.x, by[0], rows=False),
        lambda p: spread_level(p, "fen", part.y, by[1], rows=True),
        lambda p: crop_level(p, "fen", part),
    ):
        assert_finished(cells_of(edit(project)), hem)


@given(places, places)
def test_where_hems_join_both_sides_are_chosen_anew(mine, theirs) -> None:
    shore = full_hem("shore", 1, meets=("path",))
    path = full_hem("path", 1001, meets=("shore",))
    project = level_with(Cells(), shore, path)
    for hem, area in (("shore", mine), ("path", theirs), ("shore", {(0, 0)})):
        hand = Hand(hem=hem)
        project = lay(project, partial(lay_places, hand=hand, places=area)).project
    cells = cells_of(project)
    for x, y in painted(cells):
        parts = (cells.at(x, y)[0] - 1) % 1000
        for (dx, dy), bit in SIDES.items():
            assert bool(parts & bit) == bool(cells.at(x + dx, y + dy)[0])


@given(places, rects, st.tuples(st.integers(-6, 6), st.integers(-6, 6)))
def test_a_hem_by_corners_goes_no_further_than_its_cells(area, part, by) -> None:
    bits = tuple(CORNERS.values())
    tiles = (sum(bit for i, bit in enumerate(bits) if n >> i & 1) for n in range(1, 16))
    hem = Hem("bank", tuple(HemTile(1 + parts, parts) for parts in tiles), "corners")
    project = level_with(draw_hem(Cells(), hem, Around({}), area).cells, hem)
    for act in (
        lambda spot: lay_nothing(spot, part),
        lambda spot: lay_moved(spot, Hand(), part, by),
    ):
        cells = cells_of(lay(project, act).project)
        for x, y in painted(cells):
            for (dx, dy), bit in CORNERS.items():
                if (cells.at(x, y)[0] - 1) & bit:
                    around = [(x + dx, y), (x, y + dy), (x + dx, y + dy)]
                    told = [(bit_of(-dx, dy)), bit_of(dx, -dy), bit_of(-dx, -dy)]
                    for place, other in zip(around, told, strict=True):
                        assert (cells.at(*place)[0] - 1) & other and cells.at(*place)[0]


def bit_of(dx: int, dy: int) -> int:
    return CORNERS[dx, dy]


def test_a_fill_with_a_hem_in_hand_fills_with_the_hem() -> None:
    hem = full_hem("shore", 1)
    project = level_with(Cells(), hem)
    within = Rect(0, 0, 5, 4)
    fill = partial(lay_fill, hand=Hand(hem="shore"), start=(2, 2), by="tile", within=within)
    filled = {(x, y) for x in range(5) for y in range(4)}
    expected = draw_hem(Cells(), hem, Around({}), filled).cells
    assert cells_of(lay(project, fill).project) == expected


# -- purposes ------------------------------------------------------------------------

WALL, TUFT, FLOWER, OTHER = 1, 2, 3, 4


def bound_tiles(cells: Cells) -> Project:
    """A solid tile, two that are only looked at, and one of a sheet that nobody has bound."""
    solid = (Shape(Box(0, 0, 16, 16)),)
    rect, foot = Rect(0, 0, 16, 16), Point(8, 16)
    shapes = {WALL: solid, TUFT: (), FLOWER: ()}
    pieces = tuple(Piece(n, rect, foot, shapes=shape) for n, shape in shapes.items())
    source = Source("art/x.png", "0" * 64, Size(16, 16))
    sheets = (
        Sheet("fen", (source,), pieces=pieces),
        Sheet("moor", (source,), pieces=(Piece(OTHER, rect, foot),)),
    )
    return Project(sheets=sheets, levels=(Level("fen", (Layer("Ground", cells),)),))


tiles = st.sampled_from([0, WALL, TUFT, FLOWER, OTHER])
lain = st.dictionaries(
    st.tuples(st.integers(0, 5), st.integers(0, 4)), tiles.map(lambda n: (n, 0)), max_size=20
).map(lambda changes: Cells().painted(changes))
blocks = st.lists(st.lists(tiles, min_size=2, max_size=2), min_size=1, max_size=3).map(
    lambda rows: Brush(tuple(tuple((n, 0) for n in row) for row in rows))
)
KINDS = {WALL: "solid", TUFT: "decoration", FLOWER: "decoration"}


def clash(old: int, new: int) -> bool:
    return old in KINDS and new in KINDS and KINDS[old] != KINDS[new]


@given(lain, blocks, rects)
def test_no_cell_is_taken_by_what_serves_another_purpose(cells, brush, part) -> None:
    project = bound_tiles(cells)
    first, last = (part.x, part.y), (part.right - 1, part.bottom - 1)
    stroke = [(part.x, part.y), (part.x + 2, part.y)]
    for act in (
        partial(lay_box, hand=Hand(brush), first=first, last=last),
        partial(lay_places, hand=Hand(brush), places=stroke),
        partial(lay_moved, hand=Hand(), area=part, way=(2, 1), copy=True),
        partial(lay_moved, hand=Hand(), area=part, way=(2, 1)),
    ):
        made = lay(project, act)
        after, spared = cells_of(made.project), made.laid.spared
        for place in painted(cells):
            assert not clash(cells.at(*place)[0], after.at(*place)[0])
        assert spared <= painted(cells), "nothing stays in free air"
        assert all(after.at(*place) == cells.at(*place) for place in spared)
    after = cells_of(made.project)
    held = sorted(cells.at(*place)[0] for place in painted(cells))
    for number in (WALL, TUFT, FLOWER):
        gone = {p for p in painted(cells) if cells.at(*p)[0] == number}
        if held.count(number) and not any(part.contains(x - 2, y - 1) for x, y in gone):
            assert any(after.at(*p)[0] == number for p in painted(after)), (
                "a moved tile is not lost"
            )
    said = lay(project, partial(lay_box, hand=Hand(brush, keeps=False), first=first, last=last))
    assert not said.laid.spared


SIZES = [(16, 16), (32, 32), (24, 16), (8, 8), (48, 40)]


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
