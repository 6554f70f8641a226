"""All readings of a picture compete, and each says how probable it is."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from itertools import pairwise
from pathlib import Path
from typing import get_args

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.cut.gathering import (
    accept_all,
    accept_sure,
    cut_as,
    doubtful,
    gather,
    see,
    see_in_pack,
    waits,
)
from rushweed.core.cut.inspect import LAYOUTS, SURE, Known, inspect
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.cut.reshaping import scaled, turn_sheets
from rushweed.core.cut.seeing.evidence import NAMES
from rushweed.core.cut.seeing.hints import cells_around, likeliest_with, sizes_in
from rushweed.core.cut.seeing.packs import Pack, likeness, votes_of
from rushweed.core.cut.seeing.ranked import Ranked, Reading
from rushweed.core.cut.seeing.trees import Trees, weights
from rushweed.core.gather.art import Art
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import (
    ColourKey,
    EvenCells,
    Kind,
    Layout,
    Licence,
    LoosePieces,
    OnePicture,
    Sheet,
    Source,
)
from rushweed.core.values import Colour, Rect, Size
from tests.conftest import RAW
from tests.samples import write_picture
from tools.corpus.lossy import KEYS, Lossy, lossy_sheets, off, over
from tools.corpus.sheets import KINDS, Sample, corpus
from tools.measure_accuracy import is_right

pytestmark = pytest.mark.slow

SHEETS = tuple(corpus(2, 5000))


@pytest.mark.parametrize("kind", KINDS)
def test_readings_of_every_kind_hold_the_truth_and_are_in_order(kind: str) -> None:
    for sample in (one for one in SHEETS if one.kind == kind):
        seen = inspect(sample.picture)
        shares = [reading.share for reading in seen.readings]
        assert shares == sorted(shares, reverse=True) and sum(shares) <= 1.0001
        assert 0 < seen.sure < 1 and all(reading.why for reading in seen.readings)
        assert len({repr(reading.layout) for reading in seen.readings}) == len(seen.readings)
        for reading in seen.grids:
            assert reading.columns > 0 and reading.rows > 0
            assert isinstance(reading.layout, EvenCells)
            for side in (0, 1):
                assert reading.layout.margin[side] + reading.layout.cell[side] <= seen.drawn[side]


def test_most_sheets_of_strangers_are_read_rightly_and_sure_ones_nearly_always() -> None:
    """Kinds that differ in size, gaps, margins, keys, padding and roughness."""
    seen = [(sample, inspect(sample.picture)) for sample in SHEETS]
    right = [is_right(sample, one, one.readings[0].layout) for sample, one in seen]
    held = [any(is_right(s, one, r.layout) for r in one.readings) for s, one in seen]
    of_sure = [fits for fits, (_, one) in zip(right, seen, strict=True) if one.is_sure]
    assert np.mean(right) > 0.85 and np.mean(held) > 0.9
    assert len(of_sure) > len(SHEETS) / 3 and np.mean(of_sure) > 0.95


@given(st.sampled_from(SHEETS), st.sampled_from(get_args(Kind)))
@settings(max_examples=12, deadline=None)
def test_what_somebody_said_it_is_comes_first(sample: Sample, kind: Kind) -> None:
    told = inspect(sample.picture, known=Known(kind=kind))
    alone = inspect(sample.picture)
    assert told.kind == kind
    assert {repr(one) for one in told.readings} <= {
        repr(one) for one in (*alone.readings, *told.readings)
    }
    if any(one.layout.kind == LAYOUTS[kind] for one in alone.readings):
        assert told.readings[0].layout.kind == LAYOUTS[kind]


@given(st.data())
@settings(deadline=None)
def test_bits_in_one_cell_are_one_piece_and_nothing_is_lost(data: st.DataObject) -> None:
    side = st.integers(5, 12)
    grid = EvenCells(Size(data.draw(side), data.draw(side)), Size(1, 2), Size(0, 1))
    cells = data.draw(st.sets(st.tuples(st.integers(0, 4), st.integers(0, 3)), min_size=1))
    mask = np.zeros((2 + 4 * (grid.cell.height + 1), 1 + 5 * grid.cell.width), bool)
    for column, row in cells:
        left = 1 + column * grid.cell.width
        top = 2 + row * (grid.cell.height + 1)
        mask[top : top + 2, left : left + 2] = True
        mask[top + 3 : top + 5, left + 3 : left + 5] = True
    pieces = loose_pieces(mask, LoosePieces(within=grid))
    assert len(pieces) == len(cells)
    covered = np.zeros_like(mask)
    for rect in pieces:
        covered[rect.y : rect.bottom, rect.x : rect.right] = True
    assert not (mask & ~covered).any()


def test_cells_that_hold_pieces_go_along_when_a_sheet_is_turned_or_enlarged(
    tmp_path: Path,
) -> None:
    art = Art(tmp_path)
    project, name = gather(Project(), art, [RAW / "keeper.png"])
    layout = LoosePieces(within=EvenCells(Size(19, 24)))
    sheet = replace(project.sheet(name), layout=layout)
    larger = scaled(sheet, 2).layout  # type: ignore[arg-type]
    assert isinstance(larger, LoosePieces)
    assert larger.within == EvenCells(Size(38, 48))
    turned = turn_sheets(Project(sheets=(sheet,)), (name,), "quarter").sheet(name).layout
    assert isinstance(turned, LoosePieces) and turned.within is not None
    assert turned.within.cell == Size(24, 19)


def test_the_weights_are_for_the_evidence_that_is_measured() -> None:
    learned = weights()
    assert learned.readings.measure.max() < len(NAMES)
    assert learned.learned["figures"]["all"]["taken"][1] > 200, "real sheets were learned from"


def test_doubtful_sheets_are_those_that_wait_and_are_not_sure(tmp_path: Path) -> None:
    art = Art(tmp_path)
    paths = sorted(RAW.glob("*.png"))
    project = Project()
    for path in paths:
        project, _ = gather(project, art, [path])
    before = doubtful(project, partial(see, art))
    names = [sheet.name for sheet in project.sheets]
    assert set(before) < set(names)
    *_, after = accept_all(project, art, [name for name in names if name not in before])
    assert set(doubtful(after, partial(see, art))) <= set(before)
    *_, everything = accept_all(after, art, before)
    assert doubtful(everything, partial(see, art)) == [] and 0.5 < SURE < 1


def test_what_was_decided_for_one_sheet_is_offered_first_for_those_like_it(tmp_path: Path) -> None:
    art = Art(tmp_path)
    samples = [one for one in SHEETS if len(inspect(one.picture).readings) > 3][:6]
    for index, sample in enumerate(samples):
        project = Project()
        paths = [tmp_path / f"fen {index} {side}.png" for side in "ab"]
        for path, picture in zip(paths, (sample.picture, sample.picture[:, ::-1]), strict=True):
            project, _ = gather(project, art, [write_picture(path, picture)])
        first, second = project.sheets
        before = see_in_pack(project, art, second)
        for reading in see_in_pack(project, art, first).readings[:4]:
            layout = see_in_pack(project, art, first).offered(reading.layout)
            decided = cut_as(project, art, first.name, layout)
            after = see_in_pack(decided, art, second)
            assert set(map(repr, (one.layout for one in after.readings))) == set(
                map(repr, (one.layout for one in before.readings))
            )
            held = [one for one in before.readings if one.layout == reading.layout]
            if held:
                assert after.readings[0].layout == reading.layout
                assert first.name in after.readings[0].why
                assert after.is_sure <= (before.readings[0].layout == reading.layout)


def test_sheets_of_one_author_and_width_are_like_each_other() -> None:
    def sheet(name: str, author: str, height: int) -> Sheet:
        source = Source(f"art/{name}.png", name, Size(64, height))
        return Sheet(name, (source,), licence=Licence(author=author), layout=EvenCells(Size(8, 8)))

    reed, heron = sheet("reed", "Mara Sedge", 32), sheet("heron", "Mara Sedge", 48)
    tall = [Reading(EvenCells(Size(8, 8)), 8, 6, 1.0, "")]

    def like(one: Sheet, cut: Sheet) -> bool:
        return Pack.of({}, [cut]).first_like(one, tall) is not None

    assert like(heron, reed) and not like(heron, heron), "another sheet is meant"
    assert not like(replace(heron, licence=Licence(author="Ode")), reed)
    assert not like(replace(heron, licence=Licence()), replace(reed, licence=Licence()))
    loose = replace(reed, layout=LoosePieces())
    assert not like(heron, loose) and set(likeness(heron)) & set(likeness(loose))


@given(st.data())
@settings(max_examples=40, deadline=None)
def test_a_cell_that_is_shown_roughly_is_taken_exactly(data: st.DataObject) -> None:
    sample = data.draw(st.sampled_from([one for one in SHEETS if min(one.cell) >= 16]))
    seen = inspect(sample.picture)
    for reading in seen.grids[:1]:
        layout = reading.layout
        assert isinstance(layout, EvenCells)
        column = data.draw(st.integers(0, reading.columns - 1))
        row = data.draw(st.integers(0, reading.rows - 1))
        off = [data.draw(st.integers(-1, 1)) for _ in range(4)]
        left = layout.margin.width + column * (layout.cell.width + layout.gap.width) + off[0]
        top = layout.margin.height + row * (layout.cell.height + layout.gap.height) + off[1]
        shown = Rect(left, top, layout.cell.width + off[2], layout.cell.height + off[3])
        assert cells_around(seen.grids, seen.drawn, shown) == layout
        typed = likeliest_with(seen.grids, seen.drawn, "cell", 0, layout.cell.width)
        assert typed.cell.width == layout.cell.width and typed == seen.grids[0].layout


MEASURES, DEPTH = 3, 3
NODES = 2 ** (DEPTH + 1) - 1
thresholds = st.integers(-3, 3)


@st.composite
def trees(draw: st.DrawFn) -> Trees:
    """Full binary trees some of whose nodes are leaves early."""
    count = draw(st.integers(1, 4))
    measure = np.full((count, NODES), -1, np.int16)
    for tree in range(count):
        for node in range(NODES // 2):
            parent = (node - 1) // 2
            if node == 0 or measure[tree, parent] >= 0:
                measure[tree, node] = draw(st.integers(-1, MEASURES - 1))
    places = np.arange(NODES)
    left = np.broadcast_to(np.minimum(2 * places + 1, NODES - 1), measure.shape).astype(np.int16)
    right = np.broadcast_to(np.minimum(2 * places + 2, NODES - 1), measure.shape).astype(np.int16)
    size = count * NODES
    values = draw(st.lists(thresholds, min_size=size, max_size=size))
    worth = draw(st.lists(st.integers(-9, 9), min_size=size, max_size=size))
    shape = (count, NODES)
    return Trees(
        measure,
        np.array(values, float).reshape(shape),
        left,
        right,
        np.array(worth, np.float32).reshape(shape),
        DEPTH,
    )


@given(trees(), st.lists(st.tuples(*[st.floats(-4, 4, width=32)] * MEASURES), min_size=1))
def test_trees_are_walked_by_their_thresholds(made: Trees, rows: list[tuple[float, ...]]) -> None:
    def walked(tree: int, row: tuple[float, ...]) -> float:
        node = 0
        while made.measure[tree, node] >= 0:
            lower = row[made.measure[tree, node]] <= made.threshold[tree, node]
            node = int((made.left if lower else made.right)[tree, node])
        return float(made.worth[tree, node])

    wanted = [sum(walked(tree, row) for tree in range(len(made.measure))) for row in rows]
    np.testing.assert_allclose(made.scores(np.array(rows, np.float32)), wanted, atol=1e-6)


@given(st.integers(4, 256), st.integers(4, 256), st.sampled_from(["x", "X", "×", "_x_"]))
def test_sizes_in_names(width: int, height: int, between: str) -> None:
    found = sizes_in(f"fen_{width}{between}{height}_b")
    assert found in ({Size(width, height)}, set()) and sizes_in("fen") == set()
    assert between == "_x_" or found == {Size(width, height)}


EACH = 6


@pytest.fixture(scope="module")
def sheets() -> list[Lossy]:
    return list(lossy_sheets(EACH))


@pytest.mark.slow
@pytest.mark.parametrize("seed", [100, 200])
def test_no_lossy_picture_is_keyed_as_if_it_were_exact(seed: int) -> None:
    """Whatever the key, black too, where ringing might as well be dark art."""
    sheets = list(lossy_sheets(12, seed))
    keys = [guess_key(sheet.picture) for sheet in sheets]
    assert all(key.tolerance for key in keys if key)
    assert sum(key is None for key in keys) <= 0.05 * len(sheets)


@pytest.mark.slow
@pytest.mark.parametrize("key", KEYS, ids=lambda key: key.hex)
def test_cleaning_the_fringe_never_makes_exact_art_worse(key: Colour, sheets: list[Lossy]) -> None:
    for sheet in sheets:
        if sheet.key != key:
            continue
        flat = over(sheet.art, key)
        hard = off(apply_key(flat, ColourKey(key)), sheet.art)
        for fringe in (1, 2, 3, 4):
            assert off(apply_key(flat, ColourKey(key, 0, fringe)), sheet.art) <= hard + 0.02


def test_a_picture_of_nothing_and_one_of_art_alone_stay(sheets: list[Lossy]) -> None:
    key = ColourKey(Colour(255, 0, 255), 12, 3)
    flat = np.full((9, 9, 4), 255, np.uint8)
    flat[..., :3] = key.colour[:3]
    assert not apply_key(flat, key).any()
    art = np.full((9, 9, 4), 90, np.uint8)
    np.testing.assert_array_equal(apply_key(art, key), art)


def a_project_of(folder: Path, samples: list[Sample]) -> tuple[Project, Art]:
    """A project whose sheets wait, each of them looked at."""
    project, art = Project(), Art(folder)
    for place, sample in enumerate(samples):
        path = write_picture(folder / f"{'abcdefghij'[place]} fen.png", sample.picture)
        project, name = gather(project, art, [path])
        see(art, project.sheet(name))
    return project, art


@settings(max_examples=12)
@given(st.lists(st.integers(0, len(SHEETS) - 1), min_size=2, max_size=6, unique=True))
def test_sheets_are_taken_as_they_are_shown_next_to_each_other(
    tmp_path_factory: pytest.TempPathFactory, places: list[int]
) -> None:
    project, art = a_project_of(tmp_path_factory.mktemp("pack"), [SHEETS[at] for at in places])
    shown = {sheet.name: see_in_pack(project, art, sheet) for sheet in project.sheets}
    unsure = {name for name, seen in shown.items() if not seen.is_sure}
    assert set(doubtful(project, partial(see, art))) == unsure
    names = list(shown)
    *_, taken = accept_all(project, art, names)
    *_, plain = accept_sure(project, art, names)
    for before, after, sure in zip(project.sheets, taken.sheets, plain.sheets, strict=True):
        seen = shown[before.name]
        if after.layout is not None:
            assert (after.layout, after.kind) == (seen.layout, seen.kind)
            assert sure.layout == seen.layout or before.name in unsure
    assert not [
        sheet.name
        for sheet in plain.sheets
        if waits(sheet) and see_in_pack(plain, art, sheet).is_sure
    ], "what was taken makes others plain, and these are taken too"


CELLS = [Size(8 * (place + 1), 8 * (place % 3 + 1)) for place in range(6)]


@given(
    st.lists(st.floats(0.01, 1), min_size=2, max_size=6),
    st.lists(st.tuples(st.integers(0, 5), st.floats(0, 1), st.booleans()), max_size=12),
    st.integers(0, 5),
)
def test_the_more_sheets_speak_for_a_size_the_higher_it_ranks(
    shares: list[float], others: list[tuple[int, float, bool]], louder: int
) -> None:
    layouts: list[Layout] = [OnePicture(), *map(EvenCells, CELLS)]
    whole = 1.1 * sum(shares)
    readings = [
        Reading(layout, 2, 2, share / whole, "")
        for layout, share in zip(layouts, sorted(shares, reverse=True), strict=False)
    ]
    ranked, size = Ranked(tuple(readings), 0.5), Size(64, 64)
    own = {"own": (size, votes_of(ranked))} | {
        str(place): (size if alike else Size(32, 64), {CELLS[cell]: vote})
        for place, (cell, vote, alike) in enumerate(others)
    }
    pack = Pack.of(own)
    after, told = pack.weighed("own", size, ranked)
    assert sorted(map(repr, (one.layout for one in after.readings))) == sorted(
        map(repr, (one.layout for one in readings))
    )
    assert np.isclose(sum(one.share for one in after.readings), sum(shares) / whole)
    assert all(one.share >= two.share for one, two in pairwise(after.readings))
    if not others:
        assert [one.layout for one in after.readings] == [one.layout for one in readings]
        assert told[3] == 0 and not pack.is_company("own")
    more = Pack.of(own | {"more": (Size(32, 64), {CELLS[louder]: 1.0})})
    again, _ = more.weighed("own", size, ranked)

    def share(found: Ranked) -> float:
        meant = EvenCells(CELLS[louder])
        return next((one.share for one in found.readings if one.layout == meant), 0.0)

    assert share(again) >= share(after) - 1e-9
    speaks = sum(vote for cell, vote, _ in others if cell == louder)
    alike = sum(vote for cell, vote, same in others if cell == louder and same)
    meant = [place for place, one in enumerate(readings) if one.layout == EvenCells(CELLS[louder])]
    one_picture = next(one for one in after.readings if isinstance(one.layout, OnePicture))
    for place in meant:  # against what nobody speaks for, by the very numbers
        wanted = readings[place].share * ((1 + 2 * speaks) * (1 + 2 * alike)) ** 1.5
        assert np.isclose(share(after) / one_picture.share, wanted / readings[0].share)
