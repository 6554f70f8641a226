"""Shapes: one stored form whatever the drawing, and outlines that hold every pixel."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import Polygon, unary_union

from rushweed.core.bound.from_above import for_above, walls_of
from rushweed.core.bound.from_side import for_side
from rushweed.core.bound.geometry import contains, find_crossing, signed_area, tidy
from rushweed.core.bound.ground import decide, undecided
from rushweed.core.bound.outline import trace
from rushweed.core.bound.proposing import Proposal, give_proposed, propose_shapes
from rushweed.core.bound.shaping import (
    box,
    polygon,
    set_shapes,
)
from rushweed.core.bound.tile_looks import is_ladder, is_tall_grass, is_water
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import cut_as, gather
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_kind
from rushweed.core.gauge.sampling import scaled
from rushweed.core.gauge.units import figure, size_sentence, to_units, units
from rushweed.core.project.cells import Cells
from rushweed.core.project.facts import Facts
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.painting import rectangle, single
from rushweed.core.weave.painting import ring as ring_of
from tests.samples import checkered, write_picture

masks = st.integers(0, 2**36 - 1).map(
    lambda bits: np.array([bits >> i & 1 for i in range(36)], bool).reshape(6, 6)
)


@given(masks)
def test_outlines_cover_exactly_the_solid_pixels(mask: np.ndarray) -> None:
    outlines = trace(mask)
    for y in range(6):
        for x in range(6):
            inside = sum(
                contains(o.outer, x + 0.5, y + 0.5)
                and not any(contains(hole, x + 0.5, y + 0.5) for hole in o.holes)
                for o in outlines
            )
            assert inside == mask[y, x]
    for outline in outlines:
        assert signed_area(outline.outer) < 0, "counter-clockwise on the screen"
        assert all(signed_area(hole) > 0 for hole in outline.holes)
        for ring in (outline.outer, *outline.holes):
            ends = zip(ring, (*ring[1:], ring[0]), strict=True)
            assert all((a.x == b.x) != (a.y == b.y) for a, b in ends)
    area = sum(-signed_area(o.outer) - sum(signed_area(h) for h in o.holes) for o in outlines)
    assert area == 2 * mask.sum()


corner = st.builds(Point, st.integers(0, 8), st.integers(0, 8))


@given(st.lists(corner, min_size=3, max_size=6, unique=True), st.integers(0, 5), st.booleans())
def test_any_way_of_drawing_gives_the_same_stored_shape(
    corners: list[Point], start: int, backwards: bool
) -> None:
    assume(find_crossing(corners) is None)
    try:
        stored = tidy(corners)
    except Refusal:
        assume(False)
    turned = corners[start % len(corners) :] + corners[: start % len(corners)]
    drawn = turned[::-1] if backwards else turned
    doubled = [c for c in drawn for _ in range(2)]
    assert tidy(drawn) == tidy(doubled) == stored
    assert signed_area(stored) < 0
    assert abs(signed_area(stored)) == abs(signed_area(corners))


def test_shapes_that_cannot_be_are_refused() -> None:
    bow = [Point(0, 0), Point(8, 8), Point(8, 0), Point(0, 8)]
    with pytest.raises(Refusal, match="crosses itself near 4, 4"):
        polygon(bow)
    for corners in ([Point(0, 0), Point(4, 4)], [Point(0, 0), Point(4, 4), Point(8, 8)], []):
        with pytest.raises(Refusal, match="no area"):
            polygon(corners)
    with pytest.raises(Refusal, match="at most"):
        polygon([Point(i, i * i % 7) for i in range(10_000)])
    with pytest.raises(Refusal, match="no area"):
        box(Point(3, 3), Point(3, 9))
    assert box(Point(9, 2), Point(3, 8)) == box(Point(3, 8), Point(9, 2))


def two_sheets() -> Project:
    source = Source("art/x.png", "0" * 64, Size(32, 16))

    def pieces(first: int) -> tuple[Piece, ...]:
        small = Piece(first + 1, Rect(16, 0, 15, 9), Point(7, 9))
        return (Piece(first, Rect(0, 0, 16, 16), Point(8, 16)), small)

    named = (("reed", 1), ("heron", 3))
    return Project(sheets=tuple(Sheet(name, (source,), pieces=pieces(n)) for name, n in named))


@given(st.integers(1, 7), st.integers(1, 7), st.integers(1, 4), st.integers(0, 3))
def test_nearest_repeats_and_linear_stays_between(w: int, h: int, k: int, seed: int) -> None:
    picture = checkered(w, h, seed)
    picture[..., 3] = np.random.default_rng(seed).choice([0, 128, 255], (h, w))
    big = scaled(picture, w * k, h * k, "nearest")
    np.testing.assert_array_equal(big, np.repeat(np.repeat(picture, k, 0), k, 1))
    np.testing.assert_array_equal(scaled(big, w, h, "nearest"), picture)
    smooth = scaled(picture, w * k, h * k, "linear")
    assert smooth[..., 3].max() <= picture[..., 3].max()
    seen = picture[picture[..., 3] > 0]
    if len(seen) and (smooth[..., 3] > 8).any():
        assert smooth[smooth[..., 3] > 8][:, :3].max() <= int(seen[:, :3].max()) + 4
    assert scaled(picture, 0, 5, "linear").size == 0


def test_sizes_in_words() -> None:
    assert units(1.0) == "1 unit" and units(1.875) == "1.88 units" and figure(0.0625, 5) == "0.0625"
    assert "1/8 unit" in size_sentence(Project(), 8) and "2 units" in size_sentence(Project(), 8)
    assert to_units(Point(32, 16), 16, y_up=True) == Point(2, -1)


def proposed(*tiles: np.ndarray) -> list[Proposal]:
    """What is proposed for tiles that lie side by side, a clear one after each."""
    side = tiles[0].shape[1]
    strip = np.hstack([part for tile in tiles for part in (tile, np.zeros_like(tile))])
    source = Source("art/x.png", "0" * 64, Size(strip.shape[1], strip.shape[0]))
    layout = EvenCells(Size(side, tiles[0].shape[0]))
    project = cut(Project(sheets=(Sheet("x", (source,)),)), "x", layout, strip)
    return list(propose_shapes(strip, project.sheet("x").pieces).values())


def like(proposal: Proposal, tile: np.ndarray) -> float:
    """How alike the proposed shapes and what is drawn are, from 0 to 1."""
    drawn = unary_union(
        [Polygon([(x, y), (x + 1, y), (x + 1, y + 1), (x, y + 1)]) for y, x in np.argwhere(tile)]
    )
    given_ = unary_union([Polygon(shape.form.corners) for shape in proposal.shapes])
    return float(drawn.intersection(given_).area / drawn.union(given_).area)


@given(st.integers(14, 48), st.integers(0, 1), st.floats(0.45, 1.0), st.floats(0, 0.6))
def test_full_tiles_get_boxes_and_slopes_their_outline(
    side: int, mirrored: int, high: float, low: float
) -> None:
    y, x = np.mgrid[0:side, 0:side]
    heights = side * (min(low, high) + (high - min(low, high)) * (x + 0.5) / side)
    slope = (side - y - 0.5 < heights)[:, :: 1 - 2 * mirrored]
    full, found = proposed(np.ones((side, side), bool), slope)
    assert [shape.form for shape in full.shapes] == [Box(0, 0, side, side)] and full.sure
    assert found.shapes and like(found, slope) > 0.75
    [ceiling] = proposed(slope[::-1])
    assert not ceiling.shapes or like(ceiling, slope[::-1]) > 0.75


@given(st.integers(10, 40), st.integers(2, 8))
def test_a_ledge_gets_a_box_however_something_hangs_from_it(side: int, thick: int) -> None:
    ledge = np.zeros((side, side), bool)
    ledge[:thick] = True
    ledge[thick : thick + 2, ::3] = True
    [found] = proposed(ledge)
    [shape] = found.shapes
    assert shape.form == Box(0, 0, side, thick)


@given(st.integers(12, 40), st.integers(0, 99))
def test_what_stands_free_gets_nothing(side: int, seed: int) -> None:
    draw = np.random.default_rng(seed)
    tuft = np.zeros((side, side), bool)
    for _ in range(4):
        column = int(draw.integers(2, side - 2))
        tuft[int(draw.integers(side // 2, side - 2)) :, column] = True
    coin = np.hypot(*(np.mgrid[0:side, 0:side] - (side - 1) / 2)) < side / 4
    block = np.ones((side, side), bool)
    assert [bool(one.shapes) for one in proposed(block, tuft, coin)] == [True, False, False]


def test_an_opaque_sheet_is_all_in_doubt_and_things_keep_their_outline_ready() -> None:
    strip = np.ones((16, 64), bool)
    source = Source("art/x.png", "0" * 64, Size(64, 16))
    project = Project(sheets=(Sheet("x", (source,)),))
    project = cut(project, "x", EvenCells(Size(16, 16)), strip)
    pieces = project.sheet("x").pieces
    found = propose_shapes(strip, pieces)
    assert all(one.shapes and not one.sure and one.other == () for one in found.values())
    things = propose_shapes(strip, pieces, tiles=False)
    assert all(not one.shapes and one.other for one in things.values())
    given_ = give_proposed(project, found).sheet("x").pieces
    assert all(piece.shapes == found[piece.number].shapes for piece in given_)


def test_from_above_names_tell_walls_from_floors_and_the_rest_is_in_doubt() -> None:
    full = (Shape(Box(0, 0, 8, 8)),)
    names = ("", "cliff_2", "sand", "rock_floor", "GrassWall", "hedge_of_ice")
    source = Source("art/x.png", "0" * 64, Size(48, 8))
    layout = EvenCells(Size(8, 8))
    project = cut(Project(sheets=(Sheet("x", (source,)),)), "x", layout, np.ones((8, 48), bool))
    sheet = project.sheet("x")
    pieces = tuple(replace(p, name=name) for p, name in zip(sheet.pieces, names, strict=True))
    proposals = {piece.number: Proposal(full) for piece in pieces}
    grey = np.full((8, 48, 4), 255, np.uint8)
    told = lambda name: list(  # noqa: E731
        for_above(replace(sheet, name=name, pieces=pieces), grey, proposals, 8).values()
    )
    unknown, cliff, sand, floor, mixed, hedge = told("x")
    assert unknown == Proposal((), False, full) == mixed
    assert cliff == hedge == Proposal(full) and sand == floor == Proposal(())
    assert told("fen_walls_32")[:3] == [Proposal(full), Proposal(full), Proposal(())]
    assert told("Floor2")[0] == Proposal(()), "and it is not asked about"


@given(st.integers(1, 6), st.integers(1, 6), st.integers(1, 2), st.booleans(), st.data())
def test_from_above_what_lies_around_a_room_is_its_wall(
    width: int, height: int, thick: int, empty: bool, data: st.DataObject
) -> None:
    floor, wall = 5, 7
    inside = Rect(data.draw(st.integers(-9, 9)), data.draw(st.integers(-9, 9)), width, height)
    walls = list(ring_of(inside.grown(thick), thick))
    cells = Cells().painted(dict.fromkeys(walls, (wall, 0)))
    if not empty:
        cells = rectangle(cells, single(floor), inside)
    level = Level("Hut", (Layer("Ground", cells),), view="top-down")
    assert walls_of((level,)) == {wall}
    row = data.draw(st.integers(inside.y, inside.bottom - 1))
    door = {(x, row): (0, 0) for x, y in walls if y == row and x < inside.x}
    assert not walls_of((replace(level, layers=(Layer("Ground", cells.painted(door)),)),))
    filled = rectangle(Cells(), single(floor), inside.grown(thick))
    assert not walls_of((replace(level, layers=(Layer("Ground", filled),)),))


@given(st.integers(12, 64), st.integers(1, 3), st.integers(2, 4), st.integers(0, 99))
def test_ladders_water_and_grass_are_known_by_their_look_and_frames_are_none(
    side: int, rail: int, rungs: int, seed: int
) -> None:
    dice = np.random.default_rng(seed)
    ladder = np.zeros((side, side), bool)
    left = int(dice.integers(0, side // 4 - 1))
    right = side - 1 - int(dice.integers(0, side // 4 - 1))
    ladder[:, left : left + rail] = ladder[:, right - rail + 1 : right + 1] = True
    for at in (np.arange(rungs) + 0.5) * side / rungs:
        ladder[int(at) : int(at) + 1, left:right] = True
    assert is_ladder(ladder) and not is_ladder(np.ones_like(ladder))
    assert rungs == 2 or not is_ladder(ladder.T), "a fence"
    frame = np.ones((side, side), bool)
    frame[rail:-rail, rail:-rail] = False
    assert not is_ladder(frame)
    water = np.full((side, side, 4), (40, 110, 200, 150), np.uint8)
    water[..., :3] += dice.integers(0, 20, (side, side, 1)).astype(np.uint8)
    opaque = water | np.array([0, 0, 0, 255], np.uint8)
    assert is_water(water, glassy=True) and is_water(opaque) and not is_water(opaque, glassy=True)
    assert not is_water(opaque[..., [2, 1, 0, 3]]), "lava is none"
    bricks = opaque.copy()
    bricks[:: max(3, side // 5), :, :3] = bricks[:, :: max(3, side // 5), :3] = 0
    assert not is_water(bricks), "joints are dark"
    y, x = np.mgrid[:side, :side]
    blades = y >= (0.1 + 1.6 * np.abs((x + 0.5) * 4 / side % 1 - 0.5)) * side
    grass = np.where(blades[..., None], np.array([40, 150, 60, 255], np.uint8), 0).astype(np.uint8)
    assert is_tall_grass(grass) and not is_tall_grass(grass[::-1])
    assert not is_tall_grass(np.where(grass > 0, 90, 0).astype(np.uint8)), "stones are grey"


@given(st.integers(0, 999), st.sets(st.integers(1, 8)))
def test_some_pieces_are_proposed_what_they_are_among_all(seed: int, wanted: set[int]) -> None:
    draw = np.random.default_rng(seed)
    strip = np.repeat(np.repeat(draw.random((4, 32)) < 0.7, 4, axis=0), 4, axis=1)
    strip[:, 32:64] = True
    source = Source("art/x.png", "0" * 64, Size(128, 16))
    project = Project(sheets=(Sheet("x", (source,)),))
    pieces = cut(project, "x", EvenCells(Size(16, 16)), strip).sheet("x").pieces
    whole = propose_shapes(strip, pieces)
    some = propose_shapes(strip, pieces, wanted=wanted)
    assert some == {number: one for number, one in whole.items() if number in wanted}


def test_a_thin_ledge_lets_one_through_from_below_and_a_slab_does_not() -> None:
    drawn = [np.zeros((16, 16), bool) for _ in range(3)]
    for mask, high in zip(drawn, (10, 11, 16), strict=True):
        mask[:high] = True
    source = Source("art/x.png", "0" * 64, Size(48, 16))
    project = cut(
        Project(sheets=(Sheet("x", (source,)),)), "x", EvenCells(Size(16, 16)), np.hstack(drawn)
    )
    sheet = project.sheet("x")
    picture = np.hstack(drawn)[..., None] * np.full(4, 255, np.uint8)
    found = for_side(sheet, picture, propose_shapes(np.hstack(drawn), sheet.pieces))
    ledge, slab, block = (found[piece.number] for piece in sheet.pieces)
    assert [one.stops for one in ledge.shapes] == ["one-way"] and not ledge.sure
    assert ledge.turned.shapes == ledge.other == (Shape(Box(0, 0, 16, 10)),)
    for one in (slab, block):
        assert [shape.stops for shape in one.shapes] == ["all sides"]
    blue = np.where(picture > 0, np.array([40, 110, 200, 255]), 0)
    deep = for_side(sheet, blue.astype(np.uint8), {p.number: found[p.number] for p in sheet.pieces})
    pool = deep[sheet.pieces[2].number]
    assert pool.shapes == block.shapes and not pool.sure, "blue bricks or a deep pool"
    assert (pool.turned.shapes, pool.turned.facts) == ((), Facts(moves="swims"))


def test_a_tree_of_tiles_stands_on_its_foot_and_covers_whom_is_behind() -> None:
    y, x = np.mgrid[:48, :48] + 0.5
    tree = (np.hypot(x - 24, y - 14) < 13) | ((np.abs(x - 24) < 4) & (y > 14) & (y < 46))
    source = Source("art/x.png", "0" * 64, Size(48, 48))
    layout = EvenCells(Size(16, 16))
    project = cut(Project(sheets=(Sheet("x", (source,)),)), "x", layout, tree)
    sheet = project.sheet("x")
    picture = tree[..., None] * np.array([60, 110, 60, 255], np.uint8)
    found = for_above(sheet, picture, propose_shapes(tree, sheet.pieces), 16)
    for piece in sheet.pieces:
        one = found[piece.number]
        assert one.facts.cover == 2 - piece.row and bool(one.shapes) == (piece.row == 2)
    foot = next(piece for piece in sheet.pieces if piece.row == 2)
    assert found[foot.number].shapes == (Shape(Box(4, 10, 8, 4)),)
    stamp = Cells().painted({(p.column + 4, p.row - 2): (p.number, 0) for p in sheet.pieces})
    meadow = Layer("Meadow", rectangle(Cells(), single(99), Rect(0, -6, 12, 12)))
    level = Level("Grove", (meadow, Layer("Things", stamp)), view="top-down")
    bare = {number: Proposal((), sure=False, other=(Shape(Box(1, 2, 9, 9)),)) for number in found}
    merged = np.full_like(picture, 200)  # nothing in the picture tells one tree from the next
    by_place = for_above(sheet, merged, bare, 16, (level,))
    assert {n: one.facts.cover for n, one in by_place.items()} == {
        piece.number: 2 - piece.row for piece in sheet.pieces
    }
    again = Layer("Things", stamp.painted({(4, 1): stamp.at(4, -2)}))
    twice = replace(level, layers=(meadow, again))
    assert by_place[sheet.pieces[0].number].facts.cover == 2
    assert not for_above(sheet, merged, bare, 16, (twice,))[stamp.at(4, -2)[0]].facts.cover
    given_ = give_proposed(project, found)
    turned = give_proposed(given_, {n: one.turned for n, one in found.items()})
    assert {p.facts for p in turned.sheet("x").pieces} == {Facts()}
    counter = replace(sheet.pieces[0].facts, cover=4)
    said = with_pieces(project, frozenset(found), lambda p: replace(p, facts=counter))
    kept = give_proposed(said, found).sheet("x").pieces
    assert {piece.facts.cover for piece in kept} == {4}, "what somebody said stays"


@given(st.sets(st.integers(0, 8), min_size=1), st.booleans(), st.sampled_from(["tileset", "sheet"]))
def test_painted_ground_that_nobody_decided_about_is_as_the_art_says(
    painted: set[int], stops: bool, kind: str
) -> None:
    """On a layer that stops walkers each painted tile is told, and decided by one act; what was
    decided before, and what is not painted there, stays as it is."""
    with TemporaryDirectory() as folder:
        art = Art(Path(folder) / "project")
        picture = np.random.default_rng(4).integers(0, 255, (48, 48, 4), np.uint8)
        picture[..., 3] = 255
        picture[32:, 32:, 3] = 0
        picture[40:, 32:, 3] = 255
        project, name = gather(Project(), art, [write_picture(Path(folder) / "bank.png", picture)])
        project = cut_as(project, art, name, EvenCells(Size(16, 16)))
        project = set_kind(project, (name,), kind)  # type: ignore[arg-type]
        numbers = [piece.number for piece in project.sheet(name).pieces]
        project = set_shapes(project, frozenset({numbers[0]}), ())
        cells = Cells().painted({(n, 0): (numbers[n], 0) for n in painted})
        layer = Layer("Ground", cells, solid=stops)
        project = replace(project, levels=(Level("Dam", (layer,)),))
        wanted = undecided(project, project.levels[0])
        told = {numbers[n] for n in painted if n} if stops else set()
        assert set().union(*wanted.values()) == told
        after = decide(project, art, wanted)
        assert not undecided(after, after.levels[0]) and after.levels == project.levels
        shapes = {p.number: p.shapes for p in after.sheet(name).pieces}
        assert shapes[numbers[0]] == () and all(shapes[n] for n in told)
        assert all(shapes[n] is None for n in numbers[1:] if n not in told)
        if numbers[8] in told:
            assert shapes[numbers[8]] == (Shape(Box(0, 8, 16, 8)),), "half of it is drawn"
