"""Lays figures over each other that were cropped in known ways, and writes docs/stands.md.

    python tools/measure_stands.py [--figures N] [--real PICTURES TRUTH SHEETS]

PICTURES is a folder of real sheets, TRUTH a JSON file that says how each is laid out and of what
game it is, SHEETS one that lists those that show creatures. Each row of such a sheet is handed out
as two folders, its first half and its second.
"""

from __future__ import annotations

import argparse
import json
import sys
import tempfile
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.cut.common_stand import lay_over_each_other  # noqa: E402
from rushweed.core.cut.gathering import by_best_guesses  # noqa: E402
from rushweed.core.gather.art import Art  # noqa: E402
from rushweed.core.gather.pictures import Picture, read_picture  # noqa: E402
from rushweed.core.gather.sequences import expand  # noqa: E402
from rushweed.core.project.project import Project  # noqa: E402
from tools.corpus.trees import CROPS, Crop, draw_figure, write_tree  # noqa: E402

NEAR = 1
LEAST_SHOWN = 20
"""A cell in which fewer pixels are drawn counts as empty."""
Frames = dict[str, list[Picture]]

HEAD = """# Whether a figure's sheets come to lie over each other

Written by `tools/measure_stands.py`. A figure is handed out as a folder for each animation, its
frames cropped in one of three ways; it is gathered, cut and laid over each other
(`core/cut/common_stand.py`), and where each frame then lies is compared with the canvas it was
drawn on. A folder is right where none of its frames is off by more than a pixel, seen from where
most frames of the figure lie. A folder is sure where no doubt is shown.

| figures | cropped | folders | right before | right | sure | right of these |
| --- | --- | --- | --- | --- | --- | --- |
"""
FOOT = """
The generated creatures sway, run and strike with something long; real ones are rows of sheets by
many hands, each parted in two. Their canvas is no perfect measure: many bob and lean on purpose,
and what is cropped alone cannot tell a bob from a crop. What is cropped frame by frame is put on
one line of feet, so that a leap that is not called one is lost.
"""


class Told(NamedTuple):
    """What became of one folder."""

    before: bool
    right: bool
    sure: bool


def laid(figure: Frames, crop: Crop) -> Iterator[Told]:
    """Hand a figure out, gather it, lay it over each other, and compare."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        corners = write_tree(folder / "figure", figure, crop)
        art = Art(folder)
        project = by_best_guesses(Project(), art, expand([folder / "figure"]))
        sheets = {name: f"figure {name}" for name in corners}
        known = {sheet.name: len(sheet.pieces) for sheet in project.sheets}
        if any(known.get(sheets[name]) != len(places) for name, places in corners.items()):
            return
        before = wandered(project, sheets, corners)
        outcome = lay_over_each_other(project, art, [*sheets.values()])
        after = wandered(outcome.project, sheets, corners)
        sure = {one.sheet: one.is_sure for one in outcome.made}
        for name, sheet in sheets.items():
            yield Told(before[name] <= NEAR, after[name] <= NEAR, sure[sheet])


def wandered(
    project: Project, sheets: dict[str, str], corners: dict[str, list[tuple[int, int]]]
) -> dict[str, float]:
    """By how many pixels the canvas of any frame of each folder lies away from where most do."""
    origins = {
        name: np.array(
            [
                (-piece.standing.x - left, -piece.standing.y - top)
                for piece, (left, top) in zip(
                    project.sheet(sheets[name]).pieces, places, strict=True
                )
            ]
        )
        for name, places in corners.items()
    }
    middle = np.median(np.concatenate([*origins.values()]), axis=0)
    return {name: float(np.abs(places - middle).max()) for name, places in origins.items()}


def real_figures(pictures: Path, truth: Path, sheets: Path) -> Iterator[tuple[str, Frames]]:
    """Rows of real sheets as two animations each, with the game that they are of."""
    known = json.loads(truth.read_text())["images"]
    for name in json.loads(sheets.read_text()):
        if name in known:
            for row in rows_of(read_picture(pictures / name), known[name]["grid"]):
                half = len(row) // 2
                yield known[name]["game"], {"first": row[:half], "second": row[half:]}


def rows_of(picture: Picture, grid: dict[str, int]) -> Iterator[list[Picture]]:
    """The cells of each row that show something, where there are four or more."""
    wide, tall = grid["tile_w"], grid["tile_h"]
    columns, rows = grid["columns"], grid["rows"]
    lines = [range(columns)] * rows
    if columns == 1:
        columns, rows, lines = rows, columns, [range(rows)]
    for line, cells in enumerate(lines):
        found = []
        for cell in cells:
            x, y = (cell, line) if grid["columns"] > 1 else (line, cell)
            left = grid["margin_x"] + x * (wide + grid["spacing_x"])
            top = grid["margin_y"] + y * (tall + grid["spacing_y"])
            part = picture[top : top + tall, left : left + wide]
            if np.count_nonzero(part[..., 3]) > LEAST_SHOWN:
                found.append(part)
        if len(found) >= 4:
            yield found


def line_of(figures: str, crop: Crop, told: dict[str, list[Told]]) -> str:
    """A line of the table: each game counts alike."""

    def share(of: dict[str, list[bool]]) -> str:
        means = [np.mean(ones) for ones in of.values() if ones]
        return f"{100 * np.mean(means):.1f} %" if means else "none"

    columns = [
        share({name: [getattr(one, field) for one in ones] for name, ones in told.items()})
        for field in Told._fields
    ]
    sure = share({name: [one.right for one in ones if one.sure] for name, ones in told.items()})
    count = sum(map(len, told.values()))
    return f"| {figures} | {crop} | {count} | {' | '.join(columns)} | {sure} |\n"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--figures", type=int, default=100)
    parser.add_argument("--real", nargs=3, type=Path, action="append", default=[])
    asked = parser.parse_args()
    text = HEAD
    for crop in CROPS:
        told: dict[str, list[Told]] = defaultdict(list)
        for seed in range(asked.figures):
            told[""].extend(laid(draw_figure(seed), crop))
        text += line_of("generated", crop, told)
        told = defaultdict(list)
        for real in asked.real:
            for game, figure in real_figures(*real):
                told[game].extend(laid(figure, crop))
        if told:
            text += line_of("real", crop, told)
        print(text.splitlines()[-1], flush=True)
    (ROOT / "docs" / "stands.md").write_text(text + FOOT)


if __name__ == "__main__":
    main()
