"""The tileset `fen_above`: the heron's pool as seen from above, 6 × 5 cells without gaps."""

from __future__ import annotations

import math

from drawing.pix import Pix, dither, randomness

COLUMNS = 6
SHORE = ("nw", "n", "ne", "w", "", "e", "sw", "s", "se")


def tiles() -> list[tuple[str, Pix]]:
    """Every tile with its name, in the order in which they lie on the sheet."""
    return [
        ("turf", turf(1)),
        ("turf_b", turf(2)),
        ("turf_flowers", turf(3, flowers=True)),
        ("path", path(4)),
        ("path_b", path(5)),
        ("stepping_stone", stepping_stone()),
        *((f"pool_{name}" if name else "pool", pool(name)) for name in SHORE),
        ("pool_deep", deep(0)),
        ("pool_deep_b", deep(1)),
        ("pool_lily", lily()),
        ("boards", boards()),
        ("boards_end", boards(end=True)),
        ("boards_across", turned(boards())),
        ("reed_clump", clump()),
        ("willow_nw", willow(0, 0)),
        ("willow_ne", willow(16, 0)),
        ("boulder", boulder()),
        ("stump", stump()),
        ("fence", fence()),
        ("willow_sw", willow(0, 16)),
        ("willow_se", willow(16, 16)),
        ("mud", path(9, dark=True)),
    ]


def sheet() -> Pix:
    drawn = tiles()
    rows = math.ceil(len(drawn) / COLUMNS)
    picture = Pix(16 * COLUMNS, 16 * rows)
    for index, (_, tile) in enumerate(drawn):
        picture.blit(tile, index % COLUMNS * 16, index // COLUMNS * 16)
    return picture


def turf(seed: int, flowers: bool = False) -> Pix:
    tile, draw = Pix(16, 16), randomness(seed)
    for y in range(16):
        for x in range(16):
            tile.set(x, y, "p" if dither(x + seed * 3, y) < 0.16 else "o")
    for _ in range(9):
        x, y = int(draw() * 15), 1 + int(draw() * 14)
        tile.set(x, y, "q")
        tile.set(x, y - 1, "p")
        tile.set(x + 1, y, "n")
    if flowers:
        for x, y in ((4, 4), (11, 9), (6, 12)):
            for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                tile.set(x + dx, y + dy, "P")
            tile.set(x, y, "F")
    return tile


def path(seed: int, dark: bool = False) -> Pix:
    tile, draw = Pix(16, 16), randomness(seed)
    base, light, low = ("i", "j", "h") if dark else ("k", "l", "j")
    for y in range(16):
        for x in range(16):
            tile.set(x, y, light if dither(x, y + seed) < 0.12 else base)
    for _ in range(7):
        x, y = int(draw() * 14), int(draw() * 15)
        tile.rect(x, y, 2, 1, low)
        tile.set(x, y, light)
    return tile


def pool(side: str) -> Pix:
    """Water, with a bank of turf along the sides that are named."""
    tile = turf(1)
    for y in range(16):
        for x in range(16):
            edge = _to_bank(x, y, side)
            if edge > 5:
                glint = (x * 3 + y * 7) % 41 == 0
                tile.set(x, y, "d" if glint else "b" if dither(x, y) < 0.5 else "c")
            elif edge > 4:
                tile.set(x, y, "e" if (x + y) % 4 else "f")
            elif edge > 3:
                tile.set(x, y, "h")
            elif edge > 2:
                tile.set(x, y, "j" if "n" in side else "i")
    return tile


def _to_bank(x: int, y: int, side: str) -> float:
    wave = 0.8 * math.sin((x + y) * math.pi / 8)
    across = x if "w" in side else 15 - x if "e" in side else 99
    down = y if "n" in side else 15 - y if "s" in side else 99
    if across < 99 and down < 99:
        inside = 12.0 - math.hypot(max(0, 12 - across), max(0, 12 - down))
        return inside + wave
    return min(across, down) + wave


def deep(variant: int) -> Pix:
    tile = Pix(16, 16)
    for y in range(16):
        for x in range(16):
            tile.set(x, y, "a" if dither(x, y) < 0.45 else "b")
    for x, y in ((3, 4), (10, 11)) if variant else ((8, 2), (2, 12)):
        tile.rect(x, y, 4, 1, "c")
        tile.set(x + 1, y, "d")
    return tile


def lily() -> Pix:
    tile = deep(0)
    for middle_x, middle_y, reach in ((5, 6, 3.6), (11, 11, 2.8)):
        for y in range(16):
            for x in range(16):
                distance = math.hypot(x - middle_x, (y - middle_y) * 1.2)
                if distance < reach and not (x > middle_x and y == middle_y):
                    tile.set(x, y, "n" if distance > reach - 1 else "p" if x + y < 14 else "o")
    tile.map([".5.", "585", ".5."], 4, 4)
    return tile


def boards(end: bool = False) -> Pix:
    tile = Pix(16, 16)
    for y in range(16):
        for x in range(16):
            seam = y % 4 == 3
            grain = (x * 5 + y * 3) % 11 == 0
            tile.set(x, y, "s" if seam else "t" if grain else "v" if y % 4 == 0 else "u")
    for y in range(16):
        tile.set(0, y, "0")
        tile.set(15, y, "0")
        tile.set(1, y, "w" if y % 4 != 3 else "t")
    if end:
        tile.rect(0, 13, 16, 3, "s")
        tile.rect(1, 13, 14, 1, "w")
    return tile


def turned(tile: Pix) -> Pix:
    result = Pix(16, 16)
    for y in range(16):
        for x in range(16):
            result.set(y, x, tile.get(x, y))
    return result


def stepping_stone() -> Pix:
    return _round(path(4), 7.5, 8, 5.5, "BAzyx")


def boulder() -> Pix:
    return _round(turf(1), 7.5, 8.5, 6.5, "BAzyx")


def stump() -> Pix:
    tile = _round(turf(2), 7.5, 8, 5, "wvuts")
    for reach in (1.2, 3.0):
        for step in range(24):
            angle = step * math.pi / 12
            tile.set(7.5 + reach * math.cos(angle), 7 + reach * math.sin(angle) * 0.8, "t")
    return tile


def _round(tile: Pix, middle_x: float, middle_y: float, reach: float, ramp: str) -> Pix:
    for y in range(16):
        for x in range(16):
            distance = math.hypot(x - middle_x, (y - middle_y) * 1.15)
            if distance < reach + 0.7:
                light = (x - middle_x) * 0.4 + (y - middle_y)
                step = int((light / reach + 1) * 2.2)
                outline = distance > reach - 0.3
                tile.set(x, y, "0" if outline else ramp[max(0, min(4, step))])
    return tile


def clump() -> Pix:
    tile, draw = turf(1), randomness(77)
    for _ in range(26):
        x, y = 2 + int(draw() * 12), 4 + int(draw() * 10)
        length = 3 + int(draw() * 4)
        for step in range(length):
            tile.set(x + (step > length // 2), y - step, "n" if step < 2 else "q")
        if draw() < 0.3:
            tile.rect(x + 1, y - length, 1, 2, "u")
    return tile


def willow(x0: int, y0: int) -> Pix:
    """A quarter of a willow's crown, 32 × 32 in all."""
    tile, draw = turf(1), randomness(31)
    leaves = [(draw() * 32, draw() * 30, draw()) for _ in range(420)]
    for y in range(16):
        for x in range(16):
            distance = math.hypot(x0 + x - 15.5, (y0 + y - 16) * 1.05)
            if distance < 15 + math.sin((x0 + x) * 1.1) * 0.8:
                tile.set(x, y, "m" if distance > 13.6 else "n")
    for leaf_x, leaf_y, light in leaves:
        if math.hypot(leaf_x - 15.5, leaf_y - 16) < 12.5:
            high = light + (10 - leaf_y) / 40 + (12 - leaf_x) / 60
            letter = "q" if high > 0.95 else "p" if high > 0.6 else "o" if high > 0.2 else "m"
            for dy in range(2):
                tile.set(
                    leaf_x - x0, leaf_y + dy - y0, letter
                ) if leaf_x >= x0 and leaf_y + dy >= y0 else None
    return tile


def fence() -> Pix:
    tile = turf(2)
    tile.rect(0, 5, 16, 2, "v")
    tile.rect(0, 7, 16, 1, "s")
    tile.rect(0, 10, 16, 2, "u")
    tile.rect(0, 12, 16, 1, "s")
    for x in (2, 10):
        tile.rect(x, 2, 3, 12, "u")
        tile.rect(x, 2, 3, 1, "w")
        tile.rect(x, 2, 1, 12, "w")
        tile.rect(x + 2, 3, 1, 12, "s")
    return tile
