"""Shapes for a whole sheet at once, against tiles whose shapes are known."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon, unary_union

from rushweed.core.bound.from_above import for_above, is_seen_from_above
from rushweed.core.bound.ground import decide, undecided
from rushweed.core.bound.proposing import Proposal, give_proposed, propose_shapes
from rushweed.core.bound.shaping import set_shapes
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import cut_as, gather
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_kind
from rushweed.core.project.cells import Cells
from rushweed.core.project.files import load
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Sheet, Source
from rushweed.core.values import Size
from tests.conftest import DEMO
from tests.samples import write_picture
from tools.corpus.hem_sets import HemSet, draw_set


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


@pytest.mark.slow
@pytest.mark.parametrize("count", [9, 13, 16, 47])
@pytest.mark.parametrize("rim", [1, 2, 3])
def test_terrain_with_clear_rims_is_solid_where_it_is_drawn(count: int, rim: int) -> None:
    tiles, _ = draw_set(HemSet(count, 16, 16, rim, clear=True, rough=0), 3)
    masks = [tile[..., 3] > 0 for tile in tiles]
    shaped = [
        (one, mask) for one, mask in zip(proposed(*masks), masks, strict=True) if mask.mean() > 0.3
    ]
    right = sum(bool(one.shapes) and like(one, mask) > 0.8 for one, mask in shaped)
    assert right >= 0.9 * len(shaped)


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
    told = lambda name: list(  # noqa: E731
        for_above(replace(sheet, name=name, pieces=pieces), proposals).values()
    )
    unknown, cliff, sand, floor, mixed, hedge = told("x")
    assert unknown == Proposal((), False, full) == mixed
    assert cliff == hedge == Proposal(full) and sand == floor == Proposal(())
    assert told("fen_walls_32")[:3] == [Proposal(full), Proposal(full), Proposal(())]
    assert told("Floor2")[0] == Proposal(()), "and it is not asked about"


def test_a_sheet_is_for_the_levels_that_use_it_or_else_for_all() -> None:
    project = load(DEMO)
    above = {s.name for s in project.sheets if is_seen_from_above(project, s)}
    assert "fen_above" in above and "fen_ground" not in above
    one, new = project.level("Heron pool"), project.sheet("fen_ground")
    assert is_seen_from_above(replace(project, levels=(one,)), replace(new, pieces=()))
    bare = replace(project, levels=())
    assert not is_seen_from_above(bare, new)
    assert is_seen_from_above(replace(bare, rules=replace(bare.rules, view="top-down")), new)


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
