"""What is set on a pixel stays on that pixel, through whatever cuts, turns, enlarges or joins."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bound.shaping import add_shape
from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.correcting import common_size, join, make_even, pad, split, trim
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.rereading import reread, take_changes
from rushweed.core.cut.reshaping import Turn, set_enlarged, turn_sheets
from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import replaced
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.sheet_list import join_sheets
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.frame_points import put_point
from rushweed.core.gauge.pivots import align_pivots, copy_pivot, from_foot, set_pivot
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.orientation import turned_point
from rushweed.core.project.attached import carried, moved_form
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Circle, Polygon, Shape
from rushweed.core.project.sheet import Borders, EvenCells, LoosePieces, Piece, Sheet
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.drawing import Scene
from tests.samples import write_picture

CELL = 16


def figures(columns: int, rows: int, seed: int) -> Picture:
    """Figures in cells, with room to the right and below, each drawn pixel of another colour."""
    rng = np.random.default_rng(seed)
    picture = np.zeros((rows * CELL + 6, columns * CELL + 6, 4), np.uint8)
    for row in range(rows):
        for column in range(columns):
            left, top = rng.integers(1, 5, 2)
            right, bottom = CELL - rng.integers(1, 5, 2)
            picture[
                row * CELL + top : row * CELL + bottom, column * CELL + left : column * CELL + right
            ] = 255
    drawn = picture[..., 3] > 0
    count = np.arange(1, drawn.sum() + 1)
    picture[drawn] = np.stack(
        [count % 251, count // 251, np.full_like(count, 99), np.full_like(count, 255)], axis=1
    )
    return picture


def bench(folder: Path, picture: Picture) -> tuple[Project, Art]:
    art = Art(folder / "project")
    project, _ = gather(Project(), art, [write_picture(folder / "reed.png", picture)])
    return cut(project, "reed", EvenCells(Size(CELL, CELL)), solid(picture)), art


def with_everything(project: Project, picture: Picture) -> Project:
    """Each piece with a pivot, a point and a shape in the middle of some of its drawn pixels."""
    for _, piece in project.pieces():
        x, y, width, height = piece.rect
        rows, columns = np.nonzero(picture[y : y + height, x : x + width, 3])
        first, middle, last = 0, len(rows) // 2, len(rows) - 1
        one = frozenset({piece.number})
        project = set_pivot(project, one, columns[middle] + 0.5, rows[middle] + 0.5)
        project = put_point(project, one, "hand", columns[first] + 0.5, rows[first] + 0.5)
        box = Box(float(columns[last]), float(rows[last]), 1, 1)
        project = add_shape(project, one, Shape(box))
    return project


def pixels(
    project: Project, art: Art, among: Collection[int] = range(1 << 20)
) -> dict[int, tuple[tuple[int, ...], ...]]:
    """The colours on which pivot, point and shape of each piece lie."""
    sheet = project.sheets[0]
    picture = art.picture(sheet)

    def at(piece: Piece, x: float, y: float) -> tuple[int, ...]:
        place = int(piece.rect.y + y), int(piece.rect.x + x)
        return tuple(picture[place].tolist())

    found: dict[int, tuple[tuple[int, ...], ...]] = {}
    for piece in sheet.pieces:
        if piece.number not in among:
            continue
        assert piece.shapes is not None and isinstance(piece.shapes[0].form, Box)
        box, hand = piece.shapes[0].form, piece.points[0]
        middle = box.x + box.width / 2, box.y + box.height / 2
        found[piece.number] = (
            at(piece, *piece.pivot),
            at(piece, hand.x, hand.y),
            at(piece, *middle),
        )
    return found


Act = Callable[[Project, Art], Project]


def lay_out(layout) -> Act:
    return lambda project, art: cut(project, "reed", layout, solid(art.picture(project.sheets[0])))


def on_all(act: Callable[[Project, str, frozenset[int]], Project]) -> Act:
    return lambda project, art: act(
        project, "reed", frozenset(piece.number for _, piece in project.pieces())
    )


def trimmed(project: Project, art: Art) -> Project:
    numbers = frozenset(piece.number for _, piece in project.pieces())
    return trim(project, "reed", numbers, solid(art.picture(project.sheets[0])))


def even(margin: int) -> Act:
    def edit(project: Project, art: Art) -> Project:
        times = project.sheets[0].enlarged
        cells = EvenCells(Size(CELL * times, CELL * times), Size(margin, margin))
        return lay_out(cells)(project, art)

    return edit


ACTS = st.one_of(
    st.integers(0, 5).map(even),
    st.builds(LoosePieces, st.integers(0, 2)).map(lay_out),
    st.sampled_from(get_args(Turn)).map(
        lambda turn: lambda project, art: turn_sheets(project, ("reed",), turn)
    ),
    st.integers(1, 3).map(
        lambda times: lambda project, art: set_enlarged(project, ("reed",), times)
    ),
    st.integers(-1, 3).map(lambda by: on_all(lambda p, s, n: pad(p, s, n, by))),
    st.sampled_from([trimmed, on_all(common_size), on_all(make_even)]),
)


@given(st.integers(2, 4), st.integers(1, 3), st.integers(0, 99), st.lists(ACTS, max_size=6))
def test_what_is_set_on_a_pixel_stays_there(tmp_path_factory, columns, rows, seed, acts) -> None:
    picture = figures(columns, rows, seed)
    project, art = bench(tmp_path_factory.mktemp("staying"), picture)
    project = with_everything(project, picture)
    meant = pixels(project, art)
    for act in acts:
        project = act(project, art)
        now = pixels(project, art, meant.keys())
        assert now, "what shows the same goes on as the same piece"
        assert now.items() <= meant.items()


def drawn_anew(project: Project, art: Art, picture: Picture) -> Project:
    path = write_picture(art.folder.parent / "anew.png", picture)
    saved = replaced(project.sheets[0], art, path)
    return take_changes(project, art, reread(project.sheets[0], art, saved))


@pytest.mark.parametrize(("across", "down"), [(0, 1), (1, 0), (-1, 1), (0, -1)])
def test_figures_drawn_a_pixel_further_are_the_same_cells(tmp_path, across, down) -> None:
    picture = figures(4, 2, 7)
    project, art = bench(tmp_path, picture)
    moved = np.zeros_like(picture)
    for piece in project.sheets[0].pieces:
        x, y = piece.rect.x, piece.rect.y
        cell = np.roll(picture[y : y + CELL, x : x + CELL], (down, across), (0, 1))
        moved[y : y + CELL, x : x + CELL] = cell
    after = drawn_anew(project, art, moved)
    assert after.sheets[0].layout == project.sheets[0].layout
    assert after.sheets[0].pieces == project.sheets[0].pieces and not after.sheets[0].missing


@given(st.integers(0, 99), st.integers(1, 3), st.sampled_from(["right", "left", "top", "bottom"]))
def test_a_loose_piece_that_grows_keeps_what_is_set_on_its_pixels(
    tmp_path_factory, seed, by, where
) -> None:
    picture = figures(3, 2, seed)
    project, art = bench(tmp_path_factory.mktemp("grows"), picture)
    project = cut(project, "reed", LoosePieces(0), solid(picture))
    project = with_everything(project, picture)
    meant = pixels(project, art)
    rect = project.sheets[0].pieces[0].rect
    larger = picture.copy()
    x, y = {
        "right": (rect.right, rect.y),
        "left": (rect.x - 1, rect.y),
        "top": (rect.x, rect.y - 1),
        "bottom": (rect.x, rect.bottom),
    }[where]
    larger[y, x] = (1, 2, 3 + by, 255)
    after = drawn_anew(project, art, larger)
    assert after.sheets[0].pieces[0].rect != rect
    assert pixels(after, art) == meant


def test_joined_pieces_are_played_and_placed_as_one(tmp_path: Path) -> None:
    picture = figures(3, 1, 3)
    project, _ = bench(tmp_path, picture)
    first, second, third = (piece.number for _, piece in project.pieces())
    project, other = split(project, "reed", second, "across", 6), 4
    project = set_animation(project, "reed", "run", [first, second, other, third, first], 8)
    project = set_pivot(project, frozenset({other}), 3, 4)
    joined = join(project, "reed", frozenset({second, other})).sheet("reed")
    assert joined.animations[0].frames == (first, second, third, first)
    whole = next(piece for piece in joined.pieces if piece.number == second)
    assert whole.rect == Rect(CELL, 0, CELL, CELL) and whole.pivot == Point(9, 4)


@pytest.mark.parametrize("own", [16, 8, 4])
def test_what_a_prop_shows_stays_when_its_piece_is_joined(tmp_path: Path, own: int) -> None:
    picture = figures(2, 1, 3)
    project, art = bench(tmp_path, picture)
    half = project.next_number
    project = split(project, "reed", project.sheet("reed").pieces[0].number, "across", 6)
    project = set_pixels_per_unit(project, ("reed",), own)
    level = Level("Alone", (Layer("Things", props=(Prop(half, 60, 90),)),))
    project = replace(project, levels=(level,))
    parts = frozenset(piece.number for piece in project.sheet("reed").pieces[:2])
    joined = join(project, "reed", parts)
    area = Rect(0, 0, 160, 120)
    before, after = (Scene(p, art).level(p.levels[0], area) for p in (project, joined))
    drawn = (before != Scene(project, art).background(level, area.size)).any(axis=2)
    assert drawn.any() and np.array_equal(before[drawn], after[drawn])


def test_sheets_joined_into_one_keep_their_animations(tmp_path: Path) -> None:
    art, project = Art(tmp_path / "project"), Project()
    for name in ("run_1", "run_2"):
        path = write_picture(tmp_path / f"{name}.png", figures(2, 1, len(project.sheets)))
        project, _ = gather(project, art, [path])
        mask = solid(art.picture(project.sheet(name)))
        project = cut(project, name, EvenCells(Size(CELL, CELL)), mask)
        numbers = [piece.number for piece in project.sheet(name).pieces]
        project = set_animation(project, name, "run", numbers, 8)
    project, name = join_sheets(project, ["run_1", "run_2"])
    animations = project.sheet(name).animations
    assert [one.name for one in animations] == ["run", "run 2"]
    mask = solid(art.picture(project.sheet(name)))
    project = cut(project, name, EvenCells(Size(CELL, CELL)), mask)
    assert project.sheet(name).animations == animations


def test_borders_stay_on_the_picture(tmp_path: Path) -> None:
    project, _ = bench(tmp_path, figures(2, 1, 1))
    one = frozenset({1})
    project = with_pieces(project, one, lambda p: replace(p, borders=Borders(3, 4, 5, 0)))
    turned = turn_sheets(project, ("reed",), "quarter").sheet("reed").pieces
    assert next(p for p in turned if p.number == 1).borders == Borders(0, 3, 4, 5)
    twice = set_enlarged(project, ("reed",), 2).sheet("reed").pieces[0]
    assert twice.borders == Borders(6, 8, 10, 0)
    padded = pad(project, "reed", one, 2).sheet("reed").pieces[0]
    assert padded.borders == Borders(5, 6, 7, 0)


@given(st.integers(0, 7), st.integers(-9, 9), st.integers(-9, 9), st.integers(1, 5))
def test_forms_keep_their_size_and_run_however_they_are_turned(
    turn: int, across: int, down: int, radius: int
) -> None:
    size = Size(20, 12)

    def move(point: Point) -> Point:
        x, y = turned_point(point, size, turn)
        return Point(x + across, y + down)

    circle = moved_form(Circle(7, 5, radius), move, turn)
    assert isinstance(circle, Circle)
    assert (circle.x, circle.y, circle.radius) == (*move(Point(7, 5)), radius)
    box = moved_form(Box(2, 3, 6, 4), move, turn)
    wide = box.corners[2].x - box.corners[0].x, box.corners[2].y - box.corners[0].y
    assert sorted(map(abs, wide)) == [4, 6]
    ring = (Point(1, 1), Point(1, 9), Point(11, 9))
    turned_ring = moved_form(Polygon(ring), move, turn).rings[0]
    assert set(turned_ring) == set(map(move, ring)) and _area(turned_ring) == _area(ring)


def _area(ring: Sequence[Point]) -> float:
    """Twice the area, with the sign of the way that the ring runs."""
    ends = zip(ring, (*ring[1:], ring[0]), strict=True)
    return sum(a.x * b.y - b.x * a.y for a, b in ends)


@given(st.lists(st.integers(0, 3), min_size=4, max_size=4))
def test_borders_stay_what_they_are_where_nothing_moves(sides: list[int]) -> None:
    """A side that has none gets none."""
    told: dict[str, Any] = dict(zip(("left", "right", "top", "bottom"), sides, strict=True))
    piece = Piece(1, Rect(4, 6, 12, 10), Point(6, 10), borders=replace(Borders(), **told))
    assert carried(piece, piece.rect).borders == piece.borders
    wider: dict[str, Any] = {name: side + 2 if side else 0 for name, side in told.items()}
    assert carried(piece, piece.rect.grown(2)).borders == replace(Borders(), **wider)


small = st.integers(-6, 6)


@given(
    st.tuples(st.integers(1, 30), st.integers(1, 30)),
    st.tuples(st.integers(1, 30), st.integers(1, 30)),
    st.builds(Point, small, small),
    st.builds(Point, small, small),
)
def test_a_copied_pivot_stands_as_far_from_the_foot(
    first: tuple[int, int], second: tuple[int, int], offset: Point, other: Point
) -> None:
    """Offsets of either piece count, and stay what they are."""
    pieces = (
        Piece(1, Rect(0, 0, *first), Point(3, 5), offset=offset),
        Piece(2, Rect(40, 0, *second), Point(0, 0), offset=other),
    )
    project = Project(sheets=(Sheet("elf", (), pieces=pieces),), next_number=3)
    one, copy = copy_pivot(project, 1, frozenset({2})).sheet("elf").pieces
    assert from_foot(copy) == from_foot(one) and copy.offset == other
    both = align_pivots(project, frozenset({1, 2})).sheet("elf").pieces
    assert from_foot(both[0]) == from_foot(both[1])
