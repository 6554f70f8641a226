"""Levels in files of their own and cells in chunks: a game finds the very same cells there."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples.read_bundle import cells_of
from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.comparing import compare, read_manifest
from rushweed.core.bale.levels_apart import joined
from rushweed.core.bale.manifest import schema
from rushweed.core.bale.telling_cells import RowForm, chunks_of, told_cells
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Refusal
from tests.conftest import DEMO

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
