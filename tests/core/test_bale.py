"""Bundles: what is written is what is drawn, and a stranger can read it."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle, write_bundle
from rushweed.core.bale.manifest import schema
from rushweed.core.bale.packing import pack
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import read_picture
from rushweed.core.gauge.treating import set_shared_point
from rushweed.core.project import files
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Rect, Refusal, Size
from rushweed.core.weave.drawing import Scene, view_around
from rushweed.core.weave.levels import bounds
from tests.conftest import DEMO, ROOT


@pytest.mark.parametrize(
    ("recipe", "padding", "edge", "sides"),
    [
        (Recipe("Game"), 2, 1, "any"),
        (Recipe("Other", True), 0, 0, "multiple of four"),
        (Recipe("Wide"), 5, 3, "power of two"),
    ],
)
def test_a_stranger_draws_every_level_to_the_pixel(
    recipe: Recipe, padding: int, edge: int, sides: str, tmp_path: Path
) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    for treatment in project.treatments:
        for point, value in (("padding", padding), ("repeat_edge", edge), ("sides", sides)):
            project = set_shared_point(project, treatment.name, point, value)
    write_bundle(make_bundle(project, art, recipe), tmp_path / "bundle")
    for level in project.levels:
        area = view_around(level.start, project.rules.resolution)
        if recipe.name == "Game" and level.name == "Sluice house":
            cells, tile = bounds(level), project.rules.tile
            area = Rect(cells.x * 16, cells.y * 16, cells.width * tile.width, cells.height * 16)
        picture = tmp_path / f"{level.name}.png"
        command = [sys.executable, str(ROOT / "examples/read_bundle.py"), str(tmp_path / "bundle")]
        command += ["--level", level.name, "--area", *map(str, area), "--out", str(picture)]
        subprocess.run(command, check=True, cwd=tmp_path, env={"PATH": ""})
        expected = Scene(project, art).level(level, area)
        np.testing.assert_array_equal(read_picture(picture), expected)


def test_the_manifest_fits_its_schema_and_the_same_project_gives_the_same_bytes() -> None:
    project = files.load(DEMO)
    first = make_bundle(project, Art(DEMO), project.recipes[0])
    again = make_bundle(files.load(DEMO), Art(DEMO), project.recipes[0])
    assert first.files == again.files
    jsonschema.validate(json.loads(first.files["bundle.json"]), schema())
    stored = json.loads((ROOT / "docs/format/bundle.schema.json").read_text())
    assert stored == schema(), "docs/format is made by tools/write_schemas.py"


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
