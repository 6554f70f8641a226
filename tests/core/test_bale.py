"""Bundles: what is written is what is drawn, and a stranger can read it."""

from __future__ import annotations

import csv
import io
import json
import shutil
import subprocess
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import jsonschema
import numpy as np
import pytest
from filelock import FileLock
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from examples.read_bundle import Bundle, View, cells_of
from rushweed.core.bale import templates
from rushweed.core.bale.building import build_all, build_each
from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.comparing import compare, read_manifest
from rushweed.core.bale.levels_apart import joined
from rushweed.core.bale.manifest import schema
from rushweed.core.bale.packing import pack, pack_pages
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.bale.telling_cells import RowForm, chunks_of, told_cells
from rushweed.core.bale.templates import shipped_templates
from rushweed.core.bale.writing import write_bundle
from rushweed.core.cut.gathering import gather
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art, cut_out
from rushweed.core.gather.pictures import content_hash
from rushweed.core.gather.relatives import join_relative
from rushweed.core.project import files
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.level import Layer, Level, bounds
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Belonging
from rushweed.core.values import Rect, Refusal, Size
from rushweed.core.weave.drawing import Scene, view_around
from tests.conftest import DEMO
from tests.samples import with_shared_point


@pytest.mark.slow
@pytest.mark.parametrize(
    ("recipe", "padding", "edge", "sides"),
    [
        (Recipe("Game"), 2, 1, "any"),
        (Recipe("Other", True), 0, 0, "multiple of four"),
        (Recipe("Wide", picture="WebP", trimmed=True, turned=True), 5, 3, "power of two"),
        (Recipe("Units", True, "units", "DDS", (2,), square=True, grids=True), 1, 1, "any"),
        (Recipe("Apart", chunk=20, rows="packed", outlines=False), 0, 0, "any"),
        (Recipe("Small", largest=512, rows="plain", single_file=True, apart=True), 0, 0, "any"),
        (Recipe("Dense", densities=(1, 3), trimmed=True, convex=6), 2, 2, "any"),
    ],
)
def test_a_stranger_draws_every_level_to_the_pixel(
    recipe: Recipe, padding: int, edge: int, sides: str, tmp_path: Path
) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    for treatment in project.treatments:
        for point, value in (("padding", padding), ("extrude", edge), ("sides", sides)):
            project = with_shared_point(project, treatment.name, point, value)
    write_bundle(make_bundle(project, art, recipe), tmp_path / "bundle")
    bundle = Bundle(tmp_path / "bundle")
    for level in project.levels:
        assert level.start is not None
        area = view_around(level.start, project.rules.resolution)
        if recipe.name == "Game" and level.name == "Sluice house":
            cells, tile = bounds(level), project.rules.tile
            area = Rect(cells.x * 16, cells.y * 16, cells.width * tile.width, cells.height * 16)
        expected = Scene(project, art).level(level, area)
        drawn = View(
            bundle, bundle.level(level.name), (area.x, area.y, area.width, area.height)
        ).draw()
        np.testing.assert_array_equal(np.asarray(drawn), expected[..., :3])


def test_the_manifest_fits_its_schema_and_the_same_project_gives_the_same_bytes() -> None:
    project = files.load(DEMO)
    first = make_bundle(project, Art(DEMO), project.recipes[0])
    again = make_bundle(files.load(DEMO), Art(DEMO), project.recipes[0])
    assert first.files == again.files
    jsonschema.validate(json.loads(first.files["bundle.json"]), schema())


def test_pieces_keep_their_distance_and_their_edges() -> None:
    project, art = files.load(DEMO), Art(DEMO)
    page = make_bundle(project, art, Recipe("Game")).page
    places = sorted(set(page.places.values()))
    for one in places:
        grown = Rect(one.x - 2, one.y - 2, one.width + 4, one.height + 4)
        assert not any(other != one and grown.intersection(other).area for other in places)
    mud = next(p for _, p in project.pieces() if p.name == "mud")
    rect = page.places[mud.number]
    above, first = (
        page.picture[rect.y - 1, rect.x : rect.right],
        page.picture[rect.y, rect.x : rect.right],
    )
    np.testing.assert_array_equal(above, first)


@given(st.lists(st.tuples(st.integers(1, 60), st.integers(1, 60)), min_size=1, max_size=60))
def test_packed_rectangles_lie_on_the_page_and_apart(sides: list[tuple[int, int]]) -> None:
    sizes = [Size(*side) for side in sides]
    page, places = pack(sizes)
    rects = [Rect(int(p.x), int(p.y), *s) for p, s in zip(places, sizes, strict=True)]
    assert all(r.right <= page.width and r.bottom <= page.height for r in rects)
    for index, one in enumerate(rects):
        assert not any(one.intersection(other).area for other in rects[:index])


def test_a_bundle_is_refused_with_a_sentence(tmp_path: Path, demo: Path) -> None:
    project = files.load(demo)
    bundle = make_bundle(project, Art(demo), project.recipes[0])
    (tmp_path / "file").write_text("here already")
    for target, words in ((demo, "project's own folder"), (tmp_path / "file", "is a file")):
        with pytest.raises(Refusal, match=words):
            write_bundle(bundle, target)
    with pytest.raises(Refusal, match="no piece to pack"):
        make_bundle(replace(project, sheets=()), Art(demo), project.recipes[0])
    with pytest.raises(Refusal, match="do not fit"):
        pack([Size(9000, 4)])


@given(
    st.lists(st.tuples(st.integers(1, 60), st.integers(1, 60)), min_size=1, max_size=60),
    st.integers(64, 128),
    st.booleans(),
)
def test_pages_overflow_and_turned_rectangles_stay_apart(sides, largest, turns) -> None:
    sizes = [Size(*side) for side in sides]
    pages, packed = pack_pages(sizes, largest, turns)
    rects = []
    for size, one in zip(sizes, packed, strict=True):
        width, height = (size.height, size.width) if one.turned else size
        assert turns or not one.turned
        rects.append((one.page, Rect(int(one.corner.x), int(one.corner.y), width, height)))
    for index, (page, rect) in enumerate(rects):
        assert max(rect.right, rect.bottom) <= largest and rect.right <= pages[page].width
        assert not any(p == page and rect.intersection(r).area for p, r in rects[:index])


def test_templates_write_files_of_their_own(tmp_path: Path) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    shipped = tuple(shipped_templates())
    recipe = Recipe("Game", templates=shipped, trimmed=True, turned=True)
    bundle = make_bundle(project, art, recipe)
    assert not any(b"SPDX" in bundle.files[name] for name in shipped), "what they write is yours"
    rows = list(csv.reader(io.StringIO(bundle.files["pieces.csv"].decode())))
    assert len(rows) == 1 + sum(1 for _ in project.pieces())
    scope: dict[str, object] = {}
    exec(bundle.files["pieces.py"], scope)
    assert len(scope["PIECES"]) == len(rows) - 1  # type: ignore[arg-type]
    told = json.loads(bundle.files["bundle.json"])
    for entry, row in zip(told["pieces"], rows[1:], strict=True):
        ours = scope["PIECES"][entry["number"]]  # type: ignore[index]
        for name in ("rect", "turned", "offset", "size", "pivot"):
            assert list(np.ravel(ours[name])) == list(np.ravel(entry[name]))
        assert [float(part) for part in row[12:16]] == [*entry["offset"], *entry["size"]]
        assert row[16] == told["pages"][entry["page"]]["file"] in scope["PAGES"]  # type: ignore[operator]
    assert any(entry["turned"] for entry in told["pieces"])
    assert {entry["play"] for entry in told["animations"]} == {
        animation["play"]
        for animation in scope["ANIMATIONS"].values()  # type: ignore[attr-defined]
    }
    ElementTree.fromstring(bundle.files["outlines.svg"])
    assert b"<li>" in bundle.files["credits.html"] and b"PIECE_COUNT" in bundle.files["pieces.h"]
    for name in ("../out.txt", "Bundle.json", "page-1.png", "no/where", "con.h", "dot."):
        with pytest.raises(Refusal):
            templates.render_all([name], {}, {name: "x"})
    with pytest.raises(Refusal, match="There is no template"):
        make_bundle(project, art, Recipe("Game", templates=("nothing.txt",)))
    (tmp_path / "bad.txt.j2").write_bytes(b"\xff\xfe\xfa")
    with pytest.raises(Refusal, match="not UTF-8"):
        templates.read_templates(tmp_path)


@pytest.mark.slow
def test_builds_write_what_changed_and_leave_the_old_bundle_whole(
    demo: Path, tmp_path: Path
) -> None:
    project = files.load(demo)
    two = replace(project, recipes=(Recipe("Game"), Recipe("Hand held", picture="WebP")))
    files.save(two, demo)
    out = tmp_path / "out"
    first = build_all(two, demo, out)
    assert [built.folder.name for built in first] == ["game", "hand-held"]
    stamps = {path: path.stat().st_mtime_ns for path in out.rglob("*") if path.is_file()}
    assert all(built.fresh for built in build_all(two, demo, out))
    assert stamps == {path: path.stat().st_mtime_ns for path in out.rglob("*") if path.is_file()}
    assert build_all(two, demo, tmp_path / "alone", ["Game"])[0].folder == tmp_path / "alone"
    elsewhere = tmp_path / "copy"
    shutil.copytree(demo, elsewhere)
    build_all(two, elsewhere, tmp_path / "other", jobs=2)
    for path in (out / "game").glob("[!.]*"):
        assert path.read_bytes() == (tmp_path / "other" / "game" / path.name).read_bytes()
    (out / "game" / "page-1.png").write_bytes(b"half")
    assert build_all(two, demo, out / "game", ["Game"])[0].written == ("page-1.png",)
    small = replace(two, recipes=(Recipe("Game", largest=64),))
    files.save(small, demo)
    before = {path.name: path.read_bytes() for path in (out / "game").glob("[!.]*")}
    with pytest.raises(Refusal, match="does not fit a page of 64"):
        build_all(small, demo, out / "game")
    assert before == {path.name: path.read_bytes() for path in (out / "game").glob("[!.]*")}
    with pytest.raises(Refusal, match="no recipe “None such”"):
        build_all(small, demo, out, ["None such"])
    files.save(project, demo)
    held = FileLock(out / "game" / ".rushweed" / "building.lock")
    with held, pytest.raises(Refusal, match="Another build"):
        build_all(project, demo, out / "game")


def test_the_manifest_tells_facts_bodies_marks_and_outlines_in_its_own_measures() -> None:
    project, art = files.load(DEMO), Art(DEMO)
    plain = json.loads(make_bundle(project, art, Recipe("Game")).files["bundle.json"])
    up = Recipe("Up", True, "units", convex=4)
    units = json.loads(make_bundle(project, art, up).files["bundle.json"])
    jsonschema.validate(units, schema())
    one, other = (
        next(p for p in body["pieces"] if p["name"] == "crate") for body in (plain, units)
    )
    assert one["facts"]["notes"] == {"sound": "wood", "weight": 3.5} and one["facts"]["ground"] == 3
    assert one["body"]["kind"] == "pushed"
    x, y = one["pivot"]
    assert other["pivot"] == [x / 16, (16 - y) / 16]
    assert all(len(part) <= 4 for s in other["shapes"] for part in s["convex"])
    outlines = plain["levels"][0]["outlines"]
    assert {one["stops"] for one in outlines} == {"all sides", "one-way"}
    assert min(len(one["outer"]["corners"]) for one in outlines) >= 3
    grounds = {ground for one in outlines for ground in one["outer"]["grounds"]}
    assert {1, 3} <= grounds, "the kind of ground reaches the edges"
    assert plain["walker"]["body"] == [10, 21] and plain["walker"]["feel"]["climbs"] == 2.5
    assert plain["collision"] == []
    assert {kind["name"] for kind in plain["kinds"]} >= {"mud", "planks"}


def test_finer_pages_take_art_that_was_supplied_else_repeat_pixels(
    demo: Path, tmp_path: Path
) -> None:
    project, art = files.load(demo), Art(demo)
    heron = project.sheet("heron")
    small = art.picture(heron)
    fine = np.repeat(np.repeat(small, 2, 0), 2, 1)
    fine[1::2, ::2, :3] = fine[1::2, ::2, :3] // 2
    Image.fromarray(fine).save(tmp_path / "heron_fine.png")
    project, name = gather(project, art, [tmp_path / "heron_fine.png"])
    project = join_relative(project, name, Belonging("density", "heron", 2))
    bundle = make_bundle(project, art, Recipe("Game", densities=(1, 2)))
    page = bundle.atlas.pages[0]
    assert "page-1@2x.png" in bundle.files
    for piece in heron.pieces:
        x, y, width, height = (side * 2 for side in page.places[piece.number])
        supplied = cut_out(fine, Rect(*(side * 2 for side in piece.rect)))
        np.testing.assert_array_equal(page.pictures[2][y : y + height, x : x + width], supplied)
    mud = next(p for _, p in project.pieces() if p.name == "mud")
    x, y, width, height = (side * 2 for side in page.places[mud.number])
    repeated = np.repeat(np.repeat(art.piece(project.sheet("fen_ground"), mud), 2, 0), 2, 1)
    np.testing.assert_array_equal(page.pictures[2][y : y + height, x : x + width], repeated)


@pytest.mark.slow
def test_what_no_build_has_written_is_not_written_over(demo: Path, tmp_path: Path) -> None:
    project, out = files.load(demo), tmp_path / "out"
    out.mkdir()
    for name, text in (("credits.txt", "mine"), ("bundle.json", '{"scripts": []}')):
        (out / name).write_text(text)
        with pytest.raises(Refusal, match=f"holds a {name} that no build has written"):
            build_all(project, demo, out)
        assert (out / name).read_text() == text and not (out / "page-1.png").exists()
        (out / name).unlink()
    (out / "notes.txt").write_text("mine")
    build_all(project, demo, out)
    shutil.rmtree(out / ".rushweed")  # as version control brings it
    (out / "credits.txt").write_text("changed")
    assert build_all(project, demo, out)[0].written == ("credits.txt",)
    assert (out / "notes.txt").read_text() == "mine"


@pytest.mark.slow
def test_a_page_of_a_lasting_name_stays_until_the_build_after_next(
    demo: Path, tmp_path: Path
) -> None:
    project, out, seen = files.load(demo), tmp_path / "out", []
    for turn in range(4):
        recipe = Recipe("Game", lasting=True, trimmed=turn % 2 == 0, square=turn > 1)
        build_all(replace(project, recipes=(recipe,)), demo, out)
        named = json.loads((out / "bundle.json").read_text())["files"]
        pages = {name for name in named if name.startswith("page-")}
        seen.append(pages)
        there = {path.name for path in out.glob("page-*")}
        assert pages and there == set().union(*seen[-2:])
        for name in there:
            assert content_hash((out / name).read_bytes())[:16] in name
    assert build_all(replace(project, recipes=(recipe,)), demo, out)[0].fresh
    assert {path.name for path in out.glob("page-*")} == set().union(*seen[-2:])


@pytest.mark.slow
def test_a_recipe_hands_over_a_part_and_keeps_to_its_budget(demo: Path, tmp_path: Path) -> None:
    project, art = files.load(demo), Art(demo)
    pool = Recipe("Pool", only_levels=("Heron pool",), only_sheets=("crab",))
    told = json.loads(make_bundle(project, art, pool).files["bundle.json"])
    assert [level["name"] for level in told["levels"]] == ["Heron pool"]
    names = {piece["sheet"] for piece in told["pieces"]}
    assert {"crab", "heron", "fen_above", "keeper"} <= names and "wheel" not in names
    kept = {piece["number"] for piece in told["pieces"]}
    level = project.level("Heron pool")
    assert {n for layer in level.layers for n in layer.cells.used()} <= kept
    for bad in (Recipe("Bad", only_levels=("None",)), Recipe("Bad", only_sheets=("None",))):
        with pytest.raises(Refusal, match="“None” for this recipe"):
            make_bundle(project, art, bad)
    small = replace(project, recipes=(Recipe("Small", most_kib=9, most_pages=1, most_memory=9),))
    files.save(small, demo)
    for turn in range(2):
        [built] = build_all(small, demo, tmp_path / "out")
        assert built.fresh == bool(turn)
        assert [sentence.split()[0] for sentence in built.over_budget] == ["The", "Its"]
    words = [sys.executable, "-m", "rushweed", "build", str(demo), "--out", str(tmp_path / "out")]
    done = subprocess.run(words, capture_output=True, text=True, check=False)
    assert done.returncode == 1 and "more than the 9 it may" in done.stderr
    told = [f for f in find_all(small, Art(demo), slow=True) if f.code == "over-budget"]
    assert len(told) == 2 and all("Recipe Small" in finding.what for finding in told)
    assert not [f for f in find_all(small, Art(demo)) if f.code == "over-budget"]
    fine = replace(project, recipes=(Recipe("Small", most_kib=9000, most_pages=1),))
    assert not [f for f in find_all(fine, Art(demo), slow=True) if f.code == "over-budget"]
    assert not build_all(fine, demo, tmp_path / "fine")[0].over_budget


@given(
    st.sets(
        st.sampled_from(["fen_ground", "fen_water", "crab", "wheel", "front_reeds"]), min_size=1
    )
)
def test_a_bundle_names_no_piece_that_is_gone(gone: set[str]) -> None:
    project = files.load(DEMO)
    sheets = tuple(sheet for sheet in project.sheets if sheet.name not in gone)
    project = replace(project, sheets=sheets)
    body = chosen_subset(project, Recipe("Game"))
    known = {piece.number for _, piece in project.pieces()}
    for old, new in zip(project.levels, body.levels, strict=True):
        for before, after in zip(old.layers, new.layers, strict=True):
            assert after.cells.used() == before.cells.used() & known
            kept = {place: before.cells.at(*place) for place in before.cells.places_of(known)}
            assert kept == {place: after.cells.at(*place) for place in kept}
            assert after.props == tuple(prop for prop in before.props if prop.piece in known)
    assert {tile.piece for hem in body.hems for tile in hem.tiles} <= known
    assert {number for mix in body.mixes for number, _ in mix.tiles} <= known
    assert chosen_subset(body, Recipe("Game")) is body


def test_a_recipe_that_is_refused_does_not_stop_the_others(demo: Path, tmp_path: Path) -> None:
    bad = Recipe("Bad", templates=("nothing.txt",))
    project = replace(files.load(demo), recipes=(bad, Recipe("Good"), replace(bad, name="Worse")))
    built: list[Any] = []
    with pytest.raises(Refusal, match=r"^Bad: There is no template[^\n]*\nWorse: "):
        built.extend(build_each(project, demo, tmp_path))
    assert (tmp_path / "good" / "bundle.json").exists() and not (tmp_path / "bad").exists()


Painted = dict[Key, tuple[int, int]]
FORMS: tuple[RowForm, ...] = ("runs", "plain", "packed")
places = st.tuples(st.integers(-70, 70), st.integers(-70, 70))
painted = st.dictionaries(places, st.tuples(st.integers(1, 70_000), st.integers(0, 7)))


def read(rows: list[Any]) -> Painted:
    return {(x, y): (number, turn) for row in rows for y, x, number, turn in cells_of(row)}


@given(st.lists(painted, min_size=1, max_size=3), st.integers(1, 200), st.sampled_from(FORMS))
def test_all_that_is_painted_is_in_one_chunk_and_in_the_right_one(
    drawn: list[Painted], side: int, form: RowForm
) -> None:
    level = Level("x", tuple(Layer(str(n), Cells().painted(one)) for n, one in enumerate(drawn)))
    assert [read(told_cells(layer.cells, form)) for layer in level.layers] == drawn
    found: list[Painted] = [{} for _ in drawn]
    for column, row, layers in chunks_of(level, side, form):
        for at, rows in zip(found, layers, strict=True):
            cells = read(rows)
            assert all((x // side, y // side) == (column, row) for x, y in cells)
            assert not cells.keys() & at.keys()
            at.update(cells)
    assert found == drawn


RECIPES = [
    Recipe(f"{form} {chunk}", rows=form, chunk=chunk, levels_apart=True, outlines=False)
    for form in FORMS
    for chunk in (0, 16)
]


@pytest.mark.slow
@pytest.mark.parametrize("recipe", RECIPES, ids=lambda recipe: recipe.name)
def test_a_bundle_in_chunks_is_the_same_to_a_game(recipe: Recipe, tmp_path: Path) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    made = make_bundle(project, art, recipe).files
    body = json.loads(made["bundle.json"])
    jsonschema.validate(body, schema())
    whole = joined(body, lambda name: json.loads(made[name]))
    jsonschema.validate(whole, schema())
    for level, told in zip(project.levels, whole["levels"], strict=True):
        for layer, entry in zip(level.layers, told["layers"], strict=True):
            assert Cells().painted(read(entry["cells"])) == layer.cells
    names = {level["file"] for level in body["levels"]}
    names |= {chunk["file"] for name in names for chunk in json.loads(made[name])["chunks"]}
    assert names < made.keys() and all(name in body["files"] for name in names)
    assert (len(names) > len(project.levels)) is (recipe.chunk > 0)
    for name, data in made.items():
        (tmp_path / name).write_bytes(data)
    assert not list(compare(whole, read_manifest(tmp_path)))
    first = tmp_path / body["levels"][0]["file"]
    first.write_text(json.dumps({**json.loads(first.read_text()), "chunks": [{"file": "../x"}]}))
    with pytest.raises(Refusal, match="bundle"):
        read_manifest(tmp_path)
