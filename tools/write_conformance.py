"""Writes `examples/conformance/`: small bundles with the pictures that readers should draw.

Whoever writes a reader of bundles runs it on each of them: a part of a level, after so many
seconds, comes out as `expected.png`, pixel for pixel.
"""

from __future__ import annotations

import json
import shutil
import sys
from dataclasses import replace
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.bale.bundle import make_bundle  # noqa: E402
from rushweed.core.gather.art import Art  # noqa: E402
from rushweed.core.gather.pictures import Picture, encode_png  # noqa: E402
from rushweed.core.gauge.treating import set_pixels_per_unit  # noqa: E402
from rushweed.core.project import files  # noqa: E402
from rushweed.core.project.cells import Cells  # noqa: E402
from rushweed.core.project.facts import Note  # noqa: E402
from rushweed.core.project.level import Layer, Level, Mark, Prop  # noqa: E402
from rushweed.core.project.project import Project, with_sheet  # noqa: E402
from rushweed.core.project.rules import Recipe  # noqa: E402
from rushweed.core.project.sheet import Sheet  # noqa: E402
from rushweed.core.values import Colour, Point, Rect  # noqa: E402
from rushweed.core.weave.drawing import Moment, Scene  # noqa: E402

PLACE = ROOT / "examples" / "conformance"
DEMO = ROOT / "demo" / "lanternfen"
LEVEL = "Pool"
ABOVE = "Pool from above"
AREA = Rect(-8, -8, 176, 120)
SECONDS = 1.5
RECIPES = {
    "plain": Recipe("Plain", only_levels=(LEVEL,)),
    "y up in units": Recipe("Up", True, "units", trimmed=True, turned=True, only_levels=(LEVEL,)),
    "levels apart, lasting names": Recipe(
        "Apart", levels_apart=True, lasting=True, grids=True, only_levels=(LEVEL,)
    ),
    "one file, plain rows": Recipe(
        "One file", rows="plain", single_file=True, only_levels=(LEVEL,)
    ),
    "chunks, packed cells": Recipe("Chunks", rows="packed", chunk=4, only_levels=(LEVEL,)),
    "chunks, runs": Recipe("Runs", chunk=4, only_levels=(LEVEL,)),
    "from above, y up in units": Recipe("Above", True, "units", only_levels=(ABOVE,)),
}
ABOUT = """# Bundles to try a reader on

Written by `tools/write_conformance.py`. Each folder holds a bundle and `expected.png`: the part
`area` (x, y, width, height in pixels, y down) of a `level` after `seconds`, as `asked.json` says,
drawn as [bundle.md](../../docs/format/bundle.md) tells. The level has cells that are turned,
mirrored and animated, tiles that reach into other cells and chunks, a layer that moves with the
view and is repeated across and down, tints and opacities, and props that are larger, turned by
degrees, and animated. A unit is no round number of pixels, and some
pieces are drawn with other ones than the level.

{cases}
"""


def pool() -> Project:
    """The demo's art with one small level in which all happens that a reader has to know, seen from
    the side and from above."""
    project = with_odd_units(files.load(DEMO))
    ground = [piece.number for piece in project.sheet("fen_ground").pieces]
    water = project.sheet("fen_water").pieces[0].number
    bird, wheel = project.sheet("heron"), project.sheet("wheel").pieces[0].number
    spots = {(x, 6): (ground[1 + x % 5], x % 8) for x in range(10)}
    spots |= {
        (3, 3): (wheel, 0),
        (4, 2): (ground[3], 0),
        (2, 4): (wheel, 5),
        (1, 5): (ground[4], 0),
    }
    pond = {(x, 5): (water, 0) for x in range(4, 9)}
    grey, blue = Colour(200, 190, 170), Colour(120, 160, 255)
    props = (
        Prop(bird.pieces[0].number, 40, 84, animation=bird.animations[0].name, name="guide"),
        Prop(bird.pieces[0].number, 72, 84, animation=bird.animations[0].name, phase=0.37),
        Prop(wheel, 88, 64, across=1.5, down=2.0, angle=30, tint=grey),
        Prop(wheel, 128, 60, orientation=5, opacity=0.4, notes=(Note("turns", "2", "number"),)),
        Prop(wheel, 119.625, 52.375, orientation=6),
    )
    far = Layer(
        "Far",
        props=(Prop(ground[2], 9, 20, across=0.5, down=0.5),),
        parallax=0.5,
        repeated=True,
        repeated_down=True,
        tint=blue,
        opacity=0.6,
    )
    layers = (
        far,
        Layer("Water", Cells().painted(pond), opacity=0.8),
        Layer("Ground", Cells().painted(spots), notes=(Note("walked", "yes", "yes or no"),)),
        Layer("Things", props=props),
    )
    marks = (Mark("landing", 60, 90, (Note("says", "mind the step"),)),)
    level = Level(LEVEL, layers, Point(24, 96), background=Colour(24, 28, 44), marks=marks)
    return replace(project, levels=(level, replace(level, name=ABOVE, view="top-down")))


def with_odd_units(project: Project) -> Project:
    """A project with 7 pixels to a unit in its levels and in most of its pieces, with a figure and
    a thing that have others, and with two animations that begin with the same tile."""

    def more(water: Sheet) -> Sheet:
        slow = replace(water.animations[0], name="slow", rate=0.5)
        return replace(water, animations=(*water.animations, slow))

    project = with_sheet(project, "fen_water", more)
    treatments = tuple(replace(one, pixels_per_unit=7) for one in project.treatments)
    for name, own in (("heron", 9), ("wheel", 5)):
        project = set_pixels_per_unit(project, (name,), own)
    rules = replace(project.rules, pixels_per_unit=7)
    return replace(project, rules=rules, treatments=treatments)


def expected(project: Project, level: str) -> Picture:
    """What is to be drawn of a level."""
    scene = Scene(project, Art(DEMO))
    return scene.level(project.level(level), AREA, Moment(SECONDS))


def main() -> None:
    project, art = pool(), Art(DEMO)
    shutil.rmtree(PLACE, ignore_errors=True)
    for name, recipe in RECIPES.items():
        folder = PLACE / name.replace(",", "").replace(" ", "-")
        folder.mkdir(parents=True)
        [level] = recipe.only_levels
        picture = encode_png(expected(project, level))
        asked = {"level": level, "area": AREA, "seconds": SECONDS}
        for file, data in make_bundle(project, art, recipe).files.items():
            (folder / file).parent.mkdir(parents=True, exist_ok=True)
            (folder / file).write_bytes(data)
        (folder / "expected.png").write_bytes(picture)
        (folder / "asked.json").write_text(json.dumps(asked) + "\n", encoding="utf-8")
    cases = "\n".join(f"- {name}" for name in RECIPES)
    (PLACE / "README.md").write_text(ABOUT.format(cases=cases), encoding="utf-8")


if __name__ == "__main__":
    main()
