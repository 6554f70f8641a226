"""Ground rules: changed by people, taken from the art, and what goes along."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.cli import run_verb
from rushweed.core.cut.gathering import accept_all, add_sheets, cut_as, gather, take_in
from rushweed.core.cut.reshaping import set_pixel
from rushweed.core.cut.rules_from_art import follow_art, follow_brush
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_colour_key, set_kind
from rushweed.core.gauge import consequences
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.ground_rules import LARGEST_TILE, choose_rules, walker_body
from rushweed.core.project.level import Layer, Level, Mark, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Colour, Point, Rect, Refusal, Size
from rushweed.core.walk.starting import first_standing
from tests.core.test_walk import ground as stage
from tests.pack import figures, keyed, write_pack
from tests.samples import write_picture

sizes = st.builds(Size, st.integers(1, 300), st.integers(1, 300))
draw = np.random.default_rng(3)


def pack_of(folder: Path) -> tuple[Project, Art]:
    art = Art(folder / "project")
    pack = sorted(write_pack(folder / "pack").iterdir())
    project, names = add_sheets(Project(), [take_in(art, [path]) for path in pack])
    *_, project = accept_all(project, art, names)
    return project, art


def test_the_first_tilesets_say_the_rules_and_later_ones_are_one_finding(tmp_path: Path) -> None:
    project, art = pack_of(tmp_path)
    assert (project.rules.tile, project.rules.pixels_per_unit) == (Size(32, 32), 32)
    assert not project.rules.chosen
    assert {treatment_of(project, sheet).pixels_per_unit for sheet in project.sheets} == {32}
    codes = [finding.code for finding in find_all(project, art)]
    assert "other-pixel-size" not in codes and "other-tile-size" not in codes
    small = choose_rules(project, tile=Size(16, 16), pixels_per_unit=16)
    (finding,) = [f for f in find_all(small, art) if f.code == "other-tile-size"]
    assert finding.what == "3 sheets are drawn for 32 px tiles; the project says 16."
    assert finding.mend is not None and finding.mend_words == "Make 32 the rule"
    mended = finding.mend(small)
    assert mended.rules.tile == Size(32, 32) and mended.rules.chosen
    own = replace(project.sheets[0].differences, pixels_per_unit=8)
    odd = replace(project, sheets=tuple(replace(s, differences=own) for s in project.sheets))
    (finding,) = [f for f in find_all(odd, art) if f.code == "other-pixel-size"]
    assert len(finding.sheets) == len(project.sheets), "one finding for all, never one a sheet"


@given(st.integers(1, 3000), st.integers(1, 3000))
def test_what_can_be_no_tile_says_nothing_of_tiles(width: int, height: int) -> None:
    """Cells of any size are cut; only those that a level can have become its rule."""
    cell = Size(width, height)
    piece = Piece(1, Rect(0, 0, *cell), Point(0, 0))
    sheet = Sheet("hill", (), kind="tileset", layout=EvenCells(cell), pieces=(piece,))
    told = cell if max(cell) <= LARGEST_TILE else Project().rules.tile
    assert follow_art(Project(sheets=(sheet,)), ["hill"]).rules.tile == told
    figure = replace(sheet, kind="sheet")
    assert follow_brush(Project(sheets=(figure,)), 1).rules.tile == told


@given(sizes, sizes, st.integers(1, 200), st.integers(1, 200))
def test_cells_keep_their_tiles_and_all_else_its_place_in_units(
    tile: Size, other: Size, before: int, after: int
) -> None:
    cells = Cells().painted({(3, -2): (7, 1)})
    layer = Layer("Ground", cells, props=(Prop(7, 12.0, -30.0),))
    level = Level("Pool", (layer,), Point(8, 40), marks=(Mark("door", 5.0, 6.0),))
    project = choose_rules(Project(levels=(level,)), tile=tile, pixels_per_unit=before)
    changed = choose_rules(project, tile=other, pixels_per_unit=after)
    moved, was = changed.levels[0], project.levels[0]
    assert moved.layers[0].cells is cells
    if tile != other:
        for one, old in ((moved.layers[0].props[0], was.layers[0].props[0]),
                         (moved.marks[0], was.marks[0])):  # fmt: skip
            assert one.x / after == pytest.approx(old.x / before)
        assert moved.start is not None and was.start is not None
        assert moved.start.y / after == pytest.approx(was.start.y / before)
    body = walker_body(changed)
    assert abs(body.height / after - 21 / 16) <= 0.5 / after or body.height == 1
    for sentence in (consequences.of_tile(changed), consequences.of_resolution(changed)):
        assert sentence.endswith(".")
    assert "cells keep their tiles" in consequences.of_tile(changed)


@pytest.mark.parametrize(
    "changes",
    [
        {"tile": Size(0, 16)},
        {"tile": Size(16, 4000)},
        {"pixels_per_unit": 0},
        {"resolution": Size(2, 2)},
    ],
)
def test_rules_that_cannot_be_are_refused(changes: dict[str, object]) -> None:
    with pytest.raises(Refusal, match=r"\.$"):
        choose_rules(Project(), **changes)


@pytest.mark.slow
def test_the_verb_shows_and_changes_them(tmp_path: Path, capsys) -> None:
    pack = write_pack(tmp_path / "pack")
    (pack / "broken.png").write_bytes(b"no picture")
    folder = str(tmp_path / "moor")
    assert run_verb(["new", folder, str(pack), "--resolution", "640x360"]) == 0
    out, err = capsys.readouterr()
    assert "8 sheets" in out and "broken.png" in err, "one bad file is told and passed over"
    assert run_verb(["rules", folder, "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["tile"] == [32, 32]
    words = ["--tile", "40x30", "--view", "above", "--y", "down", "--background", "#102030"]
    assert run_verb(["rules", folder, *words, "--name", "Moor"]) == 0
    assert "40 × 30" in capsys.readouterr().out
    rules = files.load(Path(folder)).rules
    assert (rules.tile, rules.pixels_per_unit, rules.view) == (Size(40, 30), 40, "top-down")
    assert rules.resolution == Size(640, 360) and rules.background == Colour(16, 32, 48)
    for bad in (["--tile", "big"], ["--resolution", "1x1"], ["--background", "reddish"]):
        assert run_verb(["rules", folder, *bad]) == 1
        assert capsys.readouterr().err.strip().endswith(".")


def test_no_guess_changes_what_somebody_said(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    path = write_picture(tmp_path / "maid.png", keyed(figures(draw, 48, 64, 4, 2)))
    fresh, name = gather(Project(), art, [path])
    said = set_colour_key(fresh, (name,), Colour(255, 0, 255), 9, 2)
    said = set_pixel(set_kind(said, (name,), "loose"), (name,), 2)
    for project in (
        next(iter(reversed(list(accept_all(said, art, (name,)))))),
        cut_as(said, art, name, EvenCells(Size(24, 32))),
    ):
        sheet, was = project.sheet(name), said.sheet(name)
        assert (sheet.kind, sheet.colour_key, sheet.pixel) == ("loose", was.colour_key, 2)
        assert sheet.pieces
    none = set_colour_key(fresh, (name,), None)
    *_, project = accept_all(none, art, (name,))
    assert project.sheet(name).colour_key is None, "that there is none is a choice, too"


@given(st.integers(1, 8), st.booleans())
def test_one_begins_on_the_first_ground_with_room_above(hill: int, roof: bool) -> None:
    rows = ["." * 12] * 12
    rows[0] = "#" * 12 if roof else rows[0]
    rows[11 - hill] = "......######"
    rows[11] = "#" * 12
    place = stage(*rows, x=0, y=0)
    project, level = place.project, replace(place.level, start=None)
    assert first_standing(project, level) == Point(8, 11 * 16), "below the roof, at the left"


@given(st.integers(4, 256), st.booleans())
def test_the_games_picture_follows_the_first_tiles(side: int, said: bool) -> None:
    """Nobody sees a handful of tiles or a crowd, and what somebody chose stays."""
    piece = Piece(1, Rect(0, 0, side, side), Point(0, 0))
    sheet = Sheet("hill", (), kind="tileset", layout=EvenCells(Size(side, side)), pieces=(piece,))
    project = Project(sheets=(sheet,))
    if said:
        project = replace(project, rules=replace(project.rules, resolution=Size(400, 240)))
    wide, high = follow_art(project, ["hill"]).rules.resolution
    if said:
        assert (wide, high) == (400, 240)
    else:
        assert 12 <= wide / side <= 40 or side in (4, 5) or side > 160
        assert high / side >= 6.5 or side > 160
