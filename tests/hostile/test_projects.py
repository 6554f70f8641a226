"""Projects edited by hand, wrongly: a sentence, or a project that everything else can live with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rushweed.core.bale.building import build_all
from rushweed.core.bound.variants import add_variant
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Recolouring
from rushweed.core.value_ranges import HIGHEST_NUMBER
from rushweed.core.values import Rect, Refusal
from rushweed.core.walk.probing import probe
from rushweed.core.walk.replay import read_walk, replay
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Moment, Scene
from rushweed.core.weave.painting import cropped
from tests.hostile import amount, tried
from tests.hostile.spoiling import DEEP, put, spoil

WALK = Path(__file__).parents[2] / "demo" / "walks" / "to-the-beacon.txt"
HEAD, SHEET = "project.rushweed", "sheets/heron.sheet.json"
LEVEL = "levels/heron-pool.level.json"
SHEETS = "fen_ground keeper heron eel landing wheel low_sun fen_ground_normal"


@pytest.fixture
def small(demo: Path) -> Path:
    """A project with something of every kind, but little of it."""
    whole = files.load(demo)
    sheets = tuple(sheet for sheet in whole.sheets if sheet.name in SHEETS.split())
    levels = tuple(_around_start(lv) for lv in whole.levels if lv.name == "Heron pool")
    files.save(replace(whole, sheets=sheets, levels=levels), demo)
    return demo


def _around_start(level: Level) -> Level:
    """The part of a level in which the walker begins."""
    assert level.start is not None
    area = Rect(int(level.start.x // 16) - 6, int(level.start.y // 16) - 5, 13, 11)
    layers = tuple(replace(one, cells=cropped(one.cells, area)) for one in level.layers)
    return replace(level, layers=layers)


@given(st.data())
@settings(
    max_examples=amount(25, 5000),
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
def test_one_wrong_value_ends_in_a_sentence_or_in_a_project_that_works(
    small: Path, tmp_path: Path, data: st.DataObject
) -> None:
    paths = [small / HEAD, *sorted(small.glob("*/*.json"))]
    path = data.draw(st.sampled_from(paths))
    whole = path.read_bytes()
    tried("projects with junk in one place, opened and used")
    try:
        spoil(path, data.draw)
        _opens_or_says(small, tmp_path)
    finally:
        path.write_bytes(whole)


def _opens_or_says(folder: Path, out: Path) -> None:
    """A folder is refused in one sentence, and what is whole of it opens; or all works."""
    try:
        project = files.load(folder)
    except Refusal as refusal:
        assert str(refusal).endswith(".") and len(str(refusal).encode()) < 1000
        try:
            project, left_out = files.load_what_is_whole(folder)
        except Refusal:
            return
        assert left_out
    files.save(project, out / "copy")
    assert files.load(out / "copy") == project, "nothing is lost on the way"
    _all_works(project, folder, out)


def _all_works(project: Project, folder: Path, out: Path) -> None:
    art = Art(folder)
    acts: list[Callable[[], Any]] = [lambda: find_all(project, art)]
    for level in project.levels[:1]:
        ground, keys = Ground(project, level.name), read_walk(WALK.read_text())
        acts += [
            partial(probe, project, level.name, art),
            partial(replay, ground, keys),
            partial(Scene(project, art).level, level, Rect(0, 0, 300, 200), Moment(0.3)),
        ]
    acts.append(lambda: build_all(project, folder, out / "out"))
    for act in acts:
        try:
            act()
        except Refusal as refusal:
            assert str(refusal).endswith(".")


POINTLESS = {"form": {"kind": "polygon", "corners": []}}
POLYGON = {"form": {"kind": "polygon", "corners": [[0, 0], [1, 1]]}}
GONE_PIECE = {
    "piece": {
        "number": 99_999,
        "rect": [0, 0, 9, 9],
        "pivot": [0, 0],
        "shapes": [POINTLESS],
    }
}
DISTANT = {"form": {"kind": "polygon", "corners": [[0, 0], [0, 9], [100_032, 9]]}}
FAR = [{"y": y, "x": y, "cells": [[1, 1]]} for y in (-400_000, 400_000)]


@pytest.mark.parametrize(
    ("file", "way", "junk", "words"),
    [
        (SHEET, ("enlarged",), 100_000, "enlarged is not right"),
        (SHEET, ("enlarged",), 1000, "px large"),
        (SHEET, ("pixel",), 1000, "px large"),
        (SHEET, ("name",), "\ud800", "not whole JSON"),
        (SHEET, ("sources",), [], "no picture"),
        (SHEET, ("sources", 0, "size"), [10**6, 10**6], "px large"),
        (SHEET, ("pieces", 0, "rect"), [0, 0, 10**6, 10**6], "px large"),
        (SHEET, ("pieces", 0, "number"), 2**31 - 1, "number is not right"),
        (SHEET, ("pieces", 0, "row"), 10**30, "row is not right"),
        (SHEET, ("pieces", 0, "shapes"), [POLYGON], "shape of 2 corners"),
        (SHEET, ("pieces", 0, "shapes"), [POINTLESS], "shape of 0 corners"),
        (SHEET, ("missing",), [GONE_PIECE], "shape of 0 corners"),
        (SHEET, ("pieces", 0, "shapes"), [DISTANT], "farther from it than"),
        (SHEET, ("animations", 0, "holds"), [10**9], "holds › 0 is not right"),
        (SHEET, ("animations", 0, "frames"), [], "has no frame"),
        (HEAD, ("recipes", 0, "densities"), [10**6], "densities › 0 is not right"),
        (HEAD, ("next_number",), 10**20, "next_number is not right"),
        (HEAD, ("walker", "body"), [10**6, 4], "walker › body"),
        (LEVEL, ("layers", 0, "cells"), FAR, ""),
        (LEVEL, ("layers", 0, "cells"), [{"y": 0, "x": 0, "cells": [[10**30, 1]]}], "so many of"),
        (LEVEL, ("layers", 0, "cells"), [{"y": 0, "x": 0, "cells": [[1, -(10**30)]]}], "so many"),
        (LEVEL, ("layers", 0, "cells"), [{"y": 10**30, "x": 0, "cells": [[1, 1]]}], "500000"),
        (LEVEL, ("start",), [1e300, 0], "start"),
        (SHEET, ("pieces", 0, "facts", "current"), {"across": 1e9, "down": 0}, "current"),
        (SHEET, ("redrawn",), {"size": [9, 9], "factor": 3, "cut": [5, 0]}, "brought back"),
        (HEAD, ("rules", "collision"), [{"number": 99, "name": "x"}], "number is not right"),
        (HEAD, ("walker", "feel", "jumps"), 10**9, "jumps is not right"),
        (LEVEL, ("layers", 0, "cells"), [{"y": 10**9, "x": 0, "cells": [[1, 1]]}], "500000"),
        (SHEET, (), DEEP, "nested deeper"),
        (HEAD, (), DEEP, "nested deeper"),
        (SHEET, (), '{"format": -1}', "never was"),
        (SHEET, (), '{"format": ' + "9" * 5000 + "}", "not whole JSON"),
        (SHEET, (), "\x00\x01", "not whole JSON"),
    ],
)
def test_what_cannot_be_is_told_with_its_file_and_place(
    file: str, way: tuple[Any, ...], junk: Any, words: str, small: Path, tmp_path: Path
) -> None:
    tried("projects that cannot be, by hand")
    put(small / file, way, junk)
    if words:
        with pytest.raises(Refusal, match=words) as told:
            files.load(small)
        assert file in str(told.value)
    _opens_or_says(small, tmp_path)


def test_the_highest_number_opens_saves_and_opens_and_gives_no_other(
    small: Path, tmp_path: Path
) -> None:
    put(small / SHEET, ("pieces", 0, "number"), HIGHEST_NUMBER)
    project, left_out = files.load_what_is_whole(small)
    assert left_out
    files.save(project, tmp_path / "copy")
    again = files.load(tmp_path / "copy")
    assert again == project and again.find(HIGHEST_NUMBER)
    with pytest.raises(Refusal, match="used up"):
        add_variant(again, "heron", (), Recolouring(90))


@pytest.mark.parametrize("largest", [4096, 512])
def test_recipes_of_one_name_do_not_stop_a_build(largest: int, small: Path, tmp_path: Path) -> None:
    project = files.load(small)
    [first, *_] = project.recipes
    twice = replace(project, recipes=(first, replace(first, largest=largest)))
    built = build_all(twice, small, tmp_path / "out")
    assert built and all(path.is_relative_to(tmp_path) for path in (tmp_path / "out").rglob("*"))
    assert len(list((tmp_path / "out").rglob("bundle.json"))) == len(set(twice.recipes))


def test_a_sheet_that_is_partly_sound_opens_without_the_rest(demo: Path) -> None:
    whole = files.load(demo).sheet("heron")
    put(demo / SHEET, ("pieces", 0, "rect"), [0, 0, 9, 0])
    put(demo / SHEET, ("pieces", 2, "pivot"), ["far", None])
    put(demo / SHEET, ("kind",), "bird")
    put(demo / SHEET, ("animations",), [{"name": "sleep", "frames": "all"}])
    project, left_out = files.load_what_is_whole(demo)
    sheet = project.sheet("heron")
    assert sheet.pieces == (whole.pieces[1], *whole.pieces[3:])
    assert (sheet.kind, sheet.animations) == ("picture", ())
    for place in ("pieces › 0", "pieces › 2", "kind", "animations › 0"):
        assert any(f"{SHEET}: {place}" in sentence for sentence in left_out), place


@pytest.mark.parametrize("version", [1, 2, 3])
def test_older_files_that_are_none_are_refused(version: int, demo: Path) -> None:
    for key, junk in (("recipes", [7]), ("treatments", [7]), ("rules", {"tile": 7}), ("walker", 3)):
        put(demo / HEAD, (key,), junk)
        put(demo / HEAD, ("format",), version)
        with pytest.raises(Refusal):
            files.load(demo)
    put(demo / LEVEL, ("layers",), [7, {"props": 7}])
    put(demo / LEVEL, ("format",), version)
    with pytest.raises(Refusal):
        files.load(demo)
