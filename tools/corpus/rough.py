"""Sheets as rough as strangers make them: lines of changing shade, canvases padded at the far end,
rims inside cells, sparks beside figures, black backdrops, letters, diamonds, one picture."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

from tools.corpus import pages
from tools.corpus.figures import Picture, Random, creature, frame, palette, texture, thing
from tools.corpus.laying import Made, animated_rows, lay_out, some_size, tiles

Cells = list[list[Picture | None]]


def shaded_lines(draw: Random) -> Made:
    """Separators of one or two pixels whose shade changes from row to row, cut by a strip that is
    left over; with or without one all around."""
    side = int(draw.choice((16, 16, 32, 32, 64, 24)))
    cell, gap = (side, side), int(draw.choice((1, 1, 2, 2)))
    margin = int(draw.choice((0, gap)))
    rows, columns = int(draw.integers(3, 9)), int(draw.integers(4, 14))
    solid = draw.random() < 0.6
    cells = (
        tiles(draw, cell, rows, columns, 0.0) if solid else animated_rows(draw, cell, rows, columns)
    )
    picture = lay_out(cells, cell, (margin,) * 2, (gap,) * 2)
    base = draw.integers(0, 256, 3)
    steps = (cell[0] + gap, cell[1] + gap)
    for row in range(rows + 1):
        shade = np.clip(base + draw.integers(-25, 25, 3), 0, 255)
        top = margin + row * steps[1] - gap
        picture[max(0, top) : top + gap] = (*shade, 255)
        for column in range(columns + 1):
            left = margin + column * steps[0] - gap
            band = picture[max(0, top) : top + steps[1], max(0, left) : max(0, left + gap)]
            band[:] = (*shade, 255)
    if draw.random() < 0.4:
        extra = int(draw.integers(2, side))
        strip = np.full((picture.shape[0], extra, 4), (*draw.integers(0, 256, 3), 255), np.uint8)
        picture = np.concatenate([picture, strip], axis=1)
    return picture, cell, (margin,) * 2, (gap,) * 2


def padded_strip(draw: Random) -> Made:
    """A row, a column or a few rows of small cells on a canvas of rounded sides."""
    cell = int(draw.integers(9, 60)), int(draw.integers(9, 60))
    rows, columns = [
        (1, int(draw.integers(2, 12))),
        (int(draw.integers(2, 12)), 1),
        (int(draw.integers(2, 8)), int(draw.integers(2, 8))),
    ][int(draw.integers(0, 3))]
    picture = lay_out(animated_rows(draw, cell, rows, columns), cell)
    canvas = np.zeros((*(1 << (s - 1).bit_length() for s in picture.shape[:2]), 4), np.uint8)
    canvas[: picture.shape[0], : picture.shape[1]] = picture
    return canvas, cell


def column(draw: Random) -> Made:
    """One column."""
    cell = some_size(draw)
    return lay_out(animated_rows(draw, cell, int(draw.integers(3, 12)), 1), cell), cell


def rimmed(draw: Random) -> Made:
    """Icons each with a rim of its own inside the cell, drawn or empty."""
    side, rim = int(draw.choice((16, 24, 32, 32, 40, 48))), int(draw.integers(1, 3))
    cell = side, int(draw.choice((side, side, side + 16)))
    made: Cells = []
    for row in tiles(
        draw,
        (cell[0] - 2 * rim, cell[1] - 2 * rim),
        int(draw.integers(1, 6)),
        int(draw.integers(3, 12)),
        0.1,
    ):
        line: list[Picture | None] = []
        colour = draw.integers(0, 256, 3)
        for tile in row:
            whole = np.zeros((cell[1], cell[0], 4), np.uint8)
            if draw.random() < 0.5:
                whole[:] = (*colour, 255)
            if tile is not None:
                whole[rim:-rim, rim:-rim] = tile
            line.append(whole)
        made.append(line)
    return lay_out(made, cell), cell


def sparking(draw: Random) -> Made:
    """Figures with sparks, shields and shadows that hang together with nothing."""
    cell = some_size(draw)
    rows = animated_rows(draw, cell, int(draw.integers(1, 5)), int(draw.integers(3, 9)))
    for row in rows:
        for tile in row:
            assert tile is not None
            for _ in range(int(draw.integers(0, 4))):
                x = int(draw.integers(1, max(2, cell[0] - 3)))
                y = int(draw.integers(1, max(2, cell[1] - 3)))
                tile[y : y + 2, x : x + 2] = (*draw.integers(150, 255, 3), 255)
    return lay_out(rows, cell), cell


def blackened(draw: Random) -> Made:
    """Figures or things on a black, white or dark backdrop without alpha."""
    cell = some_size(draw)
    rows, columns = int(draw.integers(1, 6)), int(draw.integers(3, 10))
    ground = [(0, 0, 0), (0, 0, 0), (255, 255, 255), (8, 8, 16)][int(draw.integers(0, 4))]
    made: Cells
    if draw.random() < 0.6:
        made = animated_rows(draw, cell, rows, columns)
    else:
        made = [[thing(draw, *cell, palette(draw)) for _ in range(columns)] for _ in range(rows)]
    return lay_out(made, cell, ground=ground), cell


def letters(draw: Random) -> Made:
    """Rows of glyphs of a few strokes, some narrow, some with parts, a few cells empty."""
    cell = int(draw.choice((6, 7, 8, 8, 10, 12, 16, 20))), int(draw.choice((8, 10, 12, 16, 20, 24)))
    gap = int(draw.choice((0, 0, 0, 1, 2)))
    rows, columns = int(draw.integers(1, 7)), int(draw.integers(8, 33))
    colour = draw.integers(80, 256, 3)
    made: Cells = []
    for _ in range(rows):
        line: list[Picture | None] = []
        for _ in range(columns):
            glyph = np.zeros((cell[1], cell[0], 4), np.uint8)
            low, high = int(cell[1] * 0.15), int(cell[1] * 0.85)
            wide = int(draw.integers(max(2, cell[0] // 3), cell[0]))
            for _ in range(int(draw.integers(1, 4))):
                if draw.random() < 0.5:
                    x = int(draw.integers(0, wide))
                    glyph[low:high, x : x + 1 + cell[0] // 10] = (*colour, 255)
                else:
                    y = int(draw.integers(low, max(low + 1, high)))
                    glyph[y : y + 1 + cell[1] // 12, :wide] = (*colour, 255)
            line.append(glyph if draw.random() < 0.93 else None)
        made.append(line)
    return lay_out(made, cell, gap=(gap, 0)), cell, (0, 0), (gap, 0)


def bold_tiles(draw: Random) -> Made:
    """Tiles that are each of a tone of their own, of any size, with a ramp and some grain."""
    cell, gap = some_size(draw), int(draw.choice((0, 0, 0, 1, 2)))
    rows, columns = int(draw.integers(2, 8)), int(draw.integers(3, 10))
    cells: Cells = []
    for _ in range(rows):
        cells.append([])
        for _ in range(columns):
            tone, grain = draw.integers(40, 220, 3), float(draw.uniform(0, 12))
            first, last = draw.uniform(-30, 30, 2).tolist()
            ramp = np.linspace(first, last, cell[0])[None, :, None]
            values = tone + ramp + draw.normal(0, grain, (cell[1], cell[0], 1))
            tile = np.full((cell[1], cell[0], 4), 255, np.uint8)
            tile[..., :3] = np.clip(values, 0, 255)
            cells[-1].append(tile)
    return lay_out(cells, cell, gap=(gap, gap)), cell, (0, 0), (gap, gap)


def diamonds(draw: Random) -> Made:
    """Ground seen slantwise: diamonds, some with blocks on them, in cells twice as wide as high or
    higher."""
    width = int(draw.choice((32, 64, 64, 128)))
    cell = width, int(draw.choice((width // 2, width // 2, width, width * 3 // 4)))
    y, x = np.mgrid[0 : cell[1], 0 : cell[0]]
    flat = width // 2
    made: Cells = []
    for _ in range(int(draw.integers(1, 7))):
        line: list[Picture | None] = []
        for _ in range(int(draw.integers(3, 11))):
            shape = np.abs(x + 0.5 - width / 2) / (width / 2) + np.abs(
                y + 0.5 - (cell[1] - flat / 2)) / (flat / 2) <= 1  # fmt: skip
            tile = texture(draw, *cell, palette(draw))
            if draw.random() < 0.3:
                shape |= (np.abs(x - width / 2) < width / 5) & (y > draw.integers(0, cell[1] // 2))
            tile[~shape] = 0
            line.append(tile)
        made.append(line)
    made = [row[: min(map(len, made))] for row in made]
    return lay_out(made, cell), cell


def backdrop(draw: Random) -> Made:
    """One picture that fills its canvas: sky and hills, a wall, a title."""
    width, height = int(draw.integers(100, 900)), int(draw.integers(60, 700))
    colours = palette(draw, 9)
    y, x = np.mgrid[0:height, 0:width]
    level = 7 * (y / height) + draw.normal(0, draw.uniform(0, 0.8), (height, width))
    for _ in range(int(draw.integers(1, 5))):
        hills = height * draw.uniform(0.3, 0.9) + height * 0.1 * np.sin(x / draw.uniform(20, 120))
        level = np.where(y > hills, draw.uniform(0, 8) + 0.4 * np.sin(x * 0.7 + y), level)
    for _ in range(int(draw.integers(0, 9))):
        left, top = int(draw.integers(0, width)), int(draw.integers(0, height))
        level[top : top + int(draw.integers(5, 120)), left : left + int(draw.integers(5, 200))] = (
            draw.uniform(0, 8))  # fmt: skip
    picture = np.full((height, width, 4), 255, np.uint8)
    picture[..., :3] = colours[np.clip(level, 0, 8).astype(int)]
    return picture, (0, 0)


def alone(draw: Random) -> Made:
    """One thing on clear ground, or a few that make one picture."""
    width, height = int(draw.integers(20, 400)), int(draw.integers(20, 400))
    figure = frame(creature(draw, width, height), palette(draw), draw.uniform(0, 6))
    if draw.random() < 0.5:
        noise = ndimage.gaussian_filter(draw.random((height, width)), max(2, width / 12))
        figure = texture(draw, width, height, palette(draw))
        figure[noise < np.quantile(noise, draw.uniform(0.2, 0.6))] = 0
    for _ in range(int(draw.integers(0, 4))):
        y, x = int(draw.integers(0, height - 4)), int(draw.integers(0, width - 4))
        figure[y : y + 3, x : x + 3] = (*draw.integers(0, 255, 3), 255)
    return figure, (0, 0)


def packed(draw: Random) -> Made:
    """Things of all sizes, packed without any grid; each hangs together."""
    width, height = int(draw.integers(90, 500)), int(draw.integers(60, 400))
    picture = np.zeros((height, width, 4), np.uint8)
    x = y = int(draw.integers(0, 4))
    shelf, gap = 0, int(draw.integers(1, 9))
    large = int(draw.integers(14, 90))
    while y < height - 10:
        cell = int(draw.integers(6, large)), int(draw.integers(6, large))
        if x + cell[0] > width:
            x, y, shelf = int(draw.integers(0, 12)), y + shelf + gap, 0
            continue
        if y + cell[1] <= height and draw.random() < 0.92:
            colours = palette(draw)
            made = thing(draw, *cell, colours)
            if draw.random() < 0.5:
                made = frame(creature(draw, *cell), colours, 0.0)
            down = y + int(draw.integers(0, 5)) if y + cell[1] + 5 < height else y
            picture[down : down + cell[1], x : x + cell[0]] = made
            shelf = max(shelf, cell[1] + 5)
        x += cell[0] + gap + int(draw.integers(0, 10))
        shelf = max(shelf, 8)
    if draw.random() < 0.3:
        picture[picture[..., 3] == 0] = (255, 0, 255, 255)
    return picture, (-1, -1)


def blocks(draw: Random) -> Made:
    """Terrain in blocks of several tiles that join without a seam inside, each block with a rim of
    its own: hems as they are handed around, two across and two or three down, or three by three.

        +---------+---------+
        | rim   rim         |     two blocks of 2 x 3 tiles; the tile is the cell
        |   fill    |       |
        +---------+---------+
    """
    side = int(draw.choice((8, 16, 16, 16, 24, 32, 32, 32, 48)))
    across, down = [(2, 2), (2, 3), (3, 3), (2, 3), (3, 4), (4, 4)][int(draw.integers(0, 6))]
    columns, rows = int(draw.integers(1, 6)), int(draw.integers(1, 6))
    wide, high = across * side, down * side
    clear = draw.random() < 0.5
    picture = np.zeros((rows * high, columns * wide, 4), np.uint8)
    for row in range(rows):
        for place in range(columns):
            if columns * rows > 2 and draw.random() < 0.1:
                continue
            part = picture[row * high : (row + 1) * high, place * wide : (place + 1) * wide]
            fill = texture(draw, side, side, palette(draw))
            part[:] = np.tile(fill, (down, across, 1))
            rim = int(draw.integers(1, max(2, side // 3)))
            ground = texture(draw, wide, high, palette(draw))
            ground[..., 3] = 0 if clear else 255
            near = np.ones((high, wide), bool)
            ragged = draw.integers(0, rim + 1, (high, wide)) if draw.random() < 0.6 else 0
            y, x = np.mgrid[0:high, 0:wide]
            edge = np.minimum(np.minimum(x, wide - 1 - x), np.minimum(y, high - 1 - y))
            near = edge < rim + ragged
            part[near] = ground[near]
            if down > across:  # its first tile shows the whole, small; the one beside it corners
                part[:side, :side] = part[side : 3 * side : 2, ::across][:side, :side]
    for _ in range(int(draw.integers(0, 3))):
        at = draw.integers(0, (picture.shape[1] // side, picture.shape[0] // side))
        top = thing(draw, side, side, palette(draw))
        part = picture[at[1] * side : (at[1] + 1) * side, at[0] * side : (at[0] + 1) * side]
        part[top[..., 3] > 0] = top[top[..., 3] > 0]
    return picture, (side, side)


def twice_as_long(draw: Random) -> Made:
    """Glyphs or figures in cells one side of which is about twice the other, in few rows."""
    short = int(draw.integers(6, 48))
    long = int(short * draw.choice((1.5, 2, 2, 2, 2, 3)))
    cell = (short, long) if draw.random() < 0.7 else (long, short)
    gap = int(draw.choice((0, 0, 1, 1, 2)))
    rows, columns = int(draw.integers(1, 4)), int(draw.integers(3, 20))
    if draw.random() < 0.5:
        cells = animated_rows(draw, cell, rows, columns)
    else:
        colours = palette(draw)
        cells = [[thing(draw, *cell, colours) for _ in range(columns)] for _ in range(rows)]
    line = tuple(int(v) for v in draw.integers(0, 256, 3)) if gap and draw.random() < 0.4 else None
    gaps = (gap, gap if rows > 1 else 0)
    return lay_out(cells, cell, gap=gaps, line=line), cell, (0, 0), gaps


ROUGH = {
    "lines of changing shade": shaded_lines,
    "strips on padded canvases": padded_strip,
    "single columns": column,
    "icons with rims": rimmed,
    "figures with sparks": sparking,
    "black and white backdrops": blackened,
    "letters": letters,
    "bold tiles": bold_tiles,
    "diamonds": diamonds,
    "one picture, full": backdrop,
    "one picture, clear": alone,
    "things packed freely": packed,
    "frames packed edge to edge": lambda draw: (pages.one_creature(draw)[0], (-1, -1)),
    "figures with bits that fly off": lambda draw: (pages.with_sparks(draw)[0], (-1, -1)),
    "terrain in blocks": blocks,
    "cells twice as long": twice_as_long,
}
