"""Drawing in depth: tints, turned props, who stands behind whom, animated cells, tilted bodies."""

from __future__ import annotations

import random
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Literal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.writing import write_bundle
from rushweed.core.bound.variants import add_variant
from rushweed.core.findings.walk import feet_beside_the_ground
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import read_picture
from rushweed.core.orientation import turned, turned_point
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.figure import cast_of
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, with_level, with_sheet
from rushweed.core.project.rules import Recipe, Walker
from rushweed.core.project.sheet import Animation, Recolouring, Sheet
from rushweed.core.values import Colour, Point, Rect
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.picturing import picture_with_walker, walker_frame
from rushweed.core.walk.replay import replay
from rushweed.core.walk.showing import is_flipped, shown_animation
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Moment, Scene, view_around
from rushweed.core.weave.walkers_place import front_of_walker
from tests.conftest import DEMO, ROOT

AREA = Rect(0, 0, 96, 80)


@pytest.fixture
def project() -> Project:
    return files.load(DEMO)


def number(project: Project, name: str, sheet: str = "fen_above") -> int:
    return next(p.number for p in project.sheet(sheet).pieces if p.name == name)


def alone(project: Project, *layers: Layer, view: str = "top-down") -> tuple[Project, Level]:
    level = Level("Alone", layers, view=view)  # type: ignore[arg-type]
    return replace(project, levels=(level,)), level


@given(st.integers(0, 7))
def test_props_turn_and_flip_about_their_pivot(orientation: int) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    piece = next(p for p in project.sheet("landing").pieces if p.name == "lamp_post")
    project, level = alone(
        project, Layer("Things", props=(Prop(piece.number, 48, 48, orientation),)), view="side"
    )
    drawn = Scene(project, art).level(level, AREA)
    picture = turned(art.piece(project.sheet("landing"), piece), orientation)
    pivot = turned_point(piece.standing, piece.rect.size, orientation)
    x, y = int(48 - pivot.x), int(48 - pivot.y)
    solid = picture[..., 3] == 255
    rows, columns = np.nonzero(solid)
    inside = (rows + y >= 0) & (rows + y < 80) & (columns + x >= 0) & (columns + x < 96)
    at = rows[inside] + y, columns[inside] + x
    np.testing.assert_array_equal(drawn[at], picture[rows[inside], columns[inside]])


def posed_props(project: Project, count: int) -> tuple[Prop, ...]:
    """Props of several pieces, one with borders, each in a pose of its own."""
    chance = random.Random(7)
    pieces = [number(project, "boulder"), *list(bordered(project))[:1]]
    factors = (0.4, 0.5, 1, 1.5, 2, 3.7)
    return tuple(
        Prop(
            chance.choice(pieces),
            chance.uniform(0, 150),
            chance.randint(0, 90),
            chance.randrange(8),
            across=chance.choice(factors),
            down=chance.choice(factors),
            angle=chance.choice((0, -30, 45, 90, 200, -359)),
            tint=chance.choice((None, Colour(200, 90, 255))),
            opacity=chance.choice((1.0, 0.3, 0.7)),
        )
        for _ in range(count)
    )


def bordered(project: Project) -> Iterator[int]:
    return (piece.number for _, piece in project.pieces() if piece.borders)


@pytest.mark.slow
def test_a_stranger_draws_tints_poses_variants_and_depth_alike(
    project: Project, tmp_path: Path
) -> None:
    art = Art(DEMO)
    assert list(bordered(project))
    project, made = add_variant(project, "fen_above", (), Recolouring(150, -30, 10))
    recoloured = next(p.number for p in made.pieces if p.name == "boulder")

    def edit(level: Level) -> Level:
        props = tuple(Prop(recoloured, 40 + 9 * turn, 60 - 3 * turn, turn) for turn in range(8))
        first = replace(level.layers[0], tint=Colour(255, 200, 180))
        things = Layer("Things", props=props, opacity=0.7, tint=Colour(120, 255, 255), group="near")
        posed = replace(things, name="Posed", props=posed_props(project, 14))
        row = Layer("Row", props=posed_props(project, 2), repeated=True, repeated_down=True)
        return replace(level, layers=(first, *level.layers[1:], things, posed, row))

    project = with_level(project, "Heron pool", edit)
    for recipe in (Recipe("Game", trimmed=True), Recipe("Up", True, "units", turned=True)):
        folder = tmp_path / recipe.name
        write_bundle(make_bundle(project, art, recipe), folder)
        out = tmp_path / f"{recipe.name}.png"
        command = [sys.executable, str(ROOT / "examples" / "read_bundle.py"), str(folder)]
        command += ["--level", "Heron pool", "--area", "0", "0", "160", "100", "--out", str(out)]
        subprocess.run(command, check=True, env={"PATH": ""})
        expected = Scene(project, art).level(project.level("Heron pool"), Rect(0, 0, 160, 100))
        np.testing.assert_array_equal(read_picture(out), expected)


def test_the_walker_shows_the_animation_of_its_state_or_the_nearest(project: Project) -> None:
    sheet, walker = project.cast("keeper"), project.walker
    assert sheet is not None
    stands, moves = Motion(0, 0, on=1), Motion(0, 0, 64.0, on=1)
    rises = Motion(0, 0, 0.0, -50.0)

    def shown(walker: Walker, motion: Motion, side: bool = True) -> str:
        animation = shown_animation(sheet, walker, motion, side)
        assert animation is not None
        return animation.name

    assert [shown(walker, m) for m in (stands, moves, rises)] == ["idle", "walk", "idle"]
    chosen = replace(walker, states=replace(walker.states, rise="raise", up="sit", move="no such"))
    assert shown(chosen, rises) == "raise" and shown(chosen, moves) == "idle"
    away = Motion(0, 0, 0.0, -64.0, facing_down=-1)
    assert shown(chosen, away, side=False) == "sit"
    landing = project.cast("landing")
    assert landing is not None and shown_animation(landing, walker, stands, True) is None


MOTIONS = ("walk", "run", "", "idle", "climb")
LOOKS = [("left", -1), ("W", -1), ("right", 1), ("east", 1), ("", 0)]


@given(
    st.sets(st.tuples(st.sampled_from(MOTIONS), st.sampled_from(LOOKS)), min_size=1),
    st.sampled_from(["right", "left"]),
)
def test_a_walker_never_walks_backwards(
    kinds: set[tuple[str, tuple[str, int]]], faces: Literal["right", "left"]
) -> None:
    """Whatever its animations are called: what is drawn of it looks the way it goes, and it is
    turned only where nothing looks that way by itself."""
    walker = Walker(figure="elf", faces=faces)
    drawn = 1 if faces == "right" else -1
    names = {f"{kind}_{look}".strip("_"): way or drawn for kind, (look, way) in kinds}
    names.pop("", None)
    animations = tuple(Animation(name, (n,), 8.0) for n, name in enumerate(names, 1))
    sheet = cast_of([Sheet("elf", (), animations=animations)], (), "elf")
    assert sheet is not None
    for facing in (-1, 1):
        moves = Motion(0, 0, 64.0 * facing, on=1, facing=facing)
        shown = shown_animation(sheet, walker, moves, True)
        if shown is None:
            assert not names
            continue
        assert names[shown.name] * (-1 if is_flipped(shown, moves, walker) else 1) == facing
        alike = {name for name in names if _without_way(name) == _without_way(shown.name)}
        if any(names[name] == facing for name in alike):
            assert not is_flipped(shown, moves, walker)


def _without_way(name: str) -> str:
    return "_".join(word for word in name.split("_") if word not in dict(LOOKS))


@given(st.integers(-6, 6))
def test_feet_beside_the_ground_are_found_and_mended(apart: int) -> None:
    project, art = files.load(DEMO), Art(DEMO)
    keeper = project.sheet("keeper")
    assert not list(feet_beside_the_ground(project, art))
    moved = tuple(replace(p, pivot=Point(p.pivot.x, p.pivot.y + apart)) for p in keeper.pieces)
    project = with_sheet(project, "keeper", lambda sheet: replace(sheet, pieces=moved))
    project = replace(project, walker=replace(project.walker, figure="keeper"))
    found = list(feet_beside_the_ground(project, art))
    assert bool(found) is bool(apart)
    for finding in found:
        assert f"{abs(apart)} px {'above' if apart > 0 else 'deep'}" in finding.what
        assert finding.mend is not None
        assert not list(feet_beside_the_ground(finding.mend(project), art))


KINDS = ["sky", "solid", "grass", "hidden", "looked at", "backdrop", "far"]
"""Of these layers one alone stops whoever walks."""


@given(st.lists(st.sampled_from(KINDS), max_size=6))
def test_the_walker_stands_before_the_frontmost_layer_that_stops(kinds: list[str]) -> None:
    project = files.load(DEMO)
    mud, tuft = (number(project, name, "fen_ground") for name in ("mud", "tuft"))

    def layer(place: int, kind: str) -> Layer:
        piece = tuft if kind in ("sky", "grass") else mud
        made = Layer(f"{kind} {place}", Cells().painted({(0, 0): (piece, 0)}))
        return replace(
            made,
            visible=kind != "hidden",
            solid=kind != "looked at",
            parallax=0.5 if kind == "far" else 1.0,
            repeated=kind == "backdrop",
        )

    layers = tuple(layer(place, kind) for place, kind in enumerate(kinds))
    level = Level("fen", layers or (Layer("Ground"),), start=Point(8, 16))
    project = replace(project, levels=(level,), walker=replace(project.walker, figure=""))
    front = front_of_walker(project, level)
    solid = [place for place, kind in enumerate(kinds) if kind == "solid"]
    assert front == (solid[-1] + 1 if solid else len(level.layers))
    assert front_of_walker(project, replace(level, view="top-down")) == len(level.layers)


def test_what_lies_before_the_walker_covers_it_be_it_plain_or_not() -> None:
    project = files.load(DEMO)
    mud = number(project, "mud", "fen_ground")
    ground = Layer("Ground", Cells().painted({(x, 2): (mud, 0) for x in range(8)}))
    reeds = Layer("Reeds", Cells().painted({(x, 1): (mud, 0) for x in range(4)}), solid=False)
    level = Level("fen", (ground, reeds), start=Point(24, 32))
    for sheet in ("", project.walker.figure or "keeper"):
        own = replace(project, levels=(level,), walker=replace(project.walker, figure=sheet))
        scene = Scene(own, Art(DEMO))
        shown = {}
        for x in (24, 104):
            at = Ground(own, "fen")
            motion = replace(at.begin(), x=float(x), y=32.0)
            view = Rect(0, 0, 128, 48)
            plain = scene.level(level, view)
            differs = (picture_with_walker(scene, at, motion, view) != plain).any(axis=2)
            shown[x] = differs[16:32].any()
        assert shown == {24: False, 104: True}, "the row of reeds hides who stands behind"


def test_a_picture_with_the_walker_differs_from_one_without_only_where_it_stands(
    project: Project,
) -> None:
    scene = Scene(project, Art(DEMO))
    for level in project.levels:
        ground = Ground(project, level.name)
        motion = replay(ground, [Keys(right=True)] * 20)[-1]
        view = view_around(Point(motion.x, motion.y), project.rules.resolution)
        shown = picture_with_walker(scene, ground, motion, view)
        bodies = {
            spot: (motion.bodies[number].x, motion.bodies[number].y, motion.bodies[number].angle)
            for spot, number in ground.moving.props.items()
        }
        plain = scene.level(level, view, Moment(motion.steps * STEP, bodies))
        rows, columns = np.nonzero((shown != plain).any(axis=2))
        found = project.find(walker_frame(ground, motion))
        assert found is not None and len(rows)
        width, height = found[1].rect.size
        assert abs(columns - (motion.x - view.x)).max() <= width
        assert rows.max() <= motion.y - view.y + 1 and rows.min() >= motion.y - view.y - height
