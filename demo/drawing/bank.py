"""The mud banks of the fen: turf on clods of earth, square, sloped, hanging and deep."""

from __future__ import annotations

import math
from collections.abc import Callable

from drawing.pix import Pix, dither

SEEDS = ((2, 3), (8, 1), (13, 4), (5, 7), (11, 9), (1, 11), (7, 13), (14, 13), (10, 5))
RAMP = "ghijkl"
TURF = (4, 4, 5, 6, 5, 4, 3, 3, 4, 5, 7, 5, 4, 4, 3, 3)
WOBBLE = (0, 1, 1, 0, 0, 1, 0, 0, 1, 1, 0, 0, 0, 1, 0, 0)
FAR = 99.0


def clod(x: int, y: int) -> int:
    """How light the earth is here, 1 (a crack) to 4 (lit from above)."""
    first, second, lit = FAR, FAR, (0.0, 0.0)
    for seed_x, seed_y in SEEDS:
        for shift_y in (-16, 0, 16):
            for shift_x in (-16, 0, 16):
                dx, dy = x - seed_x - shift_x, (y - seed_y - shift_y) * 1.25
                distance = math.hypot(dx, dy)
                if distance < first:
                    first, second, lit = distance, first, (dx, dy)
                elif distance < second:
                    second = distance
    if second - first < 1.0:
        return 1
    light = lit[0] * 0.5 + lit[1]
    return 4 if light < -1.6 else 3 if light < 0.9 else 2


def bank(
    top: bool = False,
    left: bool = False,
    right: bool = False,
    bottom: bool = False,
    deep: bool = False,
    surface: Callable[[int], float] | None = None,
    under: Callable[[int], float] | None = None,
) -> Pix:
    """One tile of bank. `surface` and `under` give its upper and lower edge in each column."""
    tile = Pix(16, 16)
    for x in range(16):
        for y in range(16):
            start = surface(x) if surface else 0 if top else -FAR
            end = under(x) if under else FAR
            if y < start or y > end:
                continue
            to_left = x - WOBBLE[y] if left else FAR
            to_right = 15 - x - WOBBLE[(y + 5) & 15] if right else FAR
            to_bottom = 15 - y - WOBBLE[(x + 3) & 15] if bottom else end - y if under else FAR
            depth = y - start if top or surface else FAR
            if to_left < 0 or to_right < 0 or to_bottom < 0:
                continue
            if _rounded_away(x, y, top, left, right, bottom):
                continue
            colour = _earth(x, y, min(to_left, to_right, to_bottom, depth), deep)
            if 0 in (to_left, to_right, to_bottom):
                colour = "g"
            elif to_left == 1 and colour > "h":
                colour = "k"
            elif 1 in (to_bottom, to_right):
                colour = "h"
            if depth < FAR:
                colour = _turf(x, int(depth), left, right) or colour
            tile.set(x, y, colour)
    return tile


def _rounded_away(x: int, y: int, top: bool, left: bool, right: bool, bottom: bool) -> bool:
    return (
        (top and left and x + y < 3)
        or (top and right and (15 - x) + y < 3)
        or (bottom and left and x + (15 - y) < 3)
        or (bottom and right and (15 - x) + (15 - y) < 3)
    )


def _earth(x: int, y: int, edge: float, deep: bool) -> str:
    threshold = dither(x, y)
    value = clod(x, y) - (0 if edge < 4 + threshold * 3 else 1 if edge < 9 + threshold * 4 else 2)
    if deep:
        value = (0, 0, 0, 1, 2)[clod(x, y)]
        if value == 2 and dither(x * 3, y * 5) > 0.45:
            value = 1
    return RAMP[max(0, min(5, value))]


def _turf(x: int, depth: int, left: bool, right: bool) -> str:
    cap = TURF[x] - (-1 if (left and x < 2) or (right and x > 13) else 0)
    if depth == 0:
        return "r" if (x * 7) % 5 == 0 else "q"
    if depth == 1:
        return "q" if (x * 5) % 4 == 0 else "p"
    if depth < cap - 1:
        return "p" if (x + depth * 3) % 4 == 0 else "o"
    if depth == cap - 1:
        return "n"
    return "g" if depth == cap else ""
