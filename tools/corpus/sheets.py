"""Sheets of known grids: kinds that practitioners meet, varied by chance but always the same."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from tools.corpus.dithered import dithered_tiles, glow
from tools.corpus.figures import Picture, Random, creature, frame, palette, texture, thing
from tools.corpus.laying import animated_rows, lay_out, some_size, tiles
from tools.corpus.rough import ROUGH


@dataclass(frozen=True, slots=True)
class Sample:
    """A generated sheet and how it was really laid out. Lengths are across and down; one picture
    has cells of nothing, and things that lie freely cells of less."""

    kind: str
    picture: Picture
    cell: tuple[int, int]
    margin: tuple[int, int] = (0, 0)
    gap: tuple[int, int] = (0, 0)


def corpus(each: int = 25, seed: int = 0, unlearned: bool = False) -> Iterator[Sample]:
    """`each` sheets of every kind; another seed makes others. `unlearned` kinds come last."""
    kinds = KINDS | UNLEARNED if unlearned else KINDS
    for place, (kind, make) in enumerate(kinds.items()):
        for index in range(each):
            made = make(np.random.default_rng([place, seed + index]))
            yield Sample(kind, *made)


def sprites(draw: Random) -> tuple:
    cell = some_size(draw)
    cells = animated_rows(draw, cell, int(draw.integers(2, 7)), int(draw.integers(3, 10)))
    return lay_out(cells, cell), cell


def strip(draw: Random) -> tuple:
    cell = some_size(draw)
    return lay_out(animated_rows(draw, cell, 1, int(draw.integers(3, 12))), cell), cell


def keyed_sprites(draw: Random) -> tuple:
    cell = some_size(draw)
    cells = animated_rows(draw, cell, int(draw.integers(1, 5)), int(draw.integers(3, 9)))
    ground = [(255, 0, 255), (0, 255, 0), (0, 128, 128)][int(draw.integers(0, 3))]
    return lay_out(cells, cell, ground=ground), cell


def spaced_sprites(draw: Random) -> tuple:
    cell, gap, margin = some_size(draw), int(draw.integers(1, 4)), int(draw.integers(0, 4))
    cells = animated_rows(draw, cell, int(draw.integers(2, 6)), int(draw.integers(3, 9)))
    line = tuple(int(v) for v in draw.integers(0, 256, 3))
    return (
        lay_out(cells, cell, (margin,) * 2, (gap,) * 2, line=line),
        cell,
        (margin,) * 2,
        (gap,) * 2,
    )


def oblong(draw: Random, side: int) -> int:
    """How high cells are that are not square."""
    return int(side * draw.choice((0.5, 0.75, 1.25, 1.5, 1.5, 2, 2, 3)))


def opaque_tileset(draw: Random) -> tuple:
    side = int(draw.choice((8, 16, 16, 16, 24, 32, 32, 48, 20, 18)))
    cell = (side, oblong(draw, side)) if draw.random() < 0.35 else (side, side)
    return lay_out(
        tiles(draw, cell, int(draw.integers(3, 9)), int(draw.integers(4, 13)), 0.0), cell
    ), cell


def spaced_tileset(draw: Random) -> tuple:
    side = int(draw.choice((16, 16, 16, 32, 24, 18, 70)))
    cell, gap, margin = (
        (side, side),
        int(draw.choice((1, 1, 1, 2, 2, 4))),
        int(draw.choice((0, 0, 1, 2, 4))),
    )
    cells = tiles(draw, cell, int(draw.integers(3, 8)), int(draw.integers(4, 12)), 0.15)
    line = None if draw.random() < 0.6 else tuple(int(v) for v in draw.integers(0, 256, 3))
    return (
        lay_out(cells, cell, (margin,) * 2, (gap,) * 2, line=line),
        cell,
        (margin,) * 2,
        (gap,) * 2,
    )


def mixed_tileset(draw: Random) -> tuple:
    side = int(draw.choice((16, 16, 16, 32, 32, 24, 48)))
    cell = (side, side)
    return lay_out(
        tiles(draw, cell, int(draw.integers(4, 10)), int(draw.integers(5, 13)), 0.45), cell
    ), cell


def straying(draw: Random) -> tuple:
    """Sprites some of which stand a pixel or two beside their place."""
    picture, cell = sprites(draw)
    columns, rows = picture.shape[1] // cell[0], picture.shape[0] // cell[1]
    moved = picture.copy()
    for _ in range(max(1, columns * rows // 8)):
        c, r = int(draw.integers(0, columns)), int(draw.integers(0, rows))
        x, y, by = c * cell[0], r * cell[1], int(draw.integers(1, 3))
        part = picture[y : y + cell[1], x : x + cell[0]].copy()
        moved[y : y + cell[1], x : x + cell[0]] = 0
        target = moved[y : y + cell[1], x + by : x + by + cell[0]]
        part = part[:, : target.shape[1]]
        target[part[..., 3] > 0] = part[part[..., 3] > 0]
    return moved, cell


def crowded(draw: Random) -> tuple:
    """Sprites as wide as their cells, so that hardly any empty space is left between them."""
    cell = some_size(draw)
    kind, colours = creature(draw, *cell), palette(draw)
    kind |= {"body": 0.46, "tall": 0.98, "lean": 0.0}
    rows, columns = int(draw.integers(1, 5)), int(draw.integers(4, 9))
    made: list[list[Picture | None]] = [
        [frame(kind, colours, r + i * 2 * np.pi / columns) for i in range(columns)]
        for r in range(rows)
    ]
    return lay_out(made, cell), cell


def padded(draw: Random) -> tuple:
    """Sprites on a canvas whose sides were rounded up to powers of two."""
    picture, cell = sprites(draw)
    sides = [1 << (side - 1).bit_length() for side in picture.shape[:2]]
    canvas = np.zeros((*sides, 4), np.uint8)
    canvas[: picture.shape[0], : picture.shape[1]] = picture
    return canvas, cell


def roomy(draw: Random) -> tuple:
    """Small figures that stand in large cells."""
    cell = (int(draw.choice((32, 48, 64, 96))),) * 2
    part = draw.uniform(0.3, 0.55)
    inner = (max(8, int(cell[0] * part)), max(10, int(cell[1] * part * draw.uniform(1, 1.4))))
    rows = animated_rows(draw, inner, int(draw.integers(2, 6)), int(draw.integers(3, 9)))
    x, y = (cell[0] - inner[0]) // 2, (cell[1] - inner[1]) // (1 if draw.random() < 0.4 else 2)
    made: list[list[Picture | None]] = []
    for row in rows:
        cells: list[Picture | None] = []
        for small in row:
            assert small is not None
            whole = np.zeros((*cell[::-1], 4), np.uint8)
            whole[y : y + inner[1], x : x + inner[0]] = small
            cells.append(whole)
        made.append(cells)
    return lay_out(made, cell), cell


def seamless(draw: Random) -> tuple:
    """An opaque tileset whose tiles mostly meet without a seam, as terrain does."""
    side = int(draw.choice((16, 16, 32, 24)))
    rows, columns = int(draw.integers(4, 9)), int(draw.integers(5, 13))
    grounds = [texture(draw, side, side, palette(draw)) for _ in range(3)]
    made: list[list[Picture | None]] = []
    for r in range(rows):
        row: list[Picture | None] = []
        for _ in range(columns):
            tile = grounds[r * 3 // rows].copy()
            if draw.random() < 0.5:
                top = thing(draw, side, side, palette(draw))
                tile[top[..., 3] > 0] = top[top[..., 3] > 0]
            if draw.random() < 0.25:
                tile = texture(draw, side, side, palette(draw))
            row.append(tile)
        made.append(row)
    return lay_out(made, (side, side)), (side, side)


KINDS: dict[str, Callable[[Random], tuple]] = {
    "sprites on clear ground": sprites,
    "single strips": strip,
    "sprites on a key colour": keyed_sprites,
    "sprites with drawn lines": spaced_sprites,
    "opaque tilesets": opaque_tileset,
    "tilesets with gaps": spaced_tileset,
    "tilesets with things": mixed_tileset,
    "straying frames": straying,
    "crowded frames": crowded,
    "padded to powers of two": padded,
    "small figures in large cells": roomy,
    "seamless terrain": seamless,
    **ROUGH,
}
UNLEARNED: dict[str, Callable[[Random], tuple]] = {
    "fading by a dither": glow,
    "dithered tilesets": dithered_tiles,
}
"""Kinds that nothing is learned from: they show how art is read that nobody thought of."""
