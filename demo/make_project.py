"""Makes `demo/lanternfen/`, the finished project, out of `demo/raw/` with the program's own verbs."""

from __future__ import annotations

import shutil
import sys
from dataclasses import replace
from functools import partial
from pathlib import Path

from drawing import above, heron, keeper, landing, rooms, tileset
from levels import heron_pool, long_boardwalk, sluice_house
from shapes import KINDS, TILE_BODIES, TILE_FACTS, TILE_SHAPES

from rushweed.core.bound.shaping import set_shapes
from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.gathering import cut_as, gather
from rushweed.core.cut.naming import name_pieces
from rushweed.core.gather.art import Art
from rushweed.core.gather.relatives import join_relative
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.sources import set_licence
from rushweed.core.gauge.borders import guess_borders, set_borders
from rushweed.core.gauge.pivots import set_anchor, set_pivot
from rushweed.core.project import files
from rushweed.core.project.body import Body
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, with_pieces, with_sheet
from rushweed.core.project.rules import GroundRules, Walker
from rushweed.core.project.sheet import (
    Belonging,
    EvenCells,
    Kind,
    Layout,
    LoosePieces,
    OnePicture,
    Sheet,
)
from rushweed.core.values import Colour, Size

HERE = Path(__file__).parent
RAW, DONE = HERE / "raw", HERE / "lanternfen"

SHEETS: dict[str, tuple[Kind, Layout]] = {
    "fen_ground": ("tileset", EvenCells(Size(16, 16), Size(2, 2), Size(1, 1))),
    "keeper": ("sheet", EvenCells(Size(19, 24))),
    "heron": ("sheet", EvenCells(Size(24, 32))),
    "crab": ("sheet", EvenCells(Size(16, 12), gap=Size(1, 0))),
    "eel": ("loose", LoosePieces()),
    "landing": ("loose", LoosePieces(distance=3)),
    "wheel": ("sheet", EvenCells(Size(32, 32))),
    "fen_water": ("sheet", EvenCells(Size(16, 16))),
    "fen_above": ("tileset", EvenCells(Size(16, 16))),
    "sluice_rooms": ("tileset", EvenCells(Size(16, 16))),
    "front_reeds": ("loose", LoosePieces(distance=3)),
    "high_sky": ("picture", OnePicture()),
    "low_sun": ("picture", OnePicture()),
    "far_fen": ("picture", OnePicture()),
    "near_fen": ("picture", OnePicture()),
    "lamp_glow": ("picture", OnePicture()),
    "dusk_sky": ("picture", OnePicture()),
    "ledger": ("picture", OnePicture()),
}
RATES = {"idle": 5, "walk": 10, "raise": 8, "sit": 3, "stand": 2, "fly": 6}


def main(folder: Path = DONE) -> None:
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir()
    art = Art(folder)
    project = begin()
    for name, (kind, layout) in SHEETS.items():
        project = bring_in(project, art, name, kind, layout)
    project = name_everything(project)
    project = animate(project)
    project = bound(project)
    project = light_and_stretch(project, art)
    for build in (long_boardwalk, sluice_house, heron_pool):
        project = replace(project, levels=(*project.levels, build(project)))
    files.save(project, folder)
    shutil.rmtree(folder / ".rushweed", ignore_errors=True)


def begin() -> Project:
    rules = GroundRules(background=Colour(35, 32, 53), kinds=KINDS)
    return Project("Lanternfen", rules=rules, walker=Walker(figure="keeper"))


def bring_in(project: Project, art: Art, name: str, kind: Kind, layout: Layout) -> Project:
    """Gather one picture, and cut it as its artist meant it, whatever is seen in it."""
    path = RAW / name if (RAW / name).is_dir() else RAW / f"{name}.png"
    project, _ = gather(project, art, expand([path])[0])
    project = cut_as(project, art, name, layout)
    project = with_sheet(project, name, lambda sheet: replace(sheet, kind=kind))
    return set_licence(
        project, (name,), identifier="CC0-1.0", author="Rushweed", source="drawn for Lanternfen"
    )


def name_everything(project: Project) -> Project:
    named = {
        "fen_ground": [name for name, _ in tileset.tiles()],
        "fen_above": [name for name, _ in above.tiles()],
        "sluice_rooms": list(rooms.NAMES),
        "keeper": [f"{n}_{i + 1}" for n, frames in keeper.rows() for i in range(len(frames))],
        "heron": [f"heron_{n}_{i + 1}" for n, frames in heron.rows() for i in range(len(frames))],
    }
    for sheet, names in named.items():
        pieces = project.sheet(sheet).pieces
        project = name_pieces(
            project, {p.number: name for p, name in zip(pieces, names, strict=False)}
        )
    return name_pieces(project, landing_names(project.sheet("landing")))


def landing_names(sheet: Sheet) -> dict[int, str]:
    """Loose pieces by the thing that lies where they were cut."""
    return {
        piece.number: name
        for piece in sheet.pieces
        for name, thing, x, y in landing.things()
        if piece.rect.contains(x + thing.width / 2, y + thing.height / 2)
    }


def animate(project: Project) -> Project:
    for sheet, rows in (("keeper", keeper.rows()), ("heron", heron.rows())):
        numbers = [piece.number for piece in project.sheet(sheet).pieces]
        for name, frames in rows:
            project = set_animation(project, sheet, name, numbers[: len(frames)], RATES[name])
            numbers = numbers[len(frames) :]
    whole = {
        "crab": ("snap", 3),
        "eel": ("swim", 6),
        "fen_water": ("lap", 4),
    }
    for sheet, (name, rate) in whole.items():
        numbers = [piece.number for piece in project.sheet(sheet).pieces]
        project = set_animation(project, sheet, name, numbers, rate)
    return project


def light_and_stretch(project: Project, art: Art) -> Project:
    """The ground has a normal map, and the ledger stretches between its corners."""
    project, name = gather(project, art, [RAW / "fen_ground_normal.png"])
    project = join_relative(project, name, Belonging("normal map", "fen_ground"))
    [ledger] = project.sheet("ledger").pieces
    borders = guess_borders(art.piece(project.sheet("ledger"), ledger))
    return set_borders(project, frozenset({ledger.number}), borders)


def bound(project: Project) -> Project:
    """Give every tile its shapes and facts; what has no shape lets everybody pass."""
    for sheet in project.sheets:
        for piece in sheet.pieces:
            shapes = TILE_SHAPES.get(piece.name, ()) if sheet.kind == "tileset" else ()
            one = frozenset({piece.number})
            project = set_shapes(project, one, shapes)
            facts = TILE_FACTS.get(piece.name, Facts()) if sheet.kind == "tileset" else Facts()
            body = TILE_BODIES.get(piece.name, Body())
            project = with_pieces(project, one, partial(replace, facts=facts, body=body))
    for name in ("wheel", "lamp_glow"):
        numbers = frozenset(piece.number for piece in project.sheet(name).pieces)
        project = set_anchor(project, numbers, "Centre")
    post = next(p.number for p in project.sheet("landing").pieces if p.name == "lamp_post")
    return set_pivot(project, frozenset({post}), x=3)


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:]))
