"""Sheets with pixels per unit of their own: one rule in Weave, Walk, `render` and every reader."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from runpy import run_path
from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.writing import write_bundle
from rushweed.core.cut.reshaping import set_enlarged
from rushweed.core.gather.art import Art
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Borders, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.picturing import picture_with_walker
from rushweed.core.walk.replay import replay
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Moment, Scene
from rushweed.core.weave.outlines import merged_outlines
from tests.conftest import DEMO, ROOT

READER = SimpleNamespace(**run_path(str(ROOT / "examples" / "read_bundle.py")))
AREA = Rect(-20, -10, 150, 120)
ART = Art(DEMO)
SHOWN = ("fen_ground", "wheel", "heron", "keeper")
"""The sheets that the level is made of, the walker's among them."""


def bench() -> Project:
    """A level with tiles, turned ones too, and with props in many poses."""
    project = files.load(DEMO)
    ground = [piece.number for piece in project.sheet("fen_ground").pieces]
    wheel, bird = (project.sheet(name).pieces[0].number for name in ("wheel", "heron"))
    floor = {(x, 5): (ground[1 + x % 5], x % 8) for x in range(8)}
    props = (
        Prop(bird, 40, 70),
        Prop(wheel, 80.375, 40.625, across=1.5, down=0.75, angle=30),
        Prop(wheel, 20, 60, orientation=5),
        Prop(ground[2], 100, 80, across=2.0),
    )
    layers = (Layer("Ground", Cells().painted(floor)), Layer("Things", props=props))
    walker = replace(project.walker, figure="keeper", body=None)
    level = Level("Alone", layers, Point(24, 40))
    return with_borders(replace(project, levels=(level,), walker=walker))


def with_borders(project: Project) -> Project:
    def framed(sheet: Sheet) -> Sheet:
        pieces = (replace(piece, borders=Borders(5, 3, 4, 7)) for piece in sheet.pieces)
        return replace(sheet, pieces=tuple(pieces))

    return with_sheet(project, "wheel", framed)


@settings(max_examples=12, deadline=None)
@given(
    unit=st.integers(1, 40),
    owns=st.lists(st.integers(1, 60), min_size=4, max_size=4),
    recipe=st.sampled_from([Recipe("Plain"), Recipe("Up", True, "units", trimmed=True)]),
)
def test_every_reader_draws_each_sheet_at_its_own_size(
    tmp_path_factory: pytest.TempPathFactory, unit: int, owns: list[int], recipe: Recipe
) -> None:
    project = bench()
    for name, own in zip(SHOWN, owns, strict=True):
        project = set_pixels_per_unit(project, (name,), min(own, 8 * unit))
    project = replace(project, rules=replace(project.rules, pixels_per_unit=unit))
    folder: Path = tmp_path_factory.mktemp("bundle")
    write_bundle(make_bundle(project, ART, recipe, effort=0), folder)
    bundle = READER.Bundle(folder)
    shown = Scene(project, ART).level(project.levels[0], AREA)
    read = READER.View(bundle, bundle.level("Alone"), tuple(AREA)).draw()
    assert np.array_equal(np.asarray(read), shown[..., :3])
    away = replace(Ground(project, "Alone").begin(), x=9999.0, y=9999.0)
    walked = picture_with_walker(Scene(project, ART), Ground(project, "Alone"), away, AREA)
    assert np.array_equal(walked, shown)


@pytest.mark.parametrize("factor", [2, 3])
def test_a_sheet_of_fewer_pixels_per_unit_is_as_one_that_is_enlarged(factor: int) -> None:
    plain = bench()
    usual = plain.rules.pixels_per_unit
    large = set_enlarged(plain, SHOWN, factor)
    own = set_pixels_per_unit(plain, SHOWN, usual)
    rules = replace(plain.rules, pixels_per_unit=usual * factor)
    large, own = (replace(one, rules=rules) for one in (large, own))
    large = set_pixels_per_unit(large, SHOWN, usual * factor)
    assert treatment_of(own, own.sheet("wheel")).pixels_per_unit == usual
    level = own.levels[0]
    drawn, same = (Scene(one, ART).level(level, AREA, Moment(0.4)) for one in (own, large))
    assert np.array_equal(drawn, same)
    assert walker_body(own) == walker_body(large) != walker_body(plain)
    rings = [sorted(merged_outlines(one, level)) for one in (own, large, plain)]
    assert rings[0] == rings[1] != rings[2]
    grounds = [Ground(one, level.name) for one in (own, large)]
    keys = [Keys(right=True, jump=step % 20 < 5) for step in range(120)]
    first, second = (replay(ground, keys) for ground in grounds)
    assert first == second
    walked, same = (
        picture_with_walker(Scene(one, ART), ground, first[-1], AREA)
        for one, ground in zip((own, large), grounds, strict=True)
    )
    assert np.array_equal(walked, same)
