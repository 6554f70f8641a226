"""The grid without edges: painting, laying blocks, reading and writing rows, what it knows."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Prop
from rushweed.core.project.migrations import migrate
from rushweed.core.project.text import to_json
from rushweed.core.values import Rect, Refusal
from tests.conftest import DEMO

spots = st.tuples(st.integers(-80, 80), st.integers(-80, 80))
tiles = st.tuples(st.integers(0, 5), st.integers(0, 7))
paintings = st.dictionaries(spots, tiles, max_size=30)


def slowly(changes: list[dict]) -> dict:
    """What is painted after some changes, kept as plainly as can be."""
    held: dict[tuple[int, int], tuple[int, int]] = {}
    for change in changes:
        for place, (number, turn) in change.items():
            held.pop(place, None)
            if number:
                held[place] = (number, turn)
    return held


@given(st.lists(paintings, max_size=4))
def test_cells_are_what_was_painted_whichever_way_it_came(changes: list[dict]) -> None:
    cells = Cells()
    for change in changes:
        cells.used()
        cells = cells.painted(change)
    held = slowly(changes)
    assert cells.count() == len(held)
    assert cells.used() == {number for number, _ in held.values()}
    assert all(cells.at(*place) == tile for place, tile in held.items())
    if held:
        columns, rows = zip(*held, strict=True)
        box = Rect(
            min(columns), min(rows), max(columns) - min(columns) + 1, max(rows) - min(rows) + 1
        )
        assert cells.bounds() == box
    else:
        assert not cells.bounds().area
    assert Cells.from_rows(cells.rows()) == cells
    backwards = [{**row, "cells": row["cells"]} for row in reversed(cells.rows())]
    assert Cells.from_rows(backwards) == cells, "rows may come in any order"
    for number in cells.used():
        assert set(cells.places_of({number})) == {p for p, t in held.items() if t[0] == number}


@given(paintings, spots, st.integers(1, 70), st.integers(1, 40), st.integers(0, 2**32 - 1))
def test_laying_a_block_is_painting_each_of_its_cells(before, corner, width, height, seed) -> None:
    draw = np.random.default_rng(seed)
    numbers = draw.integers(0, 4, (height, width)).astype(np.int32)
    turns = draw.integers(0, 8, (height, width)).astype(np.uint8)
    where = draw.random((height, width)) < 0.7
    area = Rect(corner[0], corner[1], width, height)
    cells = Cells().painted(before)
    laid = cells.overlaid(area, numbers, turns, where)
    changes = {
        (area.x + x, area.y + y): (int(numbers[y, x]), int(turns[y, x]))
        for y, x in np.argwhere(where).tolist()
    }
    assert laid == cells.painted(changes)
    assert laid.used() == cells.painted(changes).used()
    window = laid.window(area)
    np.testing.assert_array_equal(window[0][where], numbers[where])


@pytest.mark.parametrize(
    "runs",
    [[[1]], [[1, 0]], [[-1, 2]], [[1, 2, 8]], [[1, 2, 3, 4]], [[1, 2_000_000]], [[2**31, 1]]],
)
def test_rows_that_make_no_sense_are_refused_in_words(runs: list, demo: Path) -> None:
    path = demo / "levels" / "sluice-house.level.json"
    body = json.loads(path.read_text())
    body["layers"][0]["cells"][2]["cells"] = runs
    path.write_text(json.dumps(body))
    with pytest.raises(Refusal, match=r"sluice-house.level.json"):
        files.load(demo)
    with pytest.raises(ValueError, match=r"row|run"):
        Cells.from_rows([{"y": 7, "x": 0, "cells": runs}])


@given(
    st.recursive(
        st.one_of(st.integers(), st.booleans(), st.none(), st.text(max_size=6), st.just(8.0)),
        lambda inner: st.one_of(
            st.lists(inner, max_size=4), st.dictionaries(st.text(max_size=4), inner, max_size=4)
        ),
        max_leaves=20,
    )
)
def test_any_value_is_written_as_json_that_says_the_same(value: object) -> None:
    assert json.loads(to_json({"value": value})) == {"value": value}


def test_older_levels_are_brought_forward_with_their_flips() -> None:
    body = {
        "format": 2,
        "name": "Old",
        "layers": [
            {"name": "Ground"},
            {"name": "Props", "props": [{"piece": 3, "x": 1, "y": 2, "flipped": True}]},
            {"name": "More", "props": [{"piece": 4, "x": 1, "y": 2, "flipped": False}]},
        ],
    }
    moved = migrate(json.loads(json.dumps(body)), "old.level.json")
    assert [layer.get("props") for layer in moved["layers"]] == [
        None,
        [{"piece": 3, "x": 1, "y": 2, "orientation": 1}],
        [{"piece": 4, "x": 1, "y": 2}],
    ]
    with pytest.raises(Refusal, match="newer Rushweed"):
        migrate({**body, "format": 99}, "new.level.json")


@pytest.mark.slow
def test_the_demo_on_disk_is_what_its_maker_makes_today(tmp_path: Path) -> None:
    made = tmp_path / "lanternfen"
    making = [sys.executable, "demo/make_project.py", str(made)]
    subprocess.run(making, cwd=DEMO.parent.parent, check=True, timeout=300)
    there = {path.relative_to(made) for path in made.rglob("*") if path.is_file()}
    assert there
    for name in there:
        assert (DEMO / name).read_bytes() == (made / name).read_bytes(), f"{name}: make it anew"
    project = files.load(made)
    props = [p for level in project.levels for layer in level.layers for p in layer.props]
    assert any(prop.orientation for prop in props) and isinstance(props[0], Prop)


def test_older_projects_keep_what_they_said_under_other_names(demo: Path) -> None:
    head = demo / "project.rushweed"
    now = files.load(demo)
    walker = replace(now.walker, coyote_time=0.2, jump_buffer=0.1, variable_jump_height=True)
    feel = replace(walker.feel, corner_correction=0.3)
    files.save(replace(now, walker=replace(walker, feel=feel)), demo)
    old = json.loads(head.read_text())
    for part, names in (
        (old["walker"], {"coyote_time": "late", "jump_buffer": "early"}),
        (old["walker"], {"variable_jump_height": "short_jumps"}),
        (old["walker"]["feel"], {"corner_correction": "corner"}),
        *((treatment, {"extrude": "repeat_edge"}) for treatment in old["treatments"]),
    ):
        part |= {before: part.pop(name) for name, before in names.items()}
    head.write_text(json.dumps({**old, "format": 4}))
    assert files.load(demo) == replace(now, walker=replace(walker, feel=feel))
