"""One catalogue of samples, with the empty and degenerate ones."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import strategies as st
from PIL import Image

from rushweed.core.gauge.treating import check_point
from rushweed.core.project import body
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem, HemTile, Mix, Patch
from rushweed.core.project.facts import Current, Facts, GroundKind, Note
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Differences, GroundRules, Treatment
from rushweed.core.project.shape import Box, Circle, Polygon, Shape
from rushweed.core.project.sheet import (
    Animation,
    Belonging,
    ColourKey,
    EvenCells,
    Licence,
    LoosePieces,
    Missing,
    OnePicture,
    Piece,
    Sheet,
    Source,
)
from rushweed.core.values import Colour, Point, Rect, Size
from rushweed.core.walk.floors import Cell, level_cells
from rushweed.core.walk.probes import standing_cells
from rushweed.core.walk.reaching import reaching
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.painting import Brush, fill_area, laid

side = st.integers(1, 64)
place = st.builds(Point, st.integers(-20, 80), st.integers(-20, 80))
names = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cs", "Cc")), min_size=1, max_size=12
)
colours = st.builds(Colour, *[st.integers(0, 255)] * 4)
sizes = st.builds(Size, side, side)
even_cells = st.builds(EvenCells, sizes, sizes, sizes)
layouts = st.one_of(
    st.none(),
    even_cells,
    st.builds(LoosePieces, st.integers(1, 9), st.integers(1, 9), within=st.none() | even_cells),
    st.just(OnePicture()),
)
SQUARE = (Point(0, 0), Point(0, 8), Point(8, 8), Point(8, 0))
shapes = st.builds(
    Shape,
    st.one_of(
        st.builds(Box, side, side, side, side),
        st.just(Polygon((Point(16, 0), Point(0, 16), Point(16, 16)))),
        st.just(Polygon(SQUARE, (tuple(Point(x / 2 + 1, y / 2 + 1) for x, y in SQUARE[::-1]),))),
        st.builds(Circle, side, side, side),
    ),
    st.sampled_from(["all sides", "one-way", "sensor"]),
)
cells = st.dictionaries(
    st.tuples(st.integers(-70, 70), st.integers(-70, 70)),
    st.tuples(st.integers(0, 9), st.integers(0, 7)),
    max_size=12,
).map(lambda changes: Cells().painted(changes))


facts = st.builds(
    Facts,
    st.sampled_from([("left", "above"), ()]),
    st.integers(0, 4),
    st.integers(0, 9),
    st.booleans(),
    st.one_of(st.none(), st.integers(0, 65535)),
    st.sampled_from([(), (Note("sound", "splash"), Note("depth", "2.5", "number"))]),
    st.sampled_from(["walks", "climbs", "swims"]),
    st.builds(Current, st.floats(-100, 100), st.integers(-100, 100).map(float)),
)
TRAVELS = body.Body("travels", body.Path((Point(3, 4),), 2.5))
CRAB = Prop(1, 2.5, -3, 5, "idle", "crab", "beach", TRAVELS)


@st.composite
def sheets(draw: st.DrawFn, name: str, first: int) -> Sheet:
    rects = draw(st.lists(st.builds(Rect, side, side, side, side), max_size=4))
    pieces = tuple(
        Piece(
            first + index,
            rect,
            draw(place),
            draw(st.sampled_from(["", "reed", "Laterne ü"])),
            shapes=draw(st.one_of(st.none(), st.lists(shapes, max_size=2).map(tuple))),
            by_hand=draw(st.booleans()),
            facts=draw(facts),
        )
        for index, rect in enumerate(rects)
    )
    numbers = tuple(piece.number for piece in pieces)
    return Sheet(
        name,
        (Source(f"art/{first}.png", "0" * 64, draw(sizes)),),
        draw(st.sampled_from(["picture", "sheet", "tileset", "loose"])),
        draw(st.sampled_from([None, Belonging("density", "reed", 2)])),
        Licence(draw(st.sampled_from(["", "CC0-1.0"])), draw(st.text(max_size=5))),
        draw(st.one_of(st.none(), st.builds(ColourKey, colours, st.integers(0, 255)))),
        1,
        draw(st.integers(0, 7)),
        draw(st.integers(1, 3)),
        draw(layouts),
        tuple(draw(st.lists(st.builds(Rect, side, side, side, side), max_size=1))),
        pieces,
        tuple(Missing(replace(piece, number=piece.number + 5), "0f" * 16) for piece in pieces[:1]),
        tuple(replace(piece, number=piece.number + 7) for piece in pieces[:1]),
        (Animation("idle", numbers, 7.5, "once"),) if numbers else (),
        "Crisp pixels",
        draw(st.sampled_from([Differences(), Differences(8, "linear")])),
        decided=draw(st.sampled_from([(), ("kind", "colour key")])),
    )


@st.composite
def projects(draw: st.DrawFn) -> Project:
    titles = draw(st.lists(names, max_size=3, unique=True))
    made = tuple(draw(sheets(title, 1 + 10 * i)) for i, title in enumerate(titles))
    levels = tuple(
        Level(
            title,
            (
                Layer("Ground", draw(cells), opacity=draw(st.sampled_from([1.0, 0.35]))),
                Layer(
                    "Props",
                    props=(CRAB,),
                    parallax=0.25,
                    repeated=True,
                    repeated_down=draw(st.booleans()),
                ),
            ),
            draw(st.one_of(st.none(), place)),
        )
        for title in draw(st.lists(names, max_size=2, unique=True))
    )
    rules = GroundRules(
        draw(st.integers(1, 64)),
        chosen=draw(st.booleans()),
        y_up=draw(st.booleans()),
        kinds=(GroundKind(7, "mud", "M"),),
    )
    treatments = (Treatment("Crisp pixels"), Treatment("Fen", 12, "linear"))
    drawn_with: dict[str, Any] = {
        "hems": (Hem("shore", (HemTile(3, 16), HemTile(4, 511, 3)), "corners", True, ("bank",)),),
        "patches": (Patch("bed", (((3, 0), (0, 0)), ((4, 5), (3, 1)))),),
        "mixes": (Mix("grass", ((3, 1), (4, 2))),),
    }
    return Project(
        "Fen", rules, treatments, sheets=made, levels=levels, next_number=99, **drawn_with
    )


def checkered(width: int, height: int, seed: int = 1) -> np.ndarray:
    """A picture of shape (height, width, 4) in which no two neighbours are alike."""
    draw = np.random.default_rng(seed)
    picture = draw.integers(0, 255, (height, width, 4), dtype=np.uint8)
    picture[..., 3] = 255
    return picture


def write_picture(path: Path, picture: np.ndarray) -> Path:
    Image.fromarray(picture).save(path)
    return path


def filling(cells: Cells, brush: Brush, start: Key, *more: Any, **named: Any) -> Cells:
    """Cells with the brush laid on all that hangs together with one."""
    return laid(cells, brush, *fill_area(cells, start, *more, **named), start)


def with_shared_point(project: Project, name: str, point: str, value: Any) -> Project:
    """One treatment changed in one point, and with it all sheets that share it there."""
    check_point(point, value)
    return replace(
        project,
        treatments=tuple(
            replace(one, **{point: value}) if one.name == name else one
            for one in project.treatments
        ),
    )


def reached_cells(ground: Ground) -> frozenset[Cell]:
    """The cells that a walker can stand in, from the level's start."""
    standing = standing_cells(ground)
    *_, found = reaching(ground, standing, level_cells(ground, standing))
    return found
