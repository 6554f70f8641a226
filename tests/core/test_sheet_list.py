"""Sheets removed, renamed, moved, parted, joined, replaced, rescaled, with all that uses them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from PIL import Image

from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import accept, as_sheets, by_best_guesses, cut_as, gather
from rushweed.core.cut.naming import name_by_pattern, name_pieces, row_names
from rushweed.core.cut.rereading import reread, take_changes
from rushweed.core.cut.rescaling import scale_between
from rushweed.core.cut.reshaping import fit_sheets, set_enlarged
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import replaced, saved_outside
from rushweed.core.gather.pictures import encode_png
from rushweed.core.gather.relatives import join_relative, possible_belongings
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.sheet_list import join_sheets, keep_apart, move_sheets, rename_sheet
from rushweed.core.gather.sources import set_colour_key
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.gauge.pack import same_for_kin
from rushweed.core.gauge.pivots import set_anchor, set_pivot
from rushweed.core.gauge.treating import set_point
from rushweed.core.project.project import Project, piece_index, used_numbers
from rushweed.core.project.sheet import EvenCells, Sheet, Source
from rushweed.core.values import Colour, Rect, Refusal, Size
from rushweed.core.weave.letting_go import numbers_of, remove_sheets, uses_of
from tests.pack import figures, ground
from tests.samples import projects, write_picture

draw = np.random.default_rng(8)


@given(projects(), st.data())
def test_a_removed_sheet_leaves_nothing_behind(project: Project, data: st.DataObject) -> None:
    names = [sheet.name for sheet in project.sheets]
    gone = set(data.draw(st.lists(st.sampled_from(names), unique=True))) if names else set()
    numbers = numbers_of(project, gone)
    told = uses_of(project, numbers)
    after = remove_sheets(project, gone)
    assert [s.name for s in after.sheets] == [n for n in names if n not in gone]
    assert not used_numbers(after) & numbers and not uses_of(after, numbers)
    assert bool(told) or after.levels == project.levels
    kept = {n: piece for n, (_, piece) in piece_index(after).items()}
    assert all(piece_index(project)[n][1] is piece for n, piece in kept.items())


@given(projects(), st.data())
def test_moving_and_renaming_keep_every_sheet(project: Project, data: st.DataObject) -> None:
    names = [sheet.name for sheet in project.sheets]
    if not names:
        return
    chosen = data.draw(st.sets(st.sampled_from(names), min_size=1))
    moved = move_sheets(project, chosen, data.draw(st.sampled_from((-1, 1, -9, 9))))
    assert sorted(s.name for s in moved.sheets) == sorted(names)
    order = [s.name for s in moved.sheets if s.name in chosen]
    assert order == [name for name in names if name in chosen], "in their own order"
    assume(all(name and name == name.strip() for name in names))  # what rename would not give
    renamed = rename_sheet(moved, names[0], "quite another")
    assert rename_sheet(renamed, "quite another", names[0]) == moved
    for bad in ("", "  ", *(names[1:2])):
        with pytest.raises(Refusal, match=r"\.$"):
            rename_sheet(project, names[0], bad)


def folder_of(folder: Path, pictures: dict[str, np.ndarray]) -> Path:
    folder.mkdir()
    for name, picture in pictures.items():
        write_picture(folder / name, picture)
    return folder


def test_only_pictures_that_are_alike_are_frames_of_one(tmp_path: Path) -> None:
    frame = figures(draw, 48, 64, 1, 1)
    taller = np.pad(frame, ((12, 0), (0, 6), (0, 0)))
    walk = folder_of(tmp_path / "walk", {"walk_1.png": frame, "walk_2.png": taller})
    art = Art(tmp_path / "project")
    (group,) = expand([walk])
    assert as_sheets(art, group) == [group]
    project = by_best_guesses(Project(), art, [group])
    (sheet,) = project.sheets
    assert [piece.rect for piece in sheet.pieces] == [Rect(0, 12, 48, 64), Rect(48, 0, 54, 76)]
    assert {piece.rect.bottom for piece in sheet.pieces} == {76}, "on one foot line"
    assert sheet.animations[0].frames == tuple(piece.number for piece in sheet.pieces)

    huge = folder_of(tmp_path / "mixed", {"a1.png": frame, "a2.png": np.tile(frame, (4, 4, 1))})
    moors = {f"moor{n}.png": ground(draw, 32, 32, 6, 4) for n in (1, 2)}
    tilesets = folder_of(tmp_path / "moors", moors)
    for other in (huge, tilesets):
        (group,) = expand([other])
        assert as_sheets(art, group) == [[path] for path in group]

    apart, names = keep_apart(project, sheet.name)
    assert [s.sources for s in apart.sheets] == [(source,) for source in sheet.sources]
    pieces = [s.pieces[0] for s in apart.sheets]
    assert [p.number for p in pieces] == [p.number for p in sheet.pieces], "pieces go along"
    assert [p.rect for p in pieces] == [Rect(0, 0, 48, 64), Rect(0, 0, 54, 76)]
    joined, name = join_sheets(apart, names)
    assert joined.sheet(name).sources == sheet.sources
    again = accept(joined, art, name).sheet(name)
    assert [(p.number, p.rect) for p in again.pieces] == [(p.number, p.rect) for p in sheet.pieces]
    with pytest.raises(Refusal, match="two sheets"):
        join_sheets(joined, (name,))
    with pytest.raises(Refusal, match="one picture already"):
        keep_apart(apart, names[0])


def test_by_hand_a_sheet_belongs_to_any_that_fits(tmp_path: Path) -> None:
    source = Source("art/x.png", "0" * 64, Size(32, 16))
    big = replace(source, size=Size(64, 32))
    sheets = (Sheet("glow", (big,)), Sheet("base", (source,)), Sheet("relief", (source,)))
    project = Project(sheets=sheets)
    found = {(b.kind, b.to, b.factor) for b in possible_belongings(project, "glow")}
    assert found == {("density", "base", 2), ("density", "relief", 2)}
    (relief,) = possible_belongings(project, "relief")
    joined = join_relative(project, "relief", relief)
    assert joined.sheet("relief").belongs == relief


@pytest.mark.parametrize("factor", [Fraction(2), Fraction(1, 2), Fraction(3)])
@pytest.mark.parametrize("smooth", [False, True])
def test_a_source_saved_at_another_size_takes_everything_along(
    tmp_path: Path, factor: Fraction, smooth: bool
) -> None:
    small = figures(draw, 48, 64, 4, 2)
    before = enlarged(small, 2) if factor < 1 else small
    if smooth:
        before = np.asarray(Image.fromarray(before).resize(
            (before.shape[1], before.shape[0]), Image.Resampling.BILINEAR))  # fmt: skip
    art = Art(tmp_path / "project", keeps=True)
    path = write_picture(tmp_path / "maid.png", before)
    project, name = gather(Project(), art, [path])
    project = accept(project, art, name)
    first = project.sheet(name).pieces[0]
    project = set_pivot(project, frozenset({first.number}), 10, 40)
    size = (round(before.shape[1] * factor), round(before.shape[0] * factor))
    way = Image.Resampling.LANCZOS if smooth else Image.Resampling.NEAREST
    after = np.asarray(Image.fromarray(before).resize(size, way))
    assert scale_between(before, after) == factor
    inside = art.folder / project.sheet(name).sources[0].path
    inside.write_bytes(encode_png(after))
    saved = saved_outside(project.sheet(name), art, {})
    assert saved is not None
    change = reread(project.sheet(name), art, saved)
    taken = take_changes(project, art, change).sheet(name)
    old = project.sheet(name)
    shown = Fraction(taken.size.width, old.size.width)
    assert [p.number for p in taken.pieces] == [p.number for p in old.pieces]
    for new, was in zip(taken.pieces, old.pieces, strict=True):
        assert new.rect == Rect(*(round(side * shown) for side in was.rect))
        assert new.pivot == tuple(round(side * shown) for side in was.pivot)
    assert taken.pixel * taken.size.width == after.shape[1]
    assert scale_between(before, 255 - after) == 1, "another picture of that size is another"


def test_a_replaced_picture_keeps_what_was_decided_and_the_older_file(tmp_path: Path) -> None:
    art = Art(tmp_path / "project", keeps=True)
    before = ground(draw, 16, 16, 6, 4)
    after = np.concatenate([ground(draw, 16, 16, 6, 1), before])
    project, name = gather(Project(), art, [write_picture(tmp_path / "hut.png", before)])
    project = accept(project, art, name)
    other = write_picture(tmp_path / "hut_new.png", after)
    change = reread(project.sheet(name), art, replaced(project.sheet(name), art, other))
    taken = take_changes(project, art, change)
    old = {p.number: p.rect for p in project.sheet(name).pieces}
    new = {p.number: p.rect for p in taken.sheet(name).pieces}
    assert all(new[number] == rect.moved(0, 16) for number, rect in old.items())
    assert (art.folder / project.sheet(name).sources[0].path).exists()
    assert (art.folder / taken.sheet(name).sources[0].path).exists()


def test_rows_of_one_name_stay_apart_and_a_corrected_name_keeps_its_animation(
    tmp_path: Path,
) -> None:
    art = Art(tmp_path / "project")
    path = write_picture(tmp_path / "maid.png", figures(draw, 16, 24, 3, 4))
    project, name = gather(Project(), art, [path])
    project = cut_as(project, art, name, EvenCells(Size(16, 24)))
    named = name_by_pattern(project, name, "{row}_{n}", ("a", "a", "b", "b"))
    assert row_names(named.sheet(name)) == ["a", "a 2", "b", "b 2"]
    assert len({piece.name for piece in named.sheet(name).pieces}) == 12
    (run,) = [a for a in named.sheet(name).animations if a.name == "a 2"]
    slower = tuple(replace(a, rate=3.0) if a is run else a for a in named.sheet(name).animations)
    named = replace(named, sheets=(replace(named.sheet(name), animations=slower),))
    again = name_by_pattern(named, name, "{row}_{n}", ("b", "run", "a", "b 2"))
    assert row_names(again.sheet(name)) == ["b", "run", "a", "b 2"], "two may change places"
    assert [a.rate for a in again.sheet(name).animations if a.name == "run"] == [3.0]
    assert len(again.sheet(name).animations) == 4
    same = name_pieces(again, {p.number: "reed" for p in again.sheet(name).pieces[:3]})
    (finding,) = [f for f in find_all(same, art) if f.code == "equal-names"]
    assert finding.mend is not None and len(finding.pieces) == 3
    assert not [f for f in find_all(finding.mend(same), art) if f.code == "equal-names"]


GREEN = (10, 200, 40, 255)
KIN = ("warden_blue", "warden_red")
NAMES = (*KIN, "warden_dusk", "tree")


@pytest.fixture
def a_pack(tmp_path: Path) -> tuple[Project, Art]:
    """Three wardens alike but for colours, one of them on clear ground, and a tree."""
    art, project = Art(tmp_path), Project()
    for place, name in enumerate(NAMES):
        size = (32, 64) if name != "tree" else (70, 20)
        picture = np.zeros((*size, 4), np.uint8)
        if name != "warden_dusk":
            picture[:] = GREEN
        picture[8:28, 4:12] = picture[8:28, 36:44] = (200, 30 * place, 60, 255)
        project, _ = gather(project, art, [write_picture(tmp_path / f"{name}.png", picture)])
        cell = Size(16, 32) if name != "tree" else Size(20, 70)
        project = cut(project, name, EvenCells(cell), np.ones(size, bool))
    return project, art


def numbers(project: Project, name: str = "warden_blue") -> frozenset[int]:
    return frozenset(piece.number for piece in project.sheet(name).pieces)


ONE = ("warden_blue",)
DEEDS: list[tuple[str, Callable[[Project], Project], tuple[str, ...]]] = [
    ("the look", lambda p: set_point(p, ONE, "filter", "linear"), ("warden_red", "warden_dusk")),
    ("the size", lambda p: set_enlarged(p, ONE, 2), ("warden_red", "warden_dusk")),
    ("the size", lambda p: fit_sheets(p, ONE, Size(12, 24)), ("warden_red", "warden_dusk")),
    (
        "the pivot",
        lambda p: set_anchor(p, numbers(p), "Centre"),
        ("warden_red", "warden_dusk"),
    ),
    (
        "names and animations",
        lambda p: name_by_pattern(p, "warden_blue", "{sheet}_{n}", []),
        ("warden_red", "warden_dusk"),
    ),
    ("the colour key", lambda p: set_colour_key(p, ONE, Colour(*GREEN)), ("warden_red",)),
]


@pytest.mark.parametrize(("what", "act", "kin"), DEEDS)
def test_the_same_is_offered_for_kin_and_does_the_same(
    what: str,
    act: Callable[[Project], Project],
    kin: tuple[str, ...],
    a_pack: tuple[Project, Art],
) -> None:
    project, art = a_pack
    after = act(project)
    same = same_for_kin(project, after, art)
    assert same is not None and (same.what, same.sheet, same.names) == (what, "warden_blue", kin)
    everywhere = same.do(after)
    assert same_for_kin(project, everywhere, art) is None, "several sheets: nobody is asked"
    assert same_for_kin(after, act(everywhere), art) is None
    one, other = everywhere.sheet("warden_blue"), everywhere.sheet("warden_red")
    assert (one.treatment, one.differences) == (other.treatment, other.differences)
    assert (one.size, one.fitted, one.enlarged) == (other.size, other.fitted, other.enlarged)
    assert {p.pivot for p in one.pieces} == {p.pivot for p in other.pieces}
    told = [p.name.replace("blue", "red") for p in one.pieces]
    assert what == "the colour key" or told == [p.name for p in other.pieces]
    assert everywhere.sheet("tree") == project.sheet("tree")


def test_animations_follow_by_place_and_what_was_told_already_stays(
    a_pack: tuple[Project, Art],
) -> None:
    project, art = a_pack
    told = name_by_pattern(project, "warden_dusk", "mine_{n}", [])
    frames = [piece.number for piece in told.sheet("warden_blue").pieces][:3]
    after = set_animation(told, "warden_blue", "walk", frames, 9)
    same = same_for_kin(told, after, art)
    assert same is not None and same.names == ("warden_red",)
    (walk,) = same.do(after).sheet("warden_red").animations
    assert walk.rate == 9 and len(walk.frames) == 3
    assert set(walk.frames) <= numbers(after, "warden_red")
    recut = cut(project, "warden_blue", EvenCells(Size(32, 32)), np.ones((32, 64), bool))
    assert same_for_kin(project, recut, art) is None
    renamed = replace(project, sheets=project.sheets[1:])
    assert same_for_kin(project, renamed, art) is None
