"""How soon what was changed is in a bundle that is kept fresh."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import Result, seconds, slow_end

from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture, content_hash, encode_png
from rushweed.core.project import files
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, with_pieces, with_sheet
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import EvenCells, Sheet
from rushweed.core.values import Size

SIDE, CELL, ROUNDS = 1024, 32, 20


def measure(folder: Path) -> list[Result]:
    """Both, in a project of the demo's that may be written into."""
    project, art, recipe = files.load(folder), Art(folder), Recipe("Game")
    fresh = FreshBundle()
    fresh.follow(project, art, recipe)
    number = frozenset([project.sheet("fen_ground").pieces[0].number])
    facts = []
    for wade in range(ROUNDS):
        changed = with_pieces(
            project, number, lambda piece, wade=wade: replace(piece, facts=Facts(wade=wade))
        )
        facts.append(seconds(lambda changed=changed: fresh.follow(changed, art, recipe)))
    picture = _drawn()
    project, name = _with_sheet(project, art, picture)
    fresh.follow(project, art, recipe)
    sheets = []
    for place in range(ROUNDS):
        edited = picture.copy()
        edited[CELL : 2 * CELL, place * CELL : (place + 1) * CELL, :3] ^= 255
        project = _saved(project, folder, name, edited)
        sheets.append(seconds(lambda changed=project: fresh.follow(changed, art, recipe)))
    return [
        slow_end("A changed fact in the demo's bundle that is kept fresh", facts, 150),
        slow_end("A changed sheet of 1024 × 1024 px, 1024 pieces, there", sheets, 300),
    ]


def _drawn() -> Picture:
    """A sheet of figures in few colours, no two alike."""
    draw = np.random.default_rng(3)
    colours = draw.integers(0, 255, (24, 4), np.uint8)
    colours[:, 3] = 255
    picture = np.zeros((SIDE, SIDE, 4), np.uint8)
    for top in range(0, SIDE, CELL):
        for left in range(0, SIDE, CELL):
            height, width = draw.integers(10, CELL - 2, 2)
            small = colours[draw.integers(0, 24, (height // 3 + 1, width // 3 + 1))]
            figure = small.repeat(3, 0).repeat(3, 1)[:height, :width]
            picture[top + 1 : top + 1 + height, left + 1 : left + 1 + width] = figure
    return picture


def _with_sheet(project: Project, art: Art, picture: Picture) -> tuple[Project, str]:
    path = art.folder / "figures.png"
    path.write_bytes(encode_png(picture))
    project, name = gather(project, art, [path])
    layout = EvenCells(Size(CELL, CELL))
    return cut(project, name, layout, picture[..., 3] > 0), name


def _saved(project: Project, folder: Path, name: str, picture: Picture) -> Project:
    """The project once another program saved a sheet's picture."""
    data = encode_png(picture)

    def take(sheet: Sheet) -> Sheet:
        source = replace(sheet.sources[0], content=content_hash(data))
        (folder / source.path).write_bytes(data)
        return replace(sheet, sources=(source,))

    return with_sheet(project, name, take)
