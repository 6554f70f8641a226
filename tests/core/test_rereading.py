"""A picture is saved outside: what was decided follows its pieces."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.bound.shaping import set_shapes
from rushweed.core.cut.animations import holds_of, set_animation, set_hold
from rushweed.core.cut.correcting import draw_piece, leave_out
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import accept, gather
from rushweed.core.cut.likeness import Pieces, shown
from rushweed.core.cut.matching import match_pieces
from rushweed.core.cut.rereading import Reread, joined, parted, reread, take_changes
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import saved_outside
from rushweed.core.gather.kept import Kept
from rushweed.core.gather.origins import Origins
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.pivots import set_pivot
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.weave.letting_go import let_go
from rushweed.core.weave.levels import add_level, set_cells
from tests.samples import write_picture

SIDE = 8
CELLS = EvenCells(Size(SIDE, SIDE))


def tiles(count: int, seed: int = 1) -> list[np.ndarray]:
    """Tiles that differ, in few colours, as drawn ones are; every fifth is the same."""
    draw = np.random.default_rng(seed)
    made: list[Any] = []
    for index in range(count):
        colours = draw.integers(1, 255, (4, 4), dtype=np.uint8)
        colours[:, 3] = 255
        coarse = colours[draw.integers(0, 4, (4, 4))]
        made.append(made[0] if made and index % 5 == 0 else coarse.repeat(2, 0).repeat(2, 1))
    return made


def laid_out(made: list[np.ndarray], columns: int) -> np.ndarray:
    rows = -(-len(made) // columns)
    picture = np.zeros((rows * SIDE, columns * SIDE, 4), np.uint8)
    for index, tile in enumerate(made):
        y, x = index // columns * SIDE, index % columns * SIDE
        picture[y : y + SIDE, x : x + SIDE] = tile
    return picture


def rects(count: int, columns: int) -> list[Rect]:
    return [Rect(i % columns * SIDE, i // columns * SIDE, SIDE, SIDE) for i in range(count)]


class Bench:
    """A project of one sheet whose file can be drawn anew outside."""

    def __init__(self, folder: Path, picture: np.ndarray, layout: Layout) -> None:
        self.file = write_picture(folder / "drawn.png", picture)
        self.art = Art(folder / "project", keeps=True)
        self.project, _ = gather(Project(), self.art, [self.file])
        mask = solid(self.art.picture(self.sheet))
        self.project = cut(self.project, "drawn", layout, mask)
        (folder / "project" / "project.rushweed").touch()

    @property
    def sheet(self):
        return self.project.sheet("drawn")

    def redraw(self, picture: np.ndarray) -> Reread:
        write_picture(self.file, picture)
        saved = saved_outside(self.sheet, self.art, Origins(self.art.folder).all())
        assert saved is not None
        return reread(self.sheet, self.art, saved)

    def take(self, picture: np.ndarray) -> Project:
        return take_changes(self.project, self.art, self.redraw(picture))


@given(
    st.integers(2, 30),
    st.integers(1, 6),
    st.integers(1, 9),
    st.integers(0, 40),
    st.lists(st.integers(0, 29), max_size=4),
)
def test_inserted_and_changed_tiles_never_confuse_the_others(
    count: int, columns: int, wider: int, at: int, touched: list[int]
) -> None:
    made = tiles(count)
    other = [tile.copy() for tile in made]
    for index in {index % count for index in touched}:
        other[index][3, 4] = (1, 2, 3, 255)
    at = min(at, count)
    fresh = tiles(wider, seed=99)
    moved = [*other[:at], *fresh, *other[at:]]
    before = Pieces(shown(laid_out(made, columns)), rects(count, columns))
    after = Pieces(shown(laid_out(moved, wider)), rects(len(moved), wider))
    matches = match_pieces(before, after)
    assert [m.old for m in matches[:count]] == list(range(count))
    taken = [m.new for m in matches if m.new is not None]
    assert sorted(taken) == list(range(len(moved))), "each new one is spoken for once"
    for match in matches[:count]:
        assert match.new is not None and match.old is not None
        if match.how in ("same", "moved"):
            assert before.content(match.old) == after.content(match.new)


@settings(max_examples=1)
@given(st.just(25))
def test_a_row_on_top_of_a_thousand_loses_nothing(columns: int) -> None:
    made = tiles(1000)
    before = Pieces(shown(laid_out(made, columns)), rects(1000, columns))
    moved = [*tiles(columns, seed=7), *made]
    after = Pieces(shown(laid_out(moved, columns)), rects(len(moved), columns))
    matches = match_pieces(before, after)
    assert all(
        m.how == "moved" and m.old is not None and m.new == m.old + columns for m in matches[:1000]
    )
    assert [m.how for m in matches[1000:]] == ["new"] * columns


def test_what_was_decided_follows_and_what_is_gone_is_kept(tmp_path: Path) -> None:
    made = tiles(12)
    bench = Bench(tmp_path, laid_out(made, 4), CELLS)
    first, gone, recoloured = (bench.sheet.pieces[i].number for i in (1, 6, 8))
    box = (Shape(Box(0, 0, 8, 4)),)
    project = set_shapes(bench.project, frozenset({first, gone}), box)
    project = set_pivot(project, frozenset({first}), 3, 5)
    project = set_animation(project, "drawn", "sway", [first, gone])
    project, level = add_level(project)
    cells = project.level(level).layers[0].cells.painted({(0, 0): (first, 0), (-3, 5): (gone, 2)})
    bench.project = set_cells(project, level, 0, cells)

    drawn = [*tiles(4, seed=5), *made]
    drawn[4 + 6] = np.zeros_like(made[6])
    drawn[4 + 8] = made[8][..., [2, 0, 1, 3]]
    change = bench.redraw(laid_out(drawn, 4))
    assert {how: change.count(how) for how in ("moved", "recoloured", "new", "gone")} == {
        "moved": 10,
        "recoloured": 1,
        "new": 4,
        "gone": 1,
    }
    after = take_changes(bench.project, bench.art, change)
    sheet = after.sheet("drawn")
    assert after.find(first)[1].rect == Rect(SIDE, SIDE, SIDE, SIDE)  # type: ignore[index]
    assert after.find(first)[1].pivot == Point(3, 5)  # type: ignore[index]
    assert after.find(first)[1].shapes == box  # type: ignore[index]
    assert after.find(recoloured)[1].rect.y == 3 * SIDE  # type: ignore[index]
    assert after.levels is bench.project.levels, "painted levels name pieces by number"
    assert sheet.animations[0].frames == (first, gone), "a missing frame may come back"
    assert [m.piece.number for m in sheet.missing] == [gone] and after.find(gone) is None
    assert min({p.number for p in sheet.pieces} - {p.number for p in bench.sheet.pieces}) == (
        bench.project.next_number
    )
    finding = next(f for f in find_all(after, bench.art) if f.code == "missing-piece")
    assert finding.mend is not None and finding.mend(after) == let_go(after, frozenset({gone}))
    forgotten = let_go(after, frozenset({gone}))
    assert forgotten.level(level).layers[0].cells.used() == {first}
    assert forgotten.sheet("drawn").animations[0].frames == (first,)

    bench.project = after
    drawn[4 + 6] = made[6]
    back = bench.take(laid_out(drawn, 4))
    assert back.find(gone)[1].shapes == box and not back.sheet("drawn").missing  # type: ignore[index]


def test_a_canvas_grown_to_the_left_takes_its_grid_along(tmp_path: Path) -> None:
    picture = laid_out(tiles(12), 4)
    bench = Bench(tmp_path, picture, CELLS)
    bench.project, by_hand = draw_piece(bench.project, "drawn", Rect(4, 4, 20, 9))
    bench.project = leave_out(bench.project, "drawn", frozenset({bench.sheet.pieces[-1].number}))
    old = {piece.number: piece.rect for piece in bench.sheet.pieces}
    grown = np.pad(picture, ((5, 0), (3, 0), (0, 0)))
    after = bench.take(grown).sheet("drawn")
    assert after.layout == replace(CELLS, margin=Size(3, 5)) and not after.missing
    assert {p.number for p in after.pieces} == set(old), "what was left out stays out"
    for piece in after.pieces:
        rect = old[piece.number]
        assert piece.rect == Rect(rect.x + 3, rect.y + 5, rect.width, rect.height)
    assert next(p for p in after.pieces if p.number == by_hand).by_hand


def test_loose_pieces_and_single_pictures_follow(tmp_path: Path) -> None:
    picture = np.zeros((40, 60, 4), np.uint8)
    for index, tile in enumerate(tiles(3, seed=3)):
        picture[4 : 4 + SIDE, 4 + 18 * index : 4 + 18 * index + SIDE] = tile
    loose = Bench(tmp_path, picture, LoosePieces())
    numbers = [piece.number for piece in loose.sheet.pieces]
    moved = np.roll(picture, (15, 2), (0, 1))
    moved[17:19, 8] = (9, 9, 9, 255)
    after = loose.take(moved).sheet("drawn")
    assert [piece.number for piece in after.pieces] == numbers
    grown = after.pieces[0]
    assert grown.rect == Rect(6, 17, 8, 10) and grown.pivot == Point(4, 10)

    (tmp_path / "one").mkdir()
    one = Bench(tmp_path / "one", picture, OnePicture())
    after = one.take(tiles(1)[0]).sheet("drawn")
    assert after.pieces[0].rect == Rect(0, 0, SIDE, SIDE) and not after.missing


def test_matches_can_be_corrected_before_they_are_taken_in(tmp_path: Path) -> None:
    made = tiles(6)
    bench = Bench(tmp_path, laid_out(made, 3), CELLS)
    drawn = [*made[:5], tiles(1, seed=42)[0]]
    change = bench.redraw(laid_out(drawn, 3))
    last = bench.sheet.pieces[5].number
    assert change.count("redrawn") == 1
    apart = parted(change, last)
    assert apart.count("gone") == 1 and apart.count("new") == 1
    assert parted(apart, last) is apart
    place = Rect(2 * SIDE, SIDE, SIDE, SIDE)
    again = joined(apart, last, place)
    assert take_changes(bench.project, bench.art, again).find(last)[1].rect == place  # type: ignore[index]
    first = bench.sheet.pieces[0].number
    swapped = joined(change, first, place)
    assert swapped.count("gone") == 1 and swapped.count("new") == 1


def test_a_copy_that_was_cut_short_does_not_count(tmp_path: Path) -> None:
    bench = Bench(tmp_path, laid_out(tiles(4), 2), CELLS)
    content = bench.sheet.sources[0].content
    (bench.art.folder / ".rushweed" / "kept" / content).write_bytes(b"")
    assert Kept(bench.art.folder).find(content) is None
    assert Art(bench.art.folder).picture(bench.sheet).any(), "the picture itself is whole"


def test_without_copies_places_alone_count(tmp_path: Path) -> None:
    made = tiles(6)
    bench = Bench(tmp_path, laid_out(made, 3), CELLS)
    Kept(bench.art.folder).forget_others(())
    bench.art = Art(bench.art.folder)
    write_picture(bench.art.folder / "art" / "drawn.png", laid_out(tiles(6, seed=8), 3))
    saved = saved_outside(bench.sheet, bench.art, {})
    assert saved is not None
    change = reread(bench.sheet, bench.art, saved)
    assert not change.known and change.count("same") == 6


@pytest.mark.parametrize("how", ["text", "folder", "gone", "link"])
def test_a_picture_that_became_something_else_is_refused(tmp_path: Path, how: str) -> None:
    bench = Bench(tmp_path, laid_out(tiles(4), 2), CELLS)
    inside = bench.art.folder / "art" / "drawn.png"
    inside.unlink()
    if how == "text":
        inside.write_text("no picture any more")
    elif how == "folder":
        inside.mkdir()
    elif how == "link":
        inside.symlink_to(inside)
    with pytest.raises(Refusal, match=r"drawn\.png") as refusal:
        saved_outside(bench.sheet, bench.art, {})
    assert str(refusal.value).endswith(".")
    assert bench.art.picture(bench.sheet).any(), "what was taken in is still shown"
    codes = {finding.code for finding in find_all(bench.project, bench.art)}
    assert ("picture-gone" in codes) == (how != "text")


def test_a_picture_smaller_than_a_cell_leaves_all_missing(tmp_path: Path) -> None:
    bench = Bench(tmp_path, laid_out(tiles(4), 2), CELLS)
    after = bench.take(np.full((3, 3, 4), 200, np.uint8)).sheet("drawn")
    assert len(after.missing) == 4 and not after.pieces


@given(
    count=st.integers(2, 6),
    gone=st.sets(st.integers(0, 5), max_size=3),
    fresh=st.lists(st.integers(0, 6), max_size=3),
    touched=st.sets(st.integers(0, 5), max_size=2),
    inside=st.booleans(),
)
def test_numbered_pictures_come_go_and_are_numbered_anew(
    tmp_path_factory: pytest.TempPathFactory,
    count: int, gone: set[int], fresh: list[int], touched: set[int], inside: bool,
) -> None:  # fmt: skip
    """Whatever is rendered into the folder: each frame that is known goes on as it is, the rest is
    new, and the animation plays all that lie there, in their order."""
    folder = tmp_path_factory.mktemp("run")
    art = Art(folder / "project", keeps=True)
    there = folder / "project" / "art" / "run" if inside else folder / "run"
    draw = np.random.default_rng(7)
    known = [
        draw.integers(0, 255, (8, 8, 4), np.uint8) | np.array([0, 0, 0, 255], np.uint8)
        for _ in range(16)
    ]
    frames = known

    def render(pictures: list[np.ndarray]) -> None:
        for path in there.glob("*.png"):
            path.unlink()
        for place, picture in enumerate(pictures):
            write_picture(there / f"run_{place:02}.png", picture)

    there.mkdir(parents=True)
    render(frames[:count])
    project, name = gather(Project(), art, expand([there])[0])
    project = accept(project, art, name)
    project = set_hold(project, name, name, [0], 3)
    numbers = {frames[i].tobytes(): p.number for i, p in enumerate(project.sheet(name).pieces)}
    kept = [i for i in range(count) if i not in gone] or [0]
    order: list[np.ndarray] = [frames[i] for i in kept]
    for place, at in enumerate(fresh):
        order.insert(at, frames[count + place])
    for place in touched & set(range(len(order))):
        order[place] = order[place].copy()
        order[place][3, 4, :3] ^= 255
    render(order)
    saved = saved_outside(project.sheet(name), art, Origins(art.folder).all())
    before = project
    if saved is not None:
        project = take_changes(project, art, reread(project.sheet(name), art, saved))
    sheet = project.sheet(name)
    assert [art.piece(sheet, piece).tobytes() for piece in sheet.pieces] == [
        picture.tobytes() for picture in order
    ]
    for piece, picture in zip(sheet.pieces, order, strict=True):
        assert numbers.get(picture.tobytes(), piece.number) == piece.number, "known frames stay"
    animation = sheet.animations[0]
    assert animation.frames == tuple(piece.number for piece in sheet.pieces)
    first = before.sheet(name).pieces[0].number
    if first in animation.frames:
        assert holds_of(animation)[animation.frames.index(first)] == 3
    assert saved_outside(sheet, art, Origins(art.folder).all()) is None, "and then all is taken in"


def test_pictures_that_were_joined_are_no_folder_of_frames(tmp_path: Path) -> None:
    """Those of two names, and those in an order of one's own, stay as they were joined."""
    art = Art(tmp_path / "project", keeps=True)
    for order in (["run_1", "run_2", "sit_1"], ["run_2", "run_1"]):
        paths = [
            write_picture(tmp_path / f"{name}.png", laid_out(tiles(1, seed), 1))
            for seed, name in enumerate(order)
        ]
        project, name = gather(Project(), art, paths)
        write_picture(tmp_path / "run_7.png", laid_out(tiles(1, 99), 1))
        assert saved_outside(project.sheet(name), art, Origins(art.folder).all()) is None
