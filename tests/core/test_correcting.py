"""Corrections by hand: they keep pivots and shapes on the picture, and survive a new layout."""

from __future__ import annotations

from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bound.shaping import full_box, set_shapes
from rushweed.core.cut.correcting import (
    bring_back,
    common_size,
    draw_piece,
    duplicate,
    join,
    leave_out,
    make_even,
    pad,
    set_rect,
    split,
    split_by_cells,
    trim,
)
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.cut.naming import name_by_pattern, pattern_names, row_names
from rushweed.core.cut.overlaps import overlapping
from rushweed.core.cut.repeating import best_repeat, mismatch
from rushweed.core.findings.all import find_all
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import EvenCells, LoosePieces, Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.samples import write_picture

FULL = np.ones((48, 64), bool)


def reeds() -> Project:
    """A sheet of 4 × 3 cells of 16 px, each with a shape."""
    source = Source("art/x.png", "0" * 64, Size(64, 48))
    project = cut(
        Project(sheets=(Sheet("reed", (source,)),)), "reed", EvenCells(Size(16, 16)), FULL
    )
    numbers = frozenset(piece.number for _, piece in project.pieces())
    return set_shapes(project, numbers, (Shape(full_box(Size(16, 16))),))


def drawn_project(*rects: Rect) -> Project:
    """A sheet with pieces drawn by hand."""
    project = Project(sheets=(Sheet("reed", (Source("art/x.png", "0" * 64, Size(64, 48)),)),))
    for rect in rects:
        project, _ = draw_piece(project, "reed", rect)
    return project


def piece(project: Project, number: int) -> Piece:
    found = project.find(number)
    assert found is not None
    return found[1]


def on_picture(piece: Piece) -> tuple[Point, list[Point]]:
    """The pivot and the corners of the shapes, in pixels of the picture."""
    x, y = piece.rect.x, piece.rect.y
    corners = [Point(c.x + x, c.y + y) for s in piece.shapes or () for c in s.form.corners]
    return Point(piece.pivot.x + x, piece.pivot.y + y), corners


rects = st.builds(
    Rect, st.integers(-9, 60), st.integers(-9, 40), st.integers(1, 40), st.integers(1, 40)
)


@given(rects, st.integers(-7, 30))
def test_pivots_and_shapes_stay_on_the_picture(rect: Rect, by: int) -> None:
    project = reeds()
    before = on_picture(piece(project, 6))
    for changed in (
        set_rect(project, "reed", 6, rect),
        pad(project, "reed", frozenset({6}), by),
        common_size(set_rect(project, "reed", 1, rect), "reed", frozenset({1, 6})),
    ):
        assert on_picture(piece(changed, 6)) == before
    assert piece(pad(project, "reed", frozenset({6}), by), 6).rect.width == 16 + 2 * by


@given(st.integers(1, 15), st.sampled_from(["across", "down"]), st.integers(1, 12))
def test_splitting_then_joining_is_the_same_rectangle(at: int, way, number: int) -> None:
    project = reeds()
    parted = split(project, "reed", number, way, at)
    new = parted.next_number - 1
    assert len(parted.sheet("reed").pieces) == 13 and piece(parted, new).by_hand
    assert piece(parted, number).rect.area + piece(parted, new).rect.area == 256
    joined = join(parted, "reed", frozenset({number, new}))
    assert piece(joined, number).rect == piece(project, number).rect
    assert on_picture(piece(joined, number)) == on_picture(piece(project, number))
    assert [p.number for p in joined.sheet("reed").pieces] == list(range(1, 13)), "in reading order"


def test_corrections_that_cannot_be_are_refused() -> None:
    project = reeds()
    with pytest.raises(Refusal, match="at least one pixel"):
        pad(project, "reed", frozenset({1}), -8)
    with pytest.raises(Refusal, match="at least one pixel"):
        draw_piece(project, "reed", Rect(3, 3, 0, 5))
    with pytest.raises(Refusal, match="Split inside"):
        split(project, "reed", 1, "across", 16)
    with pytest.raises(Refusal, match="at least two"):
        join(project, "reed", frozenset({1}))
    drawn, number = draw_piece(project, "reed", Rect(20, 20, 9, 9))
    assert piece(drawn, number).pivot == Point(4, 9) and drawn.next_number == number + 1


def test_names_by_pattern_and_rows_that_become_animations() -> None:
    project = name_by_pattern(reeds(), "reed", "{sheet}_{row}_{n:2}", ["idle", "", "sway"])
    names = [p.name for p in project.sheet("reed").pieces]
    assert names[:2] == ["reed_idle_01", "reed_idle_02"] and names[4] == "reed_2_01"
    chosen = [piece.number for piece in project.sheet("reed").pieces[1:3]]
    again = name_by_pattern(project, "reed", "wet_{name}_{i}", (), chosen)
    renamed = [p.name for p in again.sheet("reed").pieces]
    assert renamed[1:3] == ["wet_reed_idle_02_1", "wet_reed_idle_03_2"]
    assert [renamed[0], *renamed[3:]] == [names[0], *names[3:]], "the others keep theirs"
    sheet = project.sheet("reed")
    assert [a.name for a in sheet.animations] == ["idle", "sway"]
    assert sheet.animations[1].frames == (9, 10, 11, 12)
    assert row_names(sheet) == ["idle", "", "sway"]
    assert pattern_names(sheet, "tile {i:3}")[12] == "tile 012"
    with pytest.raises(Refusal, match=r"but not \{what\}"):
        pattern_names(sheet, "{what}")


@given(
    st.lists(rects, min_size=2, max_size=5),
    st.integers(1, 9),
    st.lists(st.tuples(st.integers(0, 63), st.integers(0, 47)), max_size=40),
)
def test_borders_trimming_and_one_size_keep_what_is_seen(
    places: list[Rect], by: int, dots: list[tuple[int, int]]
) -> None:
    mask = np.zeros((48, 64), bool)
    for x, y in dots:
        mask[y, x] = True
    project = reeds()
    drawn = set()
    for rect in places:
        project, number = draw_piece(project, "reed", rect)
        drawn.add(number)
    numbers = frozenset(drawn)
    wider = pad(project, "reed", numbers, by)
    assert pad(wider, "reed", numbers, -by) == project, "a border is taken off again"
    trimmed = trim(project, "reed", numbers, mask)
    assert trim(trimmed, "reed", numbers, mask) == trimmed, "nothing is left to trim"
    even = common_size(project, "reed", numbers)
    assert len({piece(even, number).rect.size for number in numbers}) == 1
    for number in numbers:
        before, after = piece(project, number).rect, piece(trimmed, number).rect
        assert solid_in(mask, before) == solid_in(mask, after), "no pixel is lost"
        stands = piece(even, number).rect
        assert stands.bottom == before.bottom and stands.intersection(before) == before


def solid_in(mask: np.ndarray, rect: Rect) -> int:
    """How many solid pixels a rectangle shows."""
    inside = rect.intersection(Rect(0, 0, mask.shape[1], mask.shape[0]))
    return int(mask[inside.y : inside.bottom, inside.x : inside.right].sum())


@given(st.frozensets(st.integers(1, 12), min_size=1))
def test_what_is_left_out_comes_back_where_it_was(gone: frozenset[int]) -> None:
    project = reeds()
    cells = {p.rect for p in project.sheet("reed").pieces}
    lost = {piece(project, number).rect for number in gone}
    without = leave_out(project, "reed", gone)
    layout = EvenCells(Size(16, 16))
    again = cut(without, "reed", layout, FULL)
    assert {p.rect for p in again.sheet("reed").pieces} == cells - lost
    back = cut(bring_back(again, "reed"), "reed", layout, FULL)
    assert {p.rect for p in back.sheet("reed").pieces} == cells
    fresh = {p.number for p in back.sheet("reed").pieces} - set(range(1, 13))
    assert len(fresh) == len(gone), "a number is never given again"


@given(st.sampled_from(["{i}", "{sheet}_{i:3}", "{row}_{n}", "{row} {n:2} x"]))
def test_names_that_count_are_names_of_one_piece_each(pattern: str) -> None:
    names = pattern_names(reeds().sheet("reed"), pattern, ["idle", "", "sway"])
    assert len(set(names.values())) == len(names) == 12


@given(st.lists(st.builds(Rect, *[st.integers(0, 12)] * 2, *[st.integers(1, 8)] * 2), max_size=9))
def test_the_sweep_finds_every_overlap_once(rects: list[Rect]) -> None:
    pieces = [Piece(number, rect, Point(0, 0)) for number, rect in enumerate(rects)]
    found = [frozenset({a.number, b.number}) for a, b in overlapping(pieces)]
    expected = {
        frozenset({a.number, b.number})
        for a, b in combinations(pieces, 2)
        if a.rect.intersection(b.rect).area
    }
    assert len(found) == len(set(found)) and set(found) == expected


def test_overlaps_empties_and_pieces_past_the_edge_are_found_and_mended(tmp_path: Path) -> None:
    project, art = gathered(tmp_path)
    assert find_cut(project, art) == {}
    numbers = [piece.number for piece in project.sheet("reed").pieces]
    project = set_rect(project, "reed", numbers[0], Rect(-3, 0, 14, 8))
    project, _ = draw_piece(project, "reed", Rect(60, 60, 4, 4))
    found = find_cut(project, art)
    assert set(found) == {"past-the-edge", "overlap", "empty-piece"}
    assert found["past-the-edge"].what.startswith("1 piece reaches past")
    assert set(found["overlap"].pieces) == set(numbers[:2])
    for code in ("past-the-edge", "empty-piece"):
        mend = found[code].mend
        assert mend is not None
        project = mend(project)
    assert set(find_cut(project, art)) == {"overlap"}
    project = leave_out(project, "reed", frozenset({numbers[0]}))
    assert find_cut(project, art) == {}


def gathered(folder: Path) -> tuple[Project, Art]:
    """A sheet with two bodies in its first row, read from a file."""
    picture = np.zeros((64, 64, 4), np.uint8)
    picture[:8, 1:7] = picture[:8, 9:15] = 255
    write_picture(folder / "reed.png", picture)
    art = Art(folder)
    project, _ = gather(Project("Fen"), art, [folder / "reed.png"])
    layout = EvenCells(Size(8, 8))
    return cut(project, "reed", layout, solid(art.picture(project.sheet("reed")))), art


def find_cut(project: Project, art: Art) -> dict[str, Finding]:
    return {f.code: f for f in find_all(project, art) if f.station == "Cut"}


def test_a_rim_is_cut_off_until_the_piece_repeats() -> None:
    wave = np.sin(np.linspace(0, 2 * np.pi, 17)[:16])
    tile = np.full((16, 16, 4), 255, np.uint8)
    tile[..., :3] = (120 + 50 * (wave[:, None] + wave[None, :]))[..., None]
    assert best_repeat(tile, Rect(4, 5, 16, 16)).rect == Rect(4, 5, 16, 16), "nothing to mend"
    framed = np.zeros((18, 19, 4), np.uint8)
    framed[..., 3] = 255
    framed[1:17, 2:18] = tile
    found = best_repeat(framed, Rect(10, 20, 19, 18))
    assert found.rect == Rect(12, 21, 16, 16)
    assert sum(found.after) < 14 < sum(mismatch(framed[:, :-1])) and found.after == mismatch(tile)
    thin = np.full((1, 1, 4), 255, np.uint8)
    assert best_repeat(thin, Rect(0, 0, 1, 1)).rect == Rect(0, 0, 1, 1)


@given(st.integers(1, 9), st.integers(1, 9))
def test_cells_of_a_piece_cover_it_once(wide: int, high: int) -> None:
    project = drawn_project(Rect(2, 3, 20, 14))
    number = project.sheet("reed").pieces[0].number
    cells = split_by_cells(project, "reed", frozenset({number}), Size(wide, high), FULL)
    covered = np.zeros((32, 32), int)
    for piece in cells.sheet("reed").pieces:
        x, y, width, height = piece.rect
        assert width >= wide and height >= high
        covered[y : y + height, x : x + width] += 1
    expected = np.zeros_like(covered)
    expected[3:17, 2:22] = 1
    np.testing.assert_array_equal(covered, expected)
    assert number in {piece.number for piece in cells.sheet("reed").pieces}


def test_duplicates_and_even_cells_on_a_common_foot_line() -> None:
    rects = [Rect(1, 4, 6, 8), Rect(12, 2, 4, 9), Rect(3, 20, 8, 5), Rect(20, 18, 3, 9)]
    project = drawn_project(*rects)
    numbers = frozenset(piece.number for piece in project.sheet("reed").pieces)
    even = make_even(project, "reed", numbers).sheet("reed").pieces
    assert {piece.rect.size for piece in even} == {Size(8, 10)}
    assert [piece.rect.bottom for piece in even] == [12, 12, 27, 27]
    assert {piece.pivot for piece in even} == {Point(4, 10)}
    for before, after in zip(project.sheet("reed").pieces, even, strict=True):
        assert after.rect.intersection(before.rect) == before.rect, "nobody loses a head"
    with pytest.raises(Refusal, match="at least two"):
        make_even(project, "reed", frozenset({1}))
    twice = duplicate(project, "reed", numbers)
    assert len(twice.sheet("reed").pieces) == 8 and twice.next_number == project.next_number + 4
    assert {p.rect for p in twice.sheet("reed").pieces} == set(rects)
    assert duplicate(project, "reed", frozenset()) is project


def test_shadows_belong_to_what_throws_them() -> None:
    mask = np.zeros((40, 60), bool)
    mask[4:20, 6:18] = True
    mask[23:26, 5:19] = True
    mask[30:33, 40:54] = True
    assert len(loose_pieces(mask, LoosePieces())) == 3
    found = loose_pieces(mask, LoosePieces(shadows=True))
    assert found == [Rect(5, 4, 14, 22), Rect(40, 30, 14, 3)], "a plank with nothing above stays"
