"""How acts grow with what they are done to: times at several sizes, and the exponent that fits."""

from __future__ import annotations

import gc
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from guessing import creatures
from levels import wide_level
from matching import _picture as page_of
from matching import _tiles as tiles_of
from measuring import seconds

from rushweed.core.bale.packing import pack_pages
from rushweed.core.bound.twins import find_twins
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import accept_all, add_sheets, see, take_in
from rushweed.core.cut.inspect import inspect
from rushweed.core.cut.likeness import Pieces, shown
from rushweed.core.cut.matching import match_pieces
from rushweed.core.cut.naming import name_by_pattern
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.colour_key import apply_key
from rushweed.core.gather.pictures import decode, encode_png
from rushweed.core.gather.solid import solid
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import ColourKey, EvenCells, Piece, Sheet, Source
from rushweed.core.values import Colour, Point, Rect, Size
from rushweed.core.weave.outlines import merged_outlines
from rushweed.core.weave.painting import fill, single
from rushweed.ui.canvas.images import to_image
from rushweed.ui.shell.strip_cells import StripCells

MOST = 1.1
SIDES = (512, 1024, 2048, 4096, 8192)
LEVELS = (100, 250, 600, 1500, 4000)
SHEETS = (1, 10, 100, 1000)
PIECES = (10, 100, 1000, 10_000, 100_000)
COUNTED = 0.003
"""Times below this many seconds are those of beginning at all, and tell nothing of growth."""
Act = Callable[[], object]


@dataclass(frozen=True, slots=True)
class Curve:
    """What was done, the sizes, the seconds at each, and how many things each size is."""

    what: str
    sizes: tuple[str, ...]
    counts: tuple[int, ...]
    took: tuple[float, ...]

    @property
    def exponent(self) -> float:
        """By how much time grows: 1 is in proportion, 2 with the square (least squares over the
        logarithms)."""
        pairs = [(n, t) for n, t in zip(self.counts, self.took, strict=True) if t >= COUNTED]
        if len(pairs) < 2:
            return 0.0
        counts, took = np.log(np.array(pairs)).T
        return float(np.polyfit(counts, took, 1)[0])


def measure(numbers: dict[str, int]) -> list[Curve]:
    """All curves; `numbers` are those of the demo's tiles by their names."""
    curves = [
        *_curves(SIDES, lambda side: side * side, lambda side: f"{side}² px", _of_pixels),
        *_curves(
            LEVELS,
            lambda side: side * side,
            lambda side: f"{side}² cells",
            lambda side: _of_cells(numbers, side),
        ),
        *_curves(PIECES, lambda count: count, lambda count: f"{count} pieces", _of_pieces),
    ]
    with tempfile.TemporaryDirectory() as place:
        curves += _curves(
            SHEETS,
            lambda count: count,
            lambda count: f"{count} sheets",
            lambda count: _of_sheets(Path(place), count),
        )
    return curves


def _curves(
    sizes: tuple[int, ...],
    count: Callable[[int], int],
    words: Callable[[int], str],
    acts: Callable[[int], Iterator[tuple[str, Act]]],
) -> list[Curve]:
    took: dict[str, list[float]] = {}
    for size in sizes:
        for what, act in acts(size):
            gc.collect()
            first = seconds(act)
            again = [seconds(act) for _ in range(2)] if first < 0.5 else []
            took.setdefault(what, []).append(min([first, *again]))
    told, counts = tuple(map(words, sizes)), tuple(map(count, sizes))
    return [Curve(what, told, counts, tuple(times)) for what, times in took.items()]


def _of_pixels(side: int) -> Iterator[tuple[str, Act]]:
    picture = creatures(side)
    data = encode_png(picture)
    yield "Decoding a PNG", lambda: decode(data, "sheet")
    yield "Making it ready for the screen", lambda: to_image(picture)
    yield "Reading a sheet", lambda: inspect(picture)
    keyed = picture.copy()
    keyed[picture[..., 3] == 0] = (255, 0, 255, 255)
    key = ColourKey(Colour(255, 0, 255), 8, 1)
    yield "Clearing a colour and its fringe", lambda: apply_key(keyed, key)


def _of_cells(numbers: dict[str, int], side: int) -> Iterator[tuple[str, Act]]:
    level = wide_level(numbers, side)
    project = Project(levels=(level,))
    yield "Writing a level", lambda: files.to_files(_anew(project))
    with tempfile.TemporaryDirectory() as place:
        files.save(project, Path(place))
        yield "Opening a level", lambda: files.load(Path(place))
    empty = Cells().painted({(0, 0): (1, 0), (side - 1, side - 1): (1, 0)})
    yield "Filling all of it", lambda: fill(empty, single(1), (side // 2, side // 2))
    yield "Merging outlines", lambda: merged_outlines(project, level)


def _anew(project: Project) -> Project:
    """The same project of other objects, of which nothing was written yet."""
    levels = tuple(Level(one.name, one.layers, one.start) for one in project.levels)
    return replace(project, levels=levels)


def _of_pieces(count: int) -> Iterator[tuple[str, Act]]:
    across = -(-count // 10)
    sheet = Sheet("many", (Source("art/many.png", "0", Size(across * 16, 160)),))
    mask = np.ones((160, across * 16), bool)
    bare = Project(sheets=(sheet,))
    layout = EvenCells(Size(16, 16))
    whole = cut(bare, "many", layout, mask)
    half = EvenCells(Size(8, 16))
    yield "Cutting", lambda: cut(bare, "many", layout, mask)
    yield "Cutting anew into halves", lambda: cut(whole, "many", half, mask)
    yield "Naming", lambda: name_by_pattern(whole, "many", "{sheet}_{row}_{n:2}")
    yield "Laying out the strip", lambda: StripCells(whole.sheets, 52).lay(10 * count)
    yield "Writing a sheet", lambda: files.to_files(replace(whole, sheets=(_copy(whole),)))
    yield from _of_tiles(count)


def _copy(project: Project) -> Sheet:
    """The sheet as another object, of which nothing was written yet."""
    return replace(project.sheets[0])


def _of_tiles(count: int) -> Iterator[tuple[str, Act]]:
    draw = np.random.default_rng(1)
    sides = [Size(*pair) for pair in draw.integers(4, 20, (count, 2)).tolist()]
    yield "Packing", lambda: pack_pages([Size(*side) for side in _shuffled(sides)], 8192)
    rows = max(1, count // 50)
    page = page_of(tiles_of(rows * 50))
    words = shown(page)
    rects = [Rect(n % 50 * 16, n // 50 * 16, 16, 16) for n in range(rows * 50)][:count]
    yield (
        "Matching after a change",
        lambda: match_pieces(Pieces(words, rects), Pieces(words, rects)),
    )
    pieces = tuple(Piece(n + 1, rect, Point(8, 16)) for n, rect in enumerate(rects))
    source = Source("art/many.png", "0", Size(page.shape[1], page.shape[0]))
    sheet = Sheet("many", (source,), pieces=pieces)
    yield "Finding the twins of eight tiles", lambda: find_twins(words, sheet, range(1, 9))


def _shuffled(sides: list[Size]) -> list[Size]:
    """In another order each time, for what was packed once is known."""
    order: list[Any] = np.random.default_rng().permutation(len(sides)).tolist()
    return [sides[place] for place in order]


def _of_sheets(place: Path, count: int) -> Iterator[tuple[str, Act]]:
    whole = creatures(512)
    folder = place / f"{count} sheets"
    folder.mkdir()
    paths = []
    for number in range(count):
        part = np.roll(whole, 64 * number % 512, axis=number // 8 % 2)[:128, :128].copy()
        part[0, 0] = (number % 250, number // 250, 9, 255)
        paths.append(folder / f"creature {number}.png")
        paths[-1].write_bytes(encode_png(part))
    art = Art(folder)

    def gathered() -> Project:
        project, _ = add_sheets(Project(), [take_in(art, [path]) for path in paths])
        return project

    yield "Gathering pictures", gathered
    project = gathered()
    names = [sheet.name for sheet in project.sheets]
    yield "Seeing what they are", lambda: [see(Art(folder), sheet) for sheet in project.sheets]
    for sheet in project.sheets:
        see(art, sheet)
    yield "Taking all as seen", lambda: list(accept_all(project, art, names))
    *_, taken = accept_all(project, art, names)
    assert all(solid(art.picture(sheet)).any() for sheet in taken.sheets[:1])
    files.save(taken, folder)
    yield "Opening a project", lambda: files.load(folder)
    yield "Finding what will hurt", lambda: find_all(taken, Art(folder))
