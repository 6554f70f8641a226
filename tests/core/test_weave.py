"""Levels: strokes, fills, turns, drawing."""

from __future__ import annotations

import itertools
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.gather.art import Art
from rushweed.core.orientation import turned, turned_point
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, bounds
from rushweed.core.project.project import Project, with_level
from rushweed.core.project.rules import View
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.blending import blend
from rushweed.core.weave.hand import Hand, count_everywhere, replace_everywhere
from rushweed.core.weave.laying import lay_tiles
from rushweed.core.weave.levels import (
    add_layer,
    main_layer,
    set_cells,
    set_start,
)
from rushweed.core.weave.painting import ERASER, Brush, line, pick, single, stroke
from tests.conftest import DEMO
from tests.samples import cells, checkered, filling

cell = st.tuples(st.integers(-50, 50), st.integers(-50, 50))


@given(cell, cell)
def test_strokes_have_no_gaps_and_reach_both_ends(
    start: tuple[int, int], end: tuple[int, int]
) -> None:
    way = list(line(start, end))
    assert way[0] == start and way[-1] == end and len(set(way)) == len(way)
    for (x0, y0), (x1, y1) in itertools.pairwise(way):
        assert max(abs(x1 - x0), abs(y1 - y0)) == 1
    assert len(way) == max(abs(end[0] - start[0]), abs(end[1] - start[1])) + 1


@given(cells, cell, cell, st.integers(1, 9))
def test_painting_then_rubbing_out_leaves_nothing_of_it(
    before: Cells, start: tuple[int, int], end: tuple[int, int], number: int
) -> None:
    painted = stroke(before, single(number, 3), start, end)
    assert all(painted.at(*place) == (number, 3) for place in line(start, end))
    gone = stroke(painted, ERASER, start, end)
    assert all(gone.at(*place) == (0, 0) for place in line(start, end))
    assert stroke(painted, single(number, 3), start, end) is painted, "no change, same object"
    assert stroke(Cells(), ERASER, start, end).count() == 0


@given(cells, st.integers(-70, 50), st.integers(-70, 50), st.integers(1, 9), st.integers(1, 9))
def test_what_is_picked_up_is_laid_down_again(
    before: Cells, x: int, y: int, w: int, h: int
) -> None:
    brush = pick(before, Rect(x, y, w, h))
    assert (brush.width, brush.height) == (w, h)
    laid = stroke(Cells(), brush, (x + 200, y), (x + 200, y))
    for row in range(h):
        for column in range(w):
            assert laid.at(x + 200 + column, y + row) == before.at(x + column, y + row)


def test_fills_stop_at_other_tiles_and_at_the_rectangle_of_what_is_painted() -> None:
    ring = {(x, y): (1, 0) for x in range(6) for y in range(5) if x in (0, 5) or y in (0, 4)}
    room = Cells().painted(ring)
    inner = filling(room, single(2), (2, 2))
    assert inner.count() == 30 and inner.at(1, 1) == (2, 0) and inner.at(0, 0) == (1, 0)
    walls = filling(inner, single(3), (0, 0))
    assert walls.at(5, 4) == (3, 0) and walls.at(2, 2) == (2, 0)
    striped = filling(room, Brush((((4, 0), (5, 1)),)), (1, 1))
    assert [striped.at(x, 2) for x in range(1, 5)] == [(4, 0), (5, 1), (4, 0), (5, 1)]
    assert filling(Cells(), single(1), (0, 0)).bounds() == Rect(-8, -8, 17, 17)
    far = room.painted({(5000, 5000): (1, 0)})
    with pytest.raises(Refusal, match="too large to fill"):
        filling(far, single(2), (2, 2))


@given(st.integers(0, 7), st.integers(0, 7))
def test_turns_and_flips_are_the_eight_of_a_square(first: int, second: int) -> None:
    picture = checkered(5, 5, 3)
    made = {turned(picture, o).tobytes(): o for o in range(8)}
    assert len(made) == 8
    assert turned(turned(picture, first), second).tobytes() in made
    wide = checkered(4, 2)
    for x, y in ((0, 0), (3, 1)):
        place = turned_point(Point(x + 0.5, y + 0.5), Size(4, 2), first)
        there = turned(wide, first)[int(place.y), int(place.x)]
        np.testing.assert_array_equal(there, wide[y, x])


def test_blending_is_exact_at_the_ends_and_clipped() -> None:
    canvas = np.zeros((4, 4, 4), np.uint8)
    canvas[:] = (10, 20, 30, 255)
    tile = checkered(3, 3)
    blend(canvas, tile, -1, 2)
    np.testing.assert_array_equal(canvas[2:, :2], tile[:2, 1:])
    before = canvas.copy()
    blend(canvas, tile, 0, 0, 0)
    blend(canvas, tile, 4, 0)
    blend(canvas, tile, 0, -3)
    np.testing.assert_array_equal(canvas, before)


@given(st.integers(0, 2**32 - 1), st.integers(1, 5), st.integers(1, 5))
def test_tiles_laid_together_are_those_laid_one_by_one_to_the_bit(
    seed: int, rows: int, columns: int
) -> None:
    draw = np.random.default_rng(seed)
    cell = Size(*(int(side) for side in draw.integers(1, 7, 2)))
    sizes = [(cell.height, cell.width)] * 3 + [(cell.height + 2, cell.width + 1)]
    tiles = [draw.integers(0, 256, (*size, 4), np.uint8) for size in sizes]
    tiles[0][..., 3] = 255
    tiles[1][..., 3] = draw.choice([0, 255, 90], tiles[1].shape[:2], p=[0.4, 0.5, 0.1])
    codes = draw.integers(0, draw.choice([3, 5]), (rows, columns))
    corner = Point(*(int(place) for place in draw.integers(-9, 9, 2)))
    opacity = int(draw.choice([255, 120, 0]))
    canvas = draw.integers(0, 256, (12, 14, 4), np.uint8)
    canvas[..., 3] = 255
    wanted = canvas.astype(np.int64)
    for row, column in np.argwhere(codes).tolist():
        tile = tiles[codes[row, column] - 1].astype(np.int64)
        y = corner.y + (row + 1) * cell.height - len(tile)
        x = corner.x + column * cell.width
        for place in np.ndindex(tile.shape[:2]):
            at = int(y + place[0]), int(x + place[1])
            if 0 <= at[0] < 12 and 0 <= at[1] < 14:
                alpha = (tile[place][3] * opacity + 127) // 255
                below = wanted[at][:3] * (255 - alpha)
                wanted[at][:3] = (tile[place][:3] * alpha + below + 127) // 255
    lay_tiles(canvas, codes, lambda code: tiles[code - 1], cell, corner, opacity)
    assert (canvas == wanted).all()


def test_locked_layers_are_not_painted_and_starts_are_kept(tmp_path: Path) -> None:
    project = files.load(DEMO)
    with pytest.raises(Refusal, match="“Sky” is locked"):
        set_cells(project, "Long boardwalk", 0, Cells())
    level = project.level("Long boardwalk")
    assert level.layers[main_layer(level)].name == "Ground"
    assert bounds(level).width >= 60 and bounds(level).height >= 18
    assert bounds(Level("Empty", (Layer("Ground"),))).area == 0
    moved = set_start(project, "Long boardwalk", Point(1, 2))
    assert moved.level("Long boardwalk").start == Point(1, 2)
    assert with_level(project, "Heron pool", lambda old: old) is project
    with pytest.raises(Refusal, match="no level called"):
        project.level("Nowhere")


@given(st.lists(st.tuples(st.integers(0, 9), st.booleans()), min_size=1, max_size=4), st.data())
def test_a_layer_that_is_added_behind_the_ground_walls_nobody_in(
    layers: list[tuple[int, bool]], data: st.DataObject
) -> None:
    """The ground is what most tiles that stop walkers lie on; from above nothing lies behind it."""
    index = data.draw(st.integers(-1, len(layers) - 1))
    view: View = data.draw(st.sampled_from(["side", "top-down"]))
    made = tuple(
        Layer(str(n), Cells().painted({(x, 0): (1, 0) for x in range(count)}), solid=solid)
        for n, (count, solid) in enumerate(layers)
    )
    project = Project(levels=(Level("Dam", made, view=view),))
    added = add_layer(project, "Dam", index).level("Dam").layers[index + 1]
    most = max((count for count, solid in layers if solid), default=0)
    ground = next((n for n, pair in enumerate(layers) if pair == (most, True)), -1)
    assert added.solid is not (view == "side" and most > 0 and index < ground)


@given(
    st.lists(
        st.dictionaries(
            st.tuples(st.integers(-5, 40), st.integers(-5, 40)), st.integers(1, 3), max_size=9
        ),
        min_size=1,
        max_size=4,
    ),
    st.integers(0, 3),
    st.booleans(),
)
def test_a_tile_is_replaced_wherever_it_lies_but_on_locked_layers(
    drawn: list[dict[tuple[int, int], int]], locked: int, everywhere: bool
) -> None:
    levels = tuple(
        Level(
            f"Level {n}",
            (
                Layer("Below", Cells().painted({at: (one, 2) for at, one in cells.items()})),
                Layer("Above", Cells().painted({at: (one, 0) for at, one in cells.items()})),
            ),
        )
        for n, cells in enumerate(drawn)
    )
    if locked < len(levels):
        below, above = levels[locked].layers
        held = replace(levels[locked], layers=(replace(below, locked=True), above))
        levels = (*levels[:locked], held, *levels[locked + 1 :])
    project = Project(levels=levels)
    meant = [level.name for level in (levels if everywhere else levels[:1])]
    after = replace_everywhere(project, Art(Path()), 1, Hand(single(7)), meant)
    count = 0
    for before, now in zip(project.levels, after.levels, strict=True):
        for old, new in zip(before.layers, now.layers, strict=True):
            changes = before.name in meant and not old.locked
            for row in range(-5, 41):
                for column in range(-5, 41):
                    number, turn = old.cells.at(column, row)
                    gone = changes and number == 1
                    count += gone
                    assert new.cells.at(column, row) == ((7, 0) if gone else (number, turn))
    assert count_everywhere(project, 1, meant) == count
