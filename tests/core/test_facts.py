"""Facts, bodies, variants, and what one tileset takes over from another."""

from __future__ import annotations

import json
from dataclasses import fields, replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from shapely import Polygon as Area
from shapely import union_all

from rushweed.core.bale.manifest import FactsEntry
from rushweed.core.bound.bodies import place_on_path
from rushweed.core.bound.carrying import carried_over, carry, find_carried
from rushweed.core.bound.convex import convex_parts
from rushweed.core.bound.editing import moved_both_sides
from rushweed.core.bound.fact_brush import FactBrush, nearest_side
from rushweed.core.bound.fact_table import FACTS, told
from rushweed.core.bound.facts import (
    COLOURS,
    LARGEST_KIND,
    add_kind,
    change_kind,
    note_value,
    set_note,
    stand_on_foot,
    with_kinds,
)
from rushweed.core.bound.fitting import fit_circles, fit_outlines, give_fitted
from rushweed.core.bound.joining import small_steps
from rushweed.core.bound.shaping import box, circle, circle_within, polygon, set_shapes
from rushweed.core.bound.variants import add_variant, recolour
from rushweed.core.bound.written_notes import read_notes, written_notes
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.likeness import shown
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art, cut_out
from rushweed.core.gather.recolouring import palette_of, recoloured
from rushweed.core.project import files
from rushweed.core.project.body import Path as Way
from rushweed.core.project.cells import Cells
from rushweed.core.project.facts import SIDES, Current, Facts, GroundKind, Note
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Circle, Form, Polygon, Shape
from rushweed.core.project.sheet import EvenCells, Recolouring, Sheet, Source
from rushweed.core.project.turning import turned_facts, turned_side
from rushweed.core.values import Colour, Point, Rect, Refusal, Size

DEMO = Path(__file__).parents[2] / "demo" / "lanternfen"
SQUARE = [Point(0, 0), Point(0, 12), Point(12, 12), Point(12, 0)]
HOLE = [Point(3, 3), Point(9, 3), Point(9, 8), Point(3, 8)]


@pytest.fixture
def project() -> Project:
    return files.load(DEMO)


def piece(project: Project, name: str, sheet: str = "fen_ground"):
    return next(p for p in project.sheet(sheet).pieces if p.name == name)


def test_a_brush_gives_and_takes_each_fact_and_nothing_else(project: Project) -> None:
    mud = piece(project, "mud")
    stored = {one.name for one in fields(Facts)}
    assert {name for kind in FACTS.values() for name in kind.fields} == stored
    assert {one.name for one in fields(FactsEntry)} == stored, "bundles say all of them"
    for brush, expected in (
        (FactBrush("cover", 3), replace(mud.facts, cover=3)),
        (FactBrush("wade", 5), replace(mud.facts, wade=5)),
        (FactBrush("reach"), replace(mud.facts, reach=True)),
        (FactBrush("ground", 6), replace(mud.facts, ground=6)),
        (
            FactBrush("notes", note=Note("sound", "squelch")),
            replace(mud.facts, notes=(Note("sound", "squelch"),)),
        ),
        (FactBrush("entry"), replace(mud.facts, entry=("left", "right", "below"))),
        (
            FactBrush("moves", moves="swims", current=Current(2)),
            replace(mud.facts, moves="swims", current=Current(2)),
        ),
    ):
        painted = brush.paint(project, mud.number)
        assert piece(painted, "mud").facts == expected
        assert FACTS[brush.fact].is_set(expected) and not FACTS[brush.fact].is_set(Facts())
        assert FACTS[brush.fact].told(expected) in told(expected)
        assert brush.paint(painted, mud.number) is painted, "painting again changes nothing"
        back = piece(brush.take(painted, mud.number), "mud").facts
        assert back == (replace(mud.facts, ground=None) if brush.fact == "ground" else mud.facts)
    assert nearest_side(Rect(10, 10, 20, 10), Point(28, 15)) == "right"
    assert nearest_side(Rect(10, 10, 20, 10), Point(20, 11)) == "above"


def test_kinds_have_numbers_and_letters_of_their_own_and_tiles_follow(project: Project) -> None:
    taken = {kind.number for kind in project.rules.kinds}
    project, first = add_kind(project, "bog")
    project, second = add_kind(project, "bog")
    kinds = project.rules.kinds
    free = [number for number in range(1, 99) if number not in taken]
    assert [first.number, second.number] == free[:2], "the lowest that are free"
    assert [first.colour, second.colour] == [COLOURS[(n - 1) % len(COLOURS)] for n in free[:2]]
    assert add_kind(Project(), "bog")[1].number == 1
    letters = project
    for _ in range(30):
        letters, kind = add_kind(letters, "!")
        assert kind.letter == str(kind.number) or "A" <= kind.letter <= "Z"
    full = with_kinds(project, [GroundKind(number, "bog") for number in range(1, LARGEST_KIND)])
    full, last = add_kind(full, "bog")
    assert last.number == LARGEST_KIND
    with pytest.raises(Refusal, match="are taken"):
        add_kind(full, "bog")
    assert len({k.number for k in kinds}) == len({k.letter for k in kinds}) == len(kinds)
    mud = piece(project, "mud")
    project = FactBrush("ground", first.number).paint(project, mud.number)
    moved = change_kind(project, first.number, replace(first, number=65535))
    assert piece(moved, "mud").facts.ground == 65535
    assert piece(change_kind(moved, 65535, None), "mud").facts.ground is None
    with pytest.raises(Refusal, match="has the number"):
        change_kind(project, first.number, replace(first, number=second.number))
    with pytest.raises(Refusal, match="Add one"):
        FactBrush("ground", 1).paint(Project(), 1)


def test_notes_are_of_their_type_or_refused(project: Project) -> None:
    assert note_value(Note("a", "3.5", "number")) == 3.5
    assert note_value(Note("a", "yes", "yes or no")) is True
    for note in (Note("", "x"), Note("a", "wet", "number"), Note("a", "maybe", "yes or no")):
        with pytest.raises(Refusal):
            set_note(project, frozenset({1}), note, note.key)


KEYS = st.text(st.characters(exclude_categories=("Cs", "Cc")), min_size=1, max_size=9).map(
    str.strip
)
VALUES = st.one_of(
    st.tuples(st.just("text"), KEYS | st.just("")),
    st.tuples(st.just("yes or no"), st.sampled_from(["yes", "no"])),
    st.tuples(st.just("number"), st.integers(-99, 99).map(str) | st.just("2.5")),
)


@given(st.dictionaries(KEYS.filter(bool), VALUES, max_size=5))
def test_notes_on_a_line_are_read_as_they_were_written(notes: dict[str, tuple[Any, str]]) -> None:
    made = tuple(Note(key, value, kind) for key, (kind, value) in notes.items())
    assert read_notes(written_notes(made)) == made


@pytest.mark.parametrize("line", ['gold = "5', "= 5", 'a"b'])
def test_a_line_that_means_no_notes_is_told(line: str) -> None:
    with pytest.raises(Refusal, match=r"understood|needs a key"):
        read_notes(line)


def test_a_block_stands_on_its_foot_in_one_act(project: Project) -> None:
    names = ("willow_nw", "willow_ne", "willow_sw", "willow_se")
    above = [piece(project, name, "fen_above") for name in names]
    bare = with_pieces(
        project,
        frozenset(p.number for p in above),
        lambda p: replace(p, shapes=None, facts=Facts()),
    )
    stood = stand_on_foot(bare, frozenset(p.number for p in above))
    tops, feet = (
        [piece(stood, name, "fen_above") for name in pair] for pair in (names[:2], names[2:])
    )
    assert [p.facts.cover for p in (*tops, *feet)] == [1, 1, 0, 0]
    assert all(p.shapes == () for p in tops)
    assert all(p.shapes == (Shape(Box(0, 0, 16, 16)),) for p in feet)
    with pytest.raises(Refusal):
        stand_on_foot(project, frozenset({above[0].number, piece(project, "mud").number}))


@given(st.integers(0, 7))
def test_facts_turn_with_their_tile(orientation: int) -> None:
    sides = {turned_side(side, orientation) for side in SIDES}
    assert sides == set(SIDES)
    facts = Facts(entry=("left",), cover=2)
    turned = turned_facts(facts, orientation)
    assert turned.cover == 2 and turned.entry == (turned_side("left", orientation),)


def test_what_was_decided_is_carried_to_a_recoloured_mirrored_tileset(project: Project) -> None:
    sheet = project.sheet("fen_ground")
    art = Art(DEMO)
    project, other = add_variant(project, "fen_ground", (), Recolouring(hue=120))
    bare = with_pieces(
        project,
        frozenset(p.number for p in other.pieces),
        lambda p: replace(p, shapes=None, facts=Facts()),
    )
    found = find_carried(
        shown(art.picture(sheet)),
        sheet,
        shown(art.picture(bare.sheet(other.name))),
        bare.sheet(other.name),
    )
    done = carry(bare, found)
    pairs = zip(sheet.pieces, done.sheet(other.name).pieces, strict=True)
    alike = [one.shapes == two.shapes and one.facts == two.facts for one, two in pairs]
    assert sum(alike) > 0.9 * len(alike)
    assert {one.why for one in found} >= {"recoloured"}


def test_variants_follow_their_original_until_they_differ(project: Project) -> None:
    project, made = add_variant(project, "fen_ground", {2, 3}, Recolouring(hue=40), "dry ground")
    assert [p.name for p in made.pieces] == [piece(project, p.name).name for p in made.pieces]
    first, second = made.pieces
    shape = (Shape(Box(0, 4, 16, 12)),)
    own = set_shapes(project, frozenset({second.number}), ())
    changed = set_shapes(own, frozenset({2, 3}), shape)
    after = changed.sheet("dry ground").pieces
    assert after[0].shapes == shape and after[1].shapes == (), "what has its own keeps it"
    art = Art(DEMO)
    before = art.piece(project.sheet("fen_ground"), piece(project, first.name))
    now = art.piece(made, first)
    assert (
        before.shape == now.shape
        and (before[..., 3] == now[..., 3]).all()
        and (before != now).any()
    )
    plain = recolour(project, "dry ground", Recolouring())
    np.testing.assert_array_equal(art.piece(plain.sheet("dry ground"), first), before)
    with pytest.raises(Refusal):
        recolour(project, "fen_ground", Recolouring())


@given(st.integers(-180, 180), st.integers(-100, 100), st.integers(-100, 100))
def test_recolouring_keeps_alpha_and_turning_all_around_is_nothing(
    hue: int, sat: int, light: int
) -> None:
    draw = np.random.default_rng(7).integers(0, 255, (6, 9, 4), dtype=np.uint8)
    result = recoloured(draw, Recolouring(hue, sat, light))
    assert (result[..., 3] == draw[..., 3]).all() and result.shape == draw.shape
    there = recoloured(draw, Recolouring(180)).astype(int)
    again = recoloured(there.astype(np.uint8), Recolouring(-180)).astype(int)
    assert np.abs(again - draw).max() <= 2
    assert (recoloured(draw, Recolouring(lightness=-100))[..., :3] == 0).all()
    old, new = palette_of(draw)[0], Colour(1, 2, 3)
    swapped = recoloured(draw, Recolouring(swaps=((old, new),)))
    same = (draw[..., :3] == old[:3]).all(axis=-1)
    assert same.any() and (swapped[same][:, :3] == new[:3]).all()
    assert (swapped[~same] == draw[~same]).all()


@given(
    st.lists(st.tuples(st.integers(0, 15), st.integers(0, 15)), min_size=4, max_size=40),
    st.integers(3, 9),
)
def test_convex_parts_cover_a_shape_exactly(cells: list[tuple[int, int]], most: int) -> None:
    mask = np.zeros((16, 16), bool)
    for x, y in cells:
        mask[y : y + 4, x : x + 4] = True
    for shape in fit_outlines({1: mask}, 0, "nearest", keep_holes=True).shapes[1]:
        parts = [Area(part) for part in convex_parts(shape.form, most)]
        whole = Area(shape.form.corners, shape.form.holes)
        assert all(len(part.exterior.coords) - 1 <= most for part in parts)
        assert all(part.convex_hull.area == pytest.approx(part.area) for part in parts)
        assert union_all(parts).symmetric_difference(whole).area == pytest.approx(0, abs=1e-9)
        assert sum(part.area for part in parts) == pytest.approx(whole.area), "none overlap"


@given(*[st.integers(-20, 20)] * 4)
def test_a_circle_lies_in_the_box_it_is_dragged_over_at_its_first_corner(
    x: int, y: int, across: int, down: int
) -> None:
    least = min(abs(across), abs(down))
    if not least:
        return
    found = circle_within(Point(x, y), Point(x + across, y + down))
    assert found.radius == least / 2
    for at, middle, way in ((x, found.x, across), (y, found.y, down)):
        ends = sorted((middle - found.radius, middle + found.radius))
        assert at in ends and min(at, at + way) <= ends[0] and ends[1] <= max(at, at + way)


@given(*[st.integers(-4, 4)] * 4)
def test_both_sides_of_a_box_move_as_far_apart(
    left: int, top: int, right: int, bottom: int
) -> None:
    form = Box(10, 20, 30, 40)
    moved = Box(10 + left, 20 + top, 30 + right - left, 40 + bottom - top)
    both = moved_both_sides(form, moved)
    assert (both.x, both.y) == (10 + left - right, 20 + top - bottom)
    assert (both.x + both.width, both.y + both.height) == (40 + right - left, 60 + bottom - top)
    assert moved_both_sides(form, form) == form


def test_holes_and_circles_are_kept_found_and_refused(project: Project, tmp_path: Path) -> None:
    ring = polygon(SQUARE[::-1], [HOLE])
    assert ring.rings[0][0] == Point(0, 0) and len(ring.holes) == 1
    with pytest.raises(Refusal, match="inside"):
        polygon(SQUARE, [[Point(10, 10), Point(20, 10), Point(20, 20)]])
    for make in (circle, circle_within):
        with pytest.raises(Refusal, match="no area"):
            make(Point(3, 3), Point(3, 3))
    mask = np.zeros((16, 16), bool)
    rows, columns = np.indices(mask.shape)
    mask[(rows - 7.5) ** 2 + (columns - 7.5) ** 2 < 36] = True
    assert fit_circles({1: mask}).shapes[1] == (Shape(Circle(8, 8, 6)),)
    mask[6:10, 6:10] = False
    found = fit_outlines({1: mask}, 0, "nearest", keep_holes=True)
    form = found.shapes[1][0].form
    assert isinstance(form, Polygon) and len(form.holes) == 1
    assert Area(form.corners, form.holes).area == mask.sum()
    assert not fit_outlines({1: mask}, 0, "nearest").shapes[1][0].form.rings[1:]
    saved = give_fitted(project, replace(found, shapes={2: found.shapes[1]}))
    files.save(saved, tmp_path / "p")
    assert files.load(tmp_path / "p") == saved


@given(
    st.floats(0, 100),
    st.sampled_from(["even", "eased"]),
    st.sampled_from(["there and back", "round"]),
)
def test_a_body_keeps_to_its_path_and_comes_back(seconds: float, easing, way) -> None:
    path = Way((Point(40, 0), Point(40, 30)), 2.0, easing, way)
    place = place_on_path(path, seconds)
    on = min(abs(place.y), abs(place.x - 40), abs(place.y * 40 - place.x * 30) / 50)
    assert on < 1e-9
    period = 4 if way == "there and back" else 2
    again = place_on_path(path, seconds + period)
    assert abs(again.x - place.x) + abs(again.y - place.y) < 1e-6
    assert place_on_path(path, 0) == Point(0, 0)
    assert (
        place_on_path(Way((Point(0, 0),)), seconds) == place_on_path(None, seconds) == Point(0, 0)
    )


def test_small_steps_between_joining_tiles_are_found(project: Project) -> None:
    left, right = piece(project, "bank_top").number, piece(project, "mud").number
    cells = Cells().painted({(0, 0): (left, 0), (1, 0): (right, 0), (2, 0): (left, 0)})
    level = Level("Steps", (Layer("Ground", cells),))
    assert not list(small_steps(project, level)), "both are full"
    lower = set_shapes(project, frozenset({right}), (Shape(Box(0, 1, 16, 15)),))
    steps = list(small_steps(lower, level))
    assert {step.pixels for step in steps} == {1.0, -1.0} and steps[0].cell in {(0, 0), (1, 0)}
    buried = Level("Steps", (Layer("Ground", cells.painted({(1, -1): (left, 0)})),))
    assert not list(small_steps(lower, buried)), "nobody walks under a tile"


@pytest.mark.slow
def test_shapes_that_no_game_can_use_are_found_kept_and_clipped_on_demand(project: Project) -> None:
    bow_tie = Polygon((Point(0, 0), Point(8, 8), Point(8, 0), Point(0, 8)))
    many = Polygon(tuple(Point(i % 100, i // 100) for i in range(10_000)))
    bad: dict[str, Form] = {
        "no-area": Box(2, 2, 0, 5),
        "outside": Box(40, 0, 5, 5),
        "crosses-itself": bow_tie,
        "too-many-corners": many,
        "past-the-edge": Box(8, 8, 20, 20),
    }
    number = piece(project, "mud").number
    for code, form in bad.items():
        with_bad = set_shapes(project, frozenset({number}), (Shape(form),))
        findings = {f.code: f for f in find_all(with_bad, Art(DEMO))}
        finding = findings[f"shape-{code}"]
        assert piece(with_bad, "mud").shapes == (Shape(form),), "it is kept until somebody decides"
        assert finding.mend is not None
        mended = finding.mend(with_bad)
        assert f"shape-{code}" not in {f.code for f in find_all(mended, Art(DEMO))}
    with pytest.raises(Refusal, match="at most 1024"):
        polygon([Point(i, i * i) for i in range(10_000)])
    with pytest.raises(Refusal, match="crosses itself"):
        polygon([Point(0, 0), Point(0, 8), Point(4, 4), Point(8, 8), Point(8, 0), Point(4, 4)])
    with pytest.raises(Refusal):
        box(Point(1, 1), Point(1, 9))


def test_facts_edited_by_hand_are_kept_named_or_refused_in_words(
    project: Project, tmp_path: Path
) -> None:
    folder = tmp_path / "p"
    files.save(project, folder)
    path = folder / "sheets" / "fen_ground.sheet.json"
    body = json.loads(path.read_text())
    body["pieces"][0]["facts"] = {"ground": 4711}
    path.write_text(json.dumps(body))
    loaded = files.load(folder)
    finding = next(f for f in find_all(loaded, Art(DEMO)) if f.code == "unknown-ground")
    assert "4711" in finding.what and finding.mend is not None
    assert any(kind.number == 4711 for kind in finding.mend(loaded).rules.kinds)
    for wrong in ({"entry": ["north"]}, {"ground": 70000}, {"flavour": 3}, {"cover": -1}):
        body["pieces"][0]["facts"] = wrong
        path.write_text(json.dumps(body))
        with pytest.raises(Refusal, match="pieces › 0 › facts"):
            files.load(folder)


def test_a_body_without_a_way_to_go_is_a_finding(project: Project) -> None:
    from rushweed.core.bound.bodies import set_body
    from rushweed.core.project.body import Body

    number = frozenset({piece(project, "crate").number})
    still = set_body(project, number, Body("travels", Way((Point(0, 0),))))
    assert "still-path" in {f.code for f in find_all(still, Art(DEMO))}


@pytest.mark.parametrize("side", [10, 24, 30, 40])
def test_what_was_decided_is_carried_to_the_same_tiles_at_another_size(
    project: Project, side: int
) -> None:
    sheet, art = project.sheet("fen_ground"), Art(DEMO)
    picture = art.picture(sheet)
    tiles = [cut_out(picture, one.rect) for one in sheet.pieces]
    large = [
        np.asarray(Image.fromarray(tile).resize((side, side), Image.Resampling.NEAREST))
        for tile in tiles
    ]
    order = np.random.default_rng(side).permutation(len(tiles))
    strip = np.hstack([large[place] for place in order])
    source = Source("art/y.png", "1" * 64, Size(strip.shape[1], side))
    other = replace(sheet, name="other", sources=(source,), pieces=(), layout=None, colour_key=None)
    both = replace(project, sheets=(*project.sheets, other))
    cut_alike = cut(both, "other", EvenCells(Size(side, side)), strip[..., 3] > 0)
    pieces = cut_alike.sheet("other").pieces
    found = find_carried(shown(picture), sheet, shown(strip), cut_alike.sheet("other"))
    done = carry(cut_alike, [one for one in found if one.sure]).sheet("other").pieces
    right = wrong = 0
    for piece_, before in zip(done, pieces, strict=True):
        of = sheet.pieces[order[before.column]]
        wanted = carried_over(of, before, 0)
        decided_alike = piece_.shapes == wanted.shapes and piece_.facts == wanted.facts
        right += decided_alike
        wrong += piece_.shapes is not None and not decided_alike
    assert right >= 0.8 * len(pieces) and wrong <= 0.05 * len(pieces)


def test_places_and_silhouettes_are_guesses_and_said_to_be() -> None:
    draw = np.random.default_rng(3)

    def strip(side: int, colour: int) -> np.ndarray:
        tiles = [np.full((side, side, 4), 255, np.uint8) for _ in range(4)]
        for tile in tiles:
            tile[..., :3] = draw.integers(colour, colour + 60, (side, side, 3))
        tiles[1][: side // 2] = 0
        return np.hstack(tiles)

    first, second = strip(40, 20), strip(30, 180)
    sheets = [
        Sheet(name, (Source("art/x.png", "0" * 64, Size(one.shape[1], one.shape[0])),))
        for name, one in (("a", first), ("b", second))
    ]
    project = Project(sheets=tuple(sheets))
    project = cut(project, "a", EvenCells(Size(40, 40)), first[..., 3] > 0)
    project = cut(project, "b", EvenCells(Size(30, 30)), second[..., 3] > 0)
    ours = project.sheet("a").pieces
    half = (Shape(Box(0, 20, 40, 20)),)
    project = set_shapes(project, frozenset({ours[1].number}), half)
    project = set_shapes(project, frozenset({ours[0].number}), (Shape(Box(0, 0, 40, 40)),))
    found = find_carried(shown(first), project.sheet("a"), shown(second), project.sheet("b"))
    assert [(one.why, one.sure) for one in found] == [
        ("at the same place", False),
        ("of one silhouette", False),
    ]
    done = carry(project, found).sheet("b").pieces
    assert done[1].shapes == (Shape(Box(0, 15, 30, 15)),)
    assert done[0].shapes == (Shape(Box(0, 0, 30, 30)),)
