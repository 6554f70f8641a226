"""Treatments, sizes, pivots, and the findings of Gauge with the edits that cure them."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from rushweed.core.bound.shaping import set_shapes
from rushweed.core.cut.animations import begin_animation
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.findings.all import find_all
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.glance import pivot_words, sheet_lines, treatment_words, usual_line
from rushweed.core.gauge.pivots import (
    ANCHORS,
    align_pivots,
    copy_pivot,
    from_foot,
    round_pivots,
    set_anchor,
    set_pivot,
    stand_on_feet,
)
from rushweed.core.gauge.sides import allowed_size, needed_sides, padded
from rushweed.core.gauge.treating import (
    WORDS,
    add_treatment,
    differing_points,
    drop_differences,
    remove_treatment,
    rename_treatment,
    set_filter,
    set_point,
    set_treatment,
    share_differences,
)
from rushweed.core.project import files
from rushweed.core.project.head import HEAD
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Piece, Sheet, Source
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.samples import checkered, with_shared_point, write_picture


def bench(folder: Path, picture: np.ndarray) -> tuple[Project, Art]:
    art = Art(folder / "project")
    project, name = gather(Project(), art, [write_picture(folder / "reed.png", picture)])
    mask = solid(art.picture(project.sheet(name)))
    return cut(project, name, EvenCells(Size(16, 16)), mask), art


def found(project: Project, art: Art, code: str) -> list[Finding]:
    return [finding for finding in find_all(project, art) if finding.code == code]


def test_pivots_that_wander_or_lie_between_pixels_are_mended(tmp_path: Path) -> None:
    project, art = bench(tmp_path, checkered(16, 4).repeat(4, 0).repeat(4, 1))
    frames = [piece.number for piece in project.sheet("reed").pieces]
    project, _ = begin_animation(project, "reed", frames)
    assert not found(project, art, "wandering-pivot")
    wandering = set_pivot(project, frozenset(frames[1:2]), 5, 12)
    (finding,) = found(wandering, art, "wandering-pivot")
    assert finding.mend is not None
    mended = finding.mend(wandering).sheet("reed").pieces
    assert [p.pivot for p in mended] == [p.pivot for p in project.sheet("reed").pieces]
    between = set_pivot(project, frozenset(frames[:2]), 7.5, 16)
    (finding,) = found(between, art, "fractional-pivot")
    assert "2 pieces stand" in finding.what and finding.mend is not None
    assert not found(finding.mend(between), art, "fractional-pivot")
    assert not found(set_filter(between, ("reed",), "linear"), art, "fractional-pivot")


pieces = st.lists(
    st.tuples(st.integers(4, 20), st.integers(4, 20), st.integers(0, 3), st.integers(0, 3)),
    min_size=1,
    max_size=7,
)


@given(pieces)
def test_aligned_pivots_lie_alike_and_where_most_lay(made: list[tuple[int, int, int, int]]) -> None:
    drawn = tuple(
        Piece(n + 1, Rect(0, 0, width, height), Point(width // 2 + x, height - y))
        for n, (width, height, x, y) in enumerate(made)
    )
    source = Source("art/x.png", "0" * 64, Size(32, 32))
    project = Project(sheets=(Sheet("reed", (source,), pieces=drawn),))
    after = align_pivots(project, frozenset(piece.number for piece in drawn)).sheet("reed").pieces
    (place,) = {from_foot(piece) for piece in after}
    before = [from_foot(piece) for piece in drawn]
    assert before.count(place) == max(map(before.count, before))
    assert align_pivots(project, frozenset()) is project
    assert round_pivots(project, frozenset({1})) == project


def test_pieces_stand_on_their_feet_and_copy_pivots() -> None:
    mask = np.zeros((32, 64), bool)
    mask[4:20, 6:13] = True
    mask[8:31, 20:28] = True
    drawn = tuple(Piece(n + 1, Rect(16 * n, 0, 16, 32), Point(0, 0)) for n in range(3))
    source = Source("art/x.png", "0" * 64, Size(64, 32))
    project = Project(sheets=(Sheet("reed", (source,), pieces=drawn),))
    everything = frozenset({1, 2, 3})
    stood = stand_on_feet(project, "reed", everything, mask)
    pivots = [piece.pivot for piece in stood.sheet("reed").pieces]
    assert pivots == [Point(9, 20), Point(8, 31), Point(0, 0)], "what shows nothing stays"
    copied = copy_pivot(stood, 2, everything)
    assert {piece.pivot for piece in copied.sheet("reed").pieces} == {Point(8, 31)}
    assert copy_pivot(stood, 99, everything) is stood


def test_painted_art_drawn_nearest_is_told(tmp_path: Path) -> None:
    noise = np.random.default_rng(3).random((96, 96, 3))
    soft = ndimage.gaussian_filter(noise, (4, 4, 0))
    soft = (soft - soft.min()) / (soft.max() - soft.min())
    picture = np.full((96, 96, 4), 255, np.uint8)
    picture[..., :3] = np.rint(soft * 255)
    project, art = bench(tmp_path, picture)
    (finding,) = found(project, art, "jagged-paint")
    assert finding.mend is not None and not found(finding.mend(project), art, "jagged-paint")
    assert not found(finding.mend(project), art, "blurred-pixels")
    pixels, art = bench(tmp_path / "project", checkered(24, 24).repeat(2, 0).repeat(2, 1))
    assert not found(pixels, art, "jagged-paint")


VALUES = {
    "pixels_per_unit": st.integers(1, 64),
    "filter": st.sampled_from(["nearest", "linear"]),
    "mipmaps": st.booleans(),
    "compression": st.sampled_from([Compression(), Compression("BC7"), Compression("palette", 9)]),
    "multiplied": st.booleans(),
    "padding": st.integers(0, 9),
    "extrude": st.integers(0, 9),
    "sides": st.sampled_from(["any", "multiple of four", "power of two"]),
}
edits = st.lists(
    st.sampled_from(sorted(VALUES)).flatmap(
        lambda point: st.tuples(
            st.just(point), VALUES[point], st.sampled_from(["crab", "eel", "Crisp pixels"])
        )
    ),
    max_size=12,
)


def bench_of_treating() -> Project:
    sheets = tuple(
        Sheet(
            name,
            (Source(f"art/{name}.png", "0", Size(32, 24)),),
            pieces=(Piece(number, Rect(0, 0, 32, 24), Point(16, 24)),),
        )
        for number, name in enumerate(("crab", "eel"), 1)
    )
    return Project(sheets=sheets, next_number=3)


@given(edits)
def test_a_sheet_has_what_was_said_last_of_it_or_of_its_treatment(
    given_edits: list[tuple[str, object, str]],
) -> None:
    project = bench_of_treating()
    wanted: dict[tuple[str, str], object] = {}
    for point, value, who in given_edits:
        if who == "Crisp pixels":
            before = {name: treatment_of(project, project.sheet(name)) for name in ("crab", "eel")}
            project = with_shared_point(project, who, point, value)
            for name, old in before.items():
                if WORDS[point] not in differing_points(project.sheet(name)):
                    wanted[name, point] = value
                else:
                    wanted[name, point] = getattr(old, point)
        else:
            project = set_point(project, (who,), point, value)
            wanted[who, point] = value
    for (name, point), value in wanted.items():
        assert getattr(treatment_of(project, project.sheet(name)), point) == value
    shared = share_differences(project, "crab")
    assert treatment_of(shared, shared.sheet("crab")) == treatment_of(
        project, project.sheet("crab")
    )
    assert differing_points(shared.sheet("crab")) == []
    alike = drop_differences(shared, ("crab", "eel"))
    assert treatment_of(alike, alike.sheet("crab")) == treatment_of(alike, alike.sheet("eel"))


@pytest.mark.parametrize(
    ("point", "value", "words"),
    [
        ("pixels_per_unit", 0, "whole number from 1"),
        ("pixels_per_unit", -16, "whole number from 1"),
        ("pixels_per_unit", 10**9, "whole number from 1"),
        ("padding", -1, "from 0 to 64 px"),
        ("extrude", 65, "from 0 to 64 px"),
        ("compression", Compression("palette", 1), "2 to 256 colours"),
        ("compression", Compression("lossy WebP", quality=0), "1 to 100"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(point: str, value: object, words: str) -> None:
    with pytest.raises(Refusal, match=words):
        set_point(bench_of_treating(), ("crab",), point, value)
    with pytest.raises(Refusal, match=words):
        with_shared_point(bench_of_treating(), "Painted", point, value)


def test_treatments_are_made_named_and_removed() -> None:
    project, name = add_treatment(bench_of_treating(), "Painted", ("crab",))
    assert name == "Painted 2" and project.sheet("crab").treatment == name
    project = rename_treatment(project, name, " Beasts ")
    assert project.sheet("crab").treatment == "Beasts"
    project = set_point(project, ("crab",), "padding", 7)
    before = [treatment_of(project, sheet) for sheet in project.sheets]
    gone = remove_treatment(project, "Beasts")
    after = [treatment_of(gone, sheet) for sheet in gone.sheets]
    assert [replace(one, name="") for one in after] == [replace(one, name="") for one in before]
    assert {one.name for one in gone.treatments} == {one.name for one in project.treatments} - {
        "Beasts"
    }
    with pytest.raises(Refusal, match="needs a treatment"):
        for one in gone.treatments:
            gone = remove_treatment(gone, one.name)
    with pytest.raises(Refusal, match="already"):
        rename_treatment(project, "Beasts", "Painted")
    with pytest.raises(Refusal, match="needs a name"):
        rename_treatment(project, "Beasts", " ")
    with pytest.raises(Refusal, match="no treatment"):
        set_treatment(project, ("eel",), "Gone")
    project = set_treatment(project, ("crab",), "Crisp pixels")
    assert remove_treatment(project, "Beasts").treatments == bench_of_treating().treatments


def test_one_line_says_all_of_a_sheet_and_what_most_have_is_usual() -> None:
    project = set_point(bench_of_treating(), ("crab",), "padding", 7)
    project = set_filter(project, ("eel",), "linear")
    lines = dict(zip((sheet.name for sheet in project.sheets), sheet_lines(project), strict=True))
    held = treatment_of(project, project.sheet("crab"))
    assert lines["crab"].space == f"7 + {held.extrude} px" and lines["crab"].treatment.endswith("*")
    assert lines["eel"].filter == "linear" and lines["eel"].size == "16 px a unit"
    assert "7 + " in treatment_words(held) and "nearest" in treatment_words(held)
    usual = usual_line([lines["crab"], lines["crab"], lines["eel"]])
    assert usual.filter == lines["crab"].filter != lines["eel"].filter
    box = Rect(0, 0, 8, 16)
    one, other = (Piece(n, box, Point(4, 16)) for n in (1, 2))
    assert pivot_words(()) == "not cut" and pivot_words((one, other)) == "Foot"
    assert pivot_words((replace(one, pivot=Point(3, 7.5)),)) == "3, 7.5 px"
    assert pivot_words((one, replace(other, pivot=Point(3, 7)))) == "differs"


@given(st.sampled_from(sorted(ANCHORS)), st.integers(-50, 50), st.integers(-50, 50))
def test_pivots_leave_shapes_on_the_same_pixels(anchor: str, x: int, y: int) -> None:
    shape = Shape(Box(3, 4, 10, 12))
    project = set_shapes(bench_of_treating(), frozenset({1}), (shape,))
    for moved in (
        set_anchor(project, frozenset({1}), anchor),
        set_pivot(project, frozenset({1}), x, y),
        set_pivot(project, frozenset({1}), y=y),
    ):
        piece = moved.sheet("crab").pieces[0]
        assert piece.shapes == (shape,) and piece.rect == Rect(0, 0, 32, 24)
    with pytest.raises(Refusal, match="within 4096 px"):
        set_pivot(project, frozenset({1}), x=5000)


@given(st.integers(1, 300), st.integers(1, 300))
def test_sides_are_the_next_that_are_allowed(width: int, height: int) -> None:
    size = Size(width, height)
    four, two = allowed_size(size, "multiple of four"), allowed_size(size, "power of two")
    assert allowed_size(size, "any") == size
    for small, large, step in zip(size, four, ("w", "h"), strict=True):
        assert large % 4 == 0 and 0 <= large - small < 4, step
    for small, large in zip(size, two, strict=True):
        assert large & (large - 1) == 0 and small <= large < 2 * small + (small == 1)
    blocks = Treatment("Blocks", compression=Compression("BC3"))
    assert needed_sides(blocks) == "multiple of four"
    assert needed_sides(replace(blocks, mipmaps=True)) == "power of two"
    assert needed_sides(Treatment("Plain", mipmaps=True)) == "any"


def test_padding_moves_from_recipes_of_older_files(tmp_path: Path) -> None:
    files.save(bench_of_treating(), tmp_path)
    head = tmp_path / HEAD
    body = json.loads(head.read_text())
    body["format"] = 1
    for treatment in body["treatments"]:
        for point in ("padding", "extrude"):
            treatment.pop(point, None)
    body["recipes"] = [{"name": "Game", "padding": 7, "repeat_edge": 3, "y_up": True}]
    head.write_text(json.dumps(body))
    project = files.load(tmp_path)
    assert {(t.padding, t.extrude) for t in project.treatments} == {(7, 3)}
    assert project.recipes[0].y_up
    picture = padded(np.ones((3, 5, 4), np.uint8), Size(8, 4))
    assert picture.shape == (4, 8, 4) and picture.sum() == 60
