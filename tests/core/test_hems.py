"""Levels drawn: hems, fills, parts moved, rows put in, props, scatter, guard, merged outlines."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon, union_all

from rushweed.core.bound.geometry import signed_area
from rushweed.core.cut.animations import one_round
from rushweed.core.gather.art import Art
from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN, quarter, turned, turned_point
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.drawing_sets import Hem, HemTile, Mix
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.rules import GroundRules
from rushweed.core.project.shape import ALL_SIDES, WAYS, Box, Shape, Stopping
from rushweed.core.project.shape import Polygon as Form
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.project.turning import turned_stopping
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.drawing import frame_of
from rushweed.core.weave.finishing import draw_hem
from rushweed.core.weave.guarding import leave_others, punched
from rushweed.core.weave.hems import Around
from rushweed.core.weave.levels import (
    add_layer,
    change_layer,
    crop_level,
    move_layer,
    remove_layer,
    spread_level,
)
from rushweed.core.weave.outline_edges import edges_in
from rushweed.core.weave.outlines import SolidOutlines, merged_outlines
from rushweed.core.weave.painting import (
    Brush,
    dabbed,
    fill_under,
    line,
    mirror_places,
    moved,
    rectangle,
    single,
    spread,
    stroke,
)
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.props import (
    add_props,
    flip_props,
    move_props,
    order_props,
    out_of_step,
    scatter,
    snapped_to_edges,
    turn_props,
)
from rushweed.core.weave.purposes import Purposes
from rushweed.core.weave.rings import chained
from tests.conftest import DEMO
from tests.samples import filling

ALL = [n for n in range(512) if n & 16]
places = st.sets(st.tuples(st.integers(-4, 5), st.integers(-4, 5)), max_size=40)


def full_hem(way: str = "all around", **more: object) -> Hem:
    """A hem that has a tile for every case, numbered by its parts."""
    return Hem("shore", tuple(HemTile(n + 1, n) for n in ALL), way, **more)  # type: ignore[arg-type]


@given(places, places, st.sampled_from(["all around", "sides"]))
def test_a_hem_drawn_bit_by_bit_is_as_drawn_at_once_and_fits_its_neighbours(
    area, gone, way
) -> None:
    hem, among = full_hem(way), Around({})
    cells = Cells()
    for place in sorted(area):
        cells = draw_hem(cells, hem, among, [place]).cells
    for place in sorted(gone):
        cells = draw_hem(cells, hem, among, [place], rub_out=True).cells
    once = draw_hem(Cells(), hem, among, area - gone)
    assert cells == once.cells and not once.lacking
    for x, y in area - gone:
        parts = cells.at(x, y)[0] - 1
        for (dx, dy), bit in {(0, -1): 2, (-1, 0): 8, (1, 0): 32, (0, 1): 128}.items():
            assert bool(parts & bit) == ((x + dx, y + dy) in area - gone)


def test_a_hem_knows_the_levels_end_others_it_meets_and_what_it_lacks() -> None:
    end = Rect(0, 0, 4, 4)
    spots = [(x, y) for x in range(4) for y in range(4)]
    on = draw_hem(Cells(), full_hem(goes_on=True), Around({}, end), spots).cells
    assert {on.at(*spot)[0] for spot in spots} == {512}, "it goes on past the end"
    stops = draw_hem(Cells(), full_hem(), Around({}, end), spots).cells
    assert stops.at(0, 0)[0] - 1 == 16 | 32 | 128 | 256
    other = Hem("mud", (HemTile(900, 511),))
    beside = Cells().painted({(1, 0): (900, 0)})
    alone = draw_hem(beside, full_hem(), Around({"mud": other}), [(0, 0)]).cells
    joined = draw_hem(beside, full_hem(meets=("mud",)), Around({"mud": other}), [(0, 0)]).cells
    assert alone.at(0, 0)[0] - 1 == 16 and joined.at(0, 0)[0] - 1 == 16 | 32
    assert joined.at(1, 0) == (900, 0), "the other hem keeps its tiles"
    poor = Hem("poor", (HemTile(7, 511), HemTile(8, 16)))
    drawn = draw_hem(Cells(), poor, Around({}), [(0, 0), (1, 0)])
    assert drawn.lacking == {(0, 0), (1, 0)} and drawn.cells.at(0, 0)[0] in (7, 8)
    with pytest.raises(Refusal, match="no tile"):
        draw_hem(Cells(), Hem("none"), Around({}), [(0, 0)])


cells_drawn = st.dictionaries(
    st.tuples(st.integers(-9, 9), st.integers(-9, 9)),
    st.tuples(st.integers(1, 4), st.integers(0, 7)),
    max_size=40,
).map(lambda changes: Cells().painted(changes))


@given(cells_drawn, st.integers(-12, 12), st.integers(0, 5), st.booleans())
def test_rows_put_in_and_taken_out_leave_the_same(
    cells: Cells, at: int, count: int, rows: bool
) -> None:
    wide = spread(cells, at, count, rows)
    assert wide.count() == cells.count()
    assert spread(wide, at, -count, rows) == cells
    back = moved(moved(cells, cells.bounds(), 7, -3), cells.bounds().union(wide.bounds()), 0, 0)
    there = moved(cells, cells.bounds(), 7, -3)
    assert moved(there, there.bounds(), -7, 3) == cells and back.count() == cells.count()


@given(cells_drawn, st.tuples(st.integers(-9, 9), st.integers(-9, 9)))
def test_filling_changes_what_hangs_together_and_nothing_else(cells: Cells, start) -> None:
    before = cells.at(*start)[0]
    filled = filling(cells, single(9), start)
    area = cells.bounds().union(Rect(start[0], start[1], 1, 1))
    assert filled.at(*start) == (9, 0)
    for y in range(area.y - 1, area.bottom + 1):
        for x in range(area.x - 1, area.right + 1):
            here = filled.at(x, y)
            assert here == cells.at(x, y) or (here == (9, 0) and cells.at(x, y)[0] == before)
    within = filling(cells, single(9), start, "emptiness", within=Rect(start[0], start[1], 2, 2))
    changed = sum(within.at(x, y) != cells.at(x, y) for x in range(-12, 14) for y in range(-12, 14))
    assert changed <= 4


@given(cells_drawn, st.tuples(st.integers(-9, 9), st.integers(-9, 9)))
def test_all_that_is_alike_is_replaced_wherever_it_lies(cells: Cells, start) -> None:
    before = cells.at(*start)[0]
    filled = filling(cells, single(9), start, "all alike")
    for y in range(-11, 12):
        for x in range(-11, 12):
            old = cells.at(x, y)
            if before:
                assert filled.at(x, y) == ((9, 0) if old[0] == before else old)
            elif old[0]:
                assert filled.at(x, y) == old


def test_fill_by_ground_mixes_and_mirrors() -> None:
    cells = Cells().painted({(0, 0): (1, 0), (1, 0): (2, 0), (2, 0): (3, 0)})
    assert [
        filling(cells, single(9), (0, 0), "ground", {1: 5, 2: 5, 3: 6}).at(x, 0)[0]
        for x in range(3)
    ] == [9, 9, 3]
    brush = Brush((((1, 0),),), Mix("reeds", ((1, 1), (2, 3))))
    wide = rectangle(Cells(), brush, Rect(0, 0, 50, 50))
    share = sum(wide.at(x, y)[0] == 2 for x in range(50) for y in range(50)) / 2500
    assert 0.7 < share < 0.8 and wide == rectangle(Cells(), brush, Rect(0, 0, 50, 50))
    path = list(line((0, 0), (3, 1)))
    both = dabbed(dabbed(Cells(), single(1), path), single(1, FLIPPED), mirror_places(path, 5.0))
    assert both.at(9, 0) == (1, FLIPPED) and both.at(6, 1) == (1, FLIPPED)
    assert stroke(Cells(), single(4), (0, 0), (900, 7)).count() == 901, "at any pointer speed"


@given(st.integers(0, 7), st.integers(0, 7))
def test_turns_and_flips_compose_as_the_squares_group(one: int, other: int) -> None:
    picture = np.arange(12).reshape(3, 4)
    twice = turned(turned(picture, one), other)
    same = [o for o in range(8) if np.array_equal(turned(picture, o), twice)]
    assert len(same) == 1
    point = turned_point(Point(1, 2), Size(4, 3), one)
    size = Size(3, 4) if one & 4 else Size(4, 3)
    assert turned_point(point, size, other) == turned_point(Point(1, 2), Size(4, 3), same[0])
    assert np.array_equal(turned(picture, quarter(one)), np.rot90(turned(picture, one), -1))
    assert FLIPPED | FLIPPED_DOWN == 3


# -- merged outlines -------------------------------------------------------------------

TILE = Size(16, 16)
SHAPES = {
    1: (Shape(Box(0, 0, 16, 16)),),
    2: (Shape(Form((Point(16, 0), Point(0, 16), Point(16, 16)))),),
    3: (Shape(Box(2, 4, 12, 5), "one-way"), Shape(Box(0, 10, 16, 6))),
    4: (Shape(Box(-5, -20, 9, 30)),),
}


def tiles(level: Level, tile: Size = TILE) -> Project:
    pieces = tuple(
        Piece(number, Rect(0, 0, 16, 16), Point(8, 16), shapes=shapes)
        for number, shapes in SHAPES.items()
    )
    sheet = Sheet("tiles", (Source("art/x.png", "0" * 64, Size(16, 16)),), pieces=pieces)
    return Project(rules=GroundRules(tile=tile), sheets=(sheet,), levels=(level,))


def union(cells: Cells, stops: Stopping = ALL_SIDES, tile: Size = TILE):
    found = []
    for number, shapes in SHAPES.items():
        for column, row in cells.places_of({number}):
            for shape in shapes:
                turn = cells.at(column, row)[1]
                if turned_stopping(shape, turn) == stops:
                    ring = [turned_point(c, Size(16, 16), turn) for c in shape.form.corners]
                    left, top = column * tile.width, (row + 1) * tile.height - 16
                    found.append(Polygon([(x + left, y + top) for x, y in ring]))
    return union_all(found)


@pytest.mark.slow
@given(cells_drawn, cells_drawn)
@settings(max_examples=60)
def test_merged_outlines_are_the_union_and_blocks_give_the_same(cells: Cells, other: Cells) -> None:
    level = Level("x", (Layer("a", cells),))
    project = tiles(level)
    for stops in WAYS:
        rings = merged_outlines(project, level, stops)
        assert sum(-signed_area(ring) for ring in rings) / 2 == pytest.approx(
            union(cells, stops).area
        )
    kept = SolidOutlines(project, level)
    area = Rect(-16, -16, 32, 32)
    kept.segments(area)
    after = replace(level, layers=(Layer("a", other),))
    kept.follow(project, after)
    assert chained(kept.segments(area)) == chained(edges_in(project, after, area, ALL_SIDES))
    assert chained(kept.segments(area)) == merged_outlines(project, after)


@pytest.mark.slow
@given(
    cells_drawn,
    cells_drawn,
    st.sampled_from([Size(1, 2), Size(4, 4), Size(5, 7), Size(13, 3), Size(40, 64)]),
)
@settings(max_examples=40)
def test_tiles_that_reach_far_beyond_their_cells_are_outlined_whole(
    cells: Cells, before: Cells, tile: Size
) -> None:
    level, older = (Level("x", (Layer("a", drawn),)) for drawn in (cells, before))
    project = tiles(level, tile)
    rings = merged_outlines(project, level)
    kept, area = SolidOutlines(replace(project, levels=(older,)), older), Rect(-64, -64, 128, 128)
    kept.segments(area)
    kept.follow(replace(project, sheets=kept._project.sheets), level)
    assert chained(kept.segments(area)) == rings, "what was kept follows as far as tiles reach"
    assert sum(-signed_area(ring) for ring in rings) / 2 == pytest.approx(
        union(cells, tile=tile).area
    )


# -- levels, layers and props ------------------------------------------------------------


def test_layers_are_added_ordered_renamed_and_never_all_taken_away() -> None:
    project = files.load(DEMO)
    name = project.levels[1].name
    more = add_layer(project, name, 1, "Wall")
    assert [layer.name for layer in more.level(name).layers][2] == "Wall 2"
    there = move_layer(more, name, 2, 0)
    assert there.level(name).layers[0].name == "Wall 2"
    assert remove_layer(there, name, 0).level(name) == project.level(name)
    with pytest.raises(Refusal, match="already"):
        change_layer(project, name, 0, name="Crates")
    with pytest.raises(Refusal, match="needs a name"):
        change_layer(project, name, 0, name=" ")
    alone = replace(project.level(name), layers=(Layer("Only"),))
    with pytest.raises(Refusal, match="at least one"):
        remove_layer(replace(project, levels=(alone,)), name, 0)


def test_a_level_is_spread_and_cropped_with_all_that_stands_in_it() -> None:
    project = files.load(DEMO)
    name = "Long boardwalk"
    level = project.level(name)
    wide = spread_level(project, name, 20, 3, rows=False).level(name)
    assert wide.start == level.start
    posts = [p.x for p in level.layers[9].props]
    assert [p.x for p in wide.layers[9].props] == [x + 48 * (x >= 320) for x in posts]
    assert wide.layers[0] == level.layers[0], "backdrops stay"
    back = spread_level(spread_level(project, name, 20, 3, rows=False), name, 20, -3, rows=False)
    assert back.level(name) == level
    small = crop_level(project, name, Rect(10, 0, 20, 30)).level(name)
    assert small.layers[6].cells.bounds().right <= 30
    assert all(160 <= p.x < 480 for p in small.layers[9].props)
    with pytest.raises(Refusal):
        crop_level(project, name, Rect(0, 0, 0, 0))


def test_from_above_walls_take_the_place_of_floors_and_things_do_not() -> None:
    project = files.load(DEMO)
    level = project.level("Heron pool")
    sheets = [project.sheet(name) for name in ("fen_ground", "fen_above")]
    names = {p.name: p.number for sheet in sheets for p in sheet.pieces}
    purposes = Purposes(project, Art(DEMO), level)
    kinds = {name: purposes.of(number) for name, number in names.items()}
    assert {kinds[name] for name in ("turf", "path", "pool", "fence")} == {"ground"}
    assert {kinds[name] for name in ("crate", "ladder", "plank", "tuft")} == {"things"}
    floor = Cells().painted({(0, 0): (names["turf"], 0)})
    wall = floor.painted({(0, 0): (names["pool"], 0)})
    assert leave_others(purposes, floor, wall) == (wall, frozenset())
    thing = floor.painted({(0, 0): (names["crate"], 0)})
    assert leave_others(purposes, floor, thing) == (floor, frozenset({(0, 0)})), (
        "it would leave a hole"
    )
    nowhere = Purposes(project, Art(DEMO / "nowhere"), level)
    assert leave_others(nowhere, floor, thing) == (thing, frozenset()), "nothing is known"
    one = replace(level, layers=(Layer("Ground", floor),))
    crate = [[{names["crate"]}]]
    assert punched(purposes, one, 0, crate, (0, 0)) == ("ground", "things", None)
    assert punched(nowhere, one, 0, crate, (0, 0)) is None


def test_props_are_moved_turned_ordered_snapped_and_scattered() -> None:
    project = files.load(DEMO)
    name, layer = "Long boardwalk", 9
    props = project.level(name).layers[layer].props
    edited = order_props(turn_props(project, name, layer, {0}), name, layer, {0}, to_front=True)
    last = edited.level(name).layers[layer].props[-1]
    assert last == replace(props[0], orientation=quarter(props[0].orientation))
    four = project
    for _ in range(4):
        four = turn_props(four, name, layer, {1})
    assert four.level(name) == project.level(name)
    assert (
        flip_props(flip_props(project, name, layer, {1}), name, layer, {1}).levels == project.levels
    )
    assert (
        move_props(project, name, layer, {2}, 3, -2).level(name).layers[layer].props[2].x
        == props[2].x + 3
    )
    locked = change_layer(project, name, layer, locked=True)
    with pytest.raises(Refusal, match="locked"):
        add_props(locked, name, layer, [Prop(1, 0, 0)])
    other = replace(props[1], x=props[1].x + prop_area(project, props[1]).width + 2)
    snapped = snapped_to_edges(project, other, [props[1]], 4)
    assert prop_area(project, snapped).x == prop_area(project, props[1]).right
    area = Rect(0, 0, 400, 200)
    found = scatter(area, {5, 6}, 60, 20, seed=3)
    assert found == scatter(area, {5, 6}, 60, 20, seed=3) != scatter(area, {5, 6}, 60, 20, seed=4)
    apart = [(a.x - b.x) ** 2 + (a.y - b.y) ** 2 for i, a in enumerate(found) for b in found[:i]]
    assert len(found) > 40 and min(apart) >= 400 and {p.piece for p in found} == {5, 6}
    with pytest.raises(Refusal):
        scatter(area, (), 5, 1, 0)


@given(cells_drawn, cells_drawn, st.sampled_from(["", "solid", "decoration", "one-way"]))
def test_drawing_leaves_what_serves_another_purpose(
    before: Cells, after: Cells, rubbed: str
) -> None:
    project = tiles(Level("x", (Layer("a", before),)))
    level = project.levels[0]
    purposes = Purposes(project, Art(DEMO), level)
    kept, spared = leave_others(purposes, before, after, rubbed)
    area = before.bounds().union(after.bounds())
    for row in range(area.y, area.bottom):
        for column in range(area.x, area.right):
            old, new = before.at(column, row), after.at(column, row)
            served = purposes.known(new[0]) if new[0] else rubbed
            stays = old[0] and old[0] != new[0] and served and purposes.known(old[0])
            other = bool(stays) and purposes.known(old[0]) != served
            assert kept.at(column, row) == (old if other else new)
            assert ((column, row) in spared) == other
    bare = replace(project, sheets=tuple(
        replace(sheet, pieces=tuple(replace(p, shapes=None) for p in sheet.pieces))
        for sheet in project.sheets
    ))  # fmt: skip
    unbound = leave_others(Purposes(bare, Art(DEMO), level), before, after, "solid")
    assert unbound == (after, frozenset()), "nobody has bound them yet"
    nothing = with_pieces(bare, before.used(), lambda piece: replace(piece, shapes=()))
    gone = leave_others(Purposes(nothing, Art(DEMO), level), before, Cells(), "solid")
    assert gone == (before, frozenset(before.places_of(before.used())))


@given(st.integers(1, 4), st.integers(-6, 6), st.integers(-4, 4), st.integers(-12, 12))
def test_a_brush_of_any_width_is_mirrored_cell_by_cell(
    width: int, column: int, row: int, twice: int
) -> None:
    """What it covers beyond the axis is what it covers before it, seen in a mirror."""
    axis = twice / 2
    [(left, down)] = mirror_places([(column, row)], axis, width)
    covered = {round(2 * axis) - x - 1 for x in range(column, column + width)}
    assert (set(range(left, left + width)), down) == (covered, row)


@given(cells_drawn, st.tuples(st.integers(-9, 9), st.integers(-9, 9)), st.integers(1, 9))
def test_what_is_filled_below_a_surface_lies_below_it_and_within_the_part(
    cells: Cells, corner: tuple[int, int], side: int
) -> None:
    part = Rect(*corner, side, side)
    for within in (None, part):
        area = within or cells.bounds()
        filled = fill_under(cells, single(9), within)
        for x in range(-11, 20):
            top = next((y for y in range(area.y, area.bottom) if cells.at(x, y)[0]), None)
            for y in range(-11, 20):
                below = top is not None and area.contains(x, y) and y > top
                fresh = below and not cells.at(x, y)[0]
                assert filled.at(x, y) == ((9, 0) if fresh else cells.at(x, y))


@given(st.integers(0, 9999), st.floats(0, 30))
def test_scattered_figures_play_theirs_each_with_a_phase_of_its_own(
    seed: int, seconds: float
) -> None:
    project = files.load(DEMO)
    heron, stone = project.sheet("heron"), project.sheet("landing").pieces[0].number
    animation = heron.animations[0]
    first = animation.frames[0]
    still = [Prop(piece, 8 * n, 0) for n, piece in enumerate([first] * 12 + [stone])]
    *birds, rock = out_of_step(project, still, seed)
    assert [*birds, rock] == out_of_step(project, still, seed) and rock == still[-1]
    whole = len(one_round(animation)) / animation.rate
    assert {bird.animation for bird in birds} == {animation.name}
    assert all(0 <= bird.phase <= whole for bird in birds)
    assert len({bird.phase for bird in birds}) > 6, "no two keep step"
    for bird in birds:
        ahead = frame_of(project, replace(bird, phase=0.0), seconds + bird.phase)
        assert frame_of(project, bird, seconds) == ahead
