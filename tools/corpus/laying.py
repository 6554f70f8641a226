"""Laying figures and tiles out in cells."""

from __future__ import annotations

import numpy as np

from tools.corpus.figures import Picture, Random, creature, frame, palette, texture, thing

ODD_SIZES = (11, 13, 17, 19, 20, 22, 26, 28, 30, 34, 38, 40, 44, 50, 56, 72)
USUAL_SIZES = (8, 16, 16, 16, 24, 32, 32, 32, 48, 64, 64)
Made = tuple
"""A picture, its cell, and perhaps margin and gap; a cell of nothing for one picture."""


def lay_out(
    cells: list[list[Picture | None]],
    cell: tuple[int, int],
    margin: tuple[int, int] = (0, 0),
    gap: tuple[int, int] = (0, 0),
    ground: tuple[int, ...] | None = None,
    line: tuple[int, ...] | None = None,
) -> Picture:
    """Rows of cells on clear, or flat, ground; `line` colours the gaps and margins."""
    rows, columns = len(cells), max(map(len, cells))
    width = 2 * margin[0] + columns * cell[0] + (columns - 1) * gap[0]
    height = 2 * margin[1] + rows * cell[1] + (rows - 1) * gap[1]
    picture = np.zeros((height, width, 4), np.uint8)
    if line is not None:
        picture[:] = (*line, 255)
    for r, row in enumerate(cells):
        for c in range(columns):
            x, y = margin[0] + c * (cell[0] + gap[0]), margin[1] + r * (cell[1] + gap[1])
            part = picture[y : y + cell[1], x : x + cell[0]]
            part[:] = 0
            tile = row[c] if c < len(row) else None
            if tile is not None:
                part[tile[..., 3] > 0] = tile[tile[..., 3] > 0]
    if ground is not None:
        picture[picture[..., 3] == 0] = (*ground, 255)
    return picture


def some_size(draw: Random, odd: float = 0.45) -> tuple[int, int]:
    sizes = ODD_SIZES if draw.random() < odd else USUAL_SIZES
    width = int(draw.choice(sizes))
    if draw.random() < 0.6:
        return width, width
    return width, int(draw.choice([s for s in (*ODD_SIZES, *USUAL_SIZES) if 0.6 < s / width < 1.8]))


def animated_rows(
    draw: Random, cell: tuple[int, int], rows: int, columns: int
) -> list[list[Picture | None]]:
    """Rows are animations of one or several creatures; some rows are shorter."""
    made: list[list[Picture | None]] = []
    kind, colours = creature(draw, *cell), palette(draw)
    for _ in range(rows):
        if draw.random() < 0.4:
            kind, colours = creature(draw, *cell), palette(draw)
        count = (
            int(draw.integers(min(columns, max(2, columns // 2)), columns + 1)) if made else columns
        )
        shift = draw.uniform(0, 6)
        made.append([frame(kind, colours, shift + i * 2 * np.pi / count) for i in range(count)])
    return made


def tiles(
    draw: Random, cell: tuple[int, int], rows: int, columns: int, clear: float
) -> list[list[Picture | None]]:
    """Terrain in runs of like tiles, with things between when some of it is clear."""
    sets = [palette(draw) for _ in range(int(draw.integers(2, 5)))]
    made: list[list[Picture | None]] = []
    for _ in range(rows):
        row: list[Picture | None] = []
        colours = sets[int(draw.integers(0, len(sets)))]
        for _ in range(columns):
            if draw.random() < 0.3:
                colours = sets[int(draw.integers(0, len(sets)))]
            chance = draw.random()
            if chance < clear * 0.35:
                row.append(None)
            elif chance < clear:
                row.append(thing(draw, *cell, colours))
            else:
                row.append(texture(draw, *cell, colours))
        made.append(row)
    return made
