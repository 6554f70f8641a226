"""The masonry, gates and grates of the sluice."""

from __future__ import annotations

import itertools

from drawing.pix import Pix, dither

MOSS = (4, 6, 7, 5, 3, 2, 3, 5, 8, 9, 6, 4, 2, 3, 3, 4)
COURSES = ((0, 5, (-3, 5, 13, 21)), (5, 6, (0, 9, 16)), (11, 5, (-3, 5, 13, 21)))


def stone(cap: bool = False, left: bool = False, right: bool = False, moss: bool = False) -> Pix:
    """One tile of wall."""
    tile = Pix(16, 16)
    for top, height, cuts in COURSES:
        for start, end in itertools.pairwise(cuts):
            for x in range(max(start, 0), min(end, 16)):
                for y in range(top, top + height):
                    tile.set(x, y, _block(x, y, start, end, top, height))
    if cap:
        _coping(tile, left, right)
    if left:
        for y in range(5, 16):
            tile.set(0, y, "x")
    if right:
        for y in range(5, 16):
            tile.set(15, y, "0")
            tile.set(14, y, "y")
    if moss:
        for x, length in enumerate(MOSS):
            for y in range(length):
                inner = "p" if y < 2 or (x + y) % 3 == 0 else "o"
                tile.set(x, y, "n" if y == length - 1 else inner)
    return tile


def _block(x: int, y: int, start: int, end: int, top: int, height: int) -> str:
    if y == top + height - 1 or x == end - 1:
        return "x"
    if y == top:
        return "A"
    if x == start:
        return "z"
    if y == top + height - 2 or x == end - 2 or (x * 7 + y * 13) % 17 == 0:
        return "y"
    return "A" if (x * 5 + y * 3) % 19 == 0 else "z"


def _coping(tile: Pix, left: bool, right: bool) -> None:
    for x in range(16):
        for y, letter in enumerate(("B", "B" if x % 6 == 2 else "A", "A", "z", "x", "y")):
            tile.set(x, y, letter)
    if left or right:
        x = 0 if left else 15
        tile.set(x, 0, ".")
        for y in range(1, 5):
            tile.set(x, y, "x")
    else:
        for y, letter in ((1, "z"), (2, "z"), (3, "y")):
            tile.set(8, y, letter)


def gate(top: bool) -> Pix:
    """A tile of the oak gate; the upper one has its iron lintel."""
    tile = Pix(16, 16)
    for x in range(16):
        for y in range(16):
            board = x % 5
            plain = "s" if (x * 3 + y * 5) % 13 == 0 else "t"
            tile.set(x, y, "s" if board == 4 else "u" if board == 0 else plain)
    if top:
        tile.rect(0, 0, 16, 2, "y")
        tile.rect(0, 0, 16, 1, "A")
        tile.rect(0, 2, 16, 1, "0")
    tile.rect(0, 9, 16, 3, "x")
    tile.rect(0, 9, 16, 1, "z")
    for x in (2, 8, 13):
        tile.set(x, 10, "B")
    tile.rect(0, 12, 16, 1, "s")
    return tile


def grate() -> Pix:
    """Iron bars before dark water."""
    tile = Pix(16, 16)
    tile.rect(0, 0, 16, 16, "a")
    for y in range(16):
        for x in range(16):
            if dither(x, y) < 0.2:
                tile.set(x, y, "b")
    for x in (1, 6, 11):
        for offset, letter in enumerate("xzy"):
            tile.rect(x + offset, 0, 1, 16, letter)
    tile.rect(0, 6, 16, 3, "y")
    tile.rect(0, 6, 16, 1, "A")
    tile.rect(0, 8, 16, 1, "x")
    for x in (2, 7, 12):
        tile.set(x, 7, "B")
    return tile


def inner_wall(kind: str = "plain") -> Pix:
    """The dark wall of a room: plain, with a beam, a window on the dusk, or a shelf."""
    tile = Pix(16, 16)
    shades = {"x": "1", "y": "x", "z": "2", "A": "y"}
    base = stone()
    for y in range(16):
        for x in range(16):
            tile.set(x, y, shades.get(base.get(x, y), "1"))
    if kind == "beam":
        tile.rect(0, 1, 16, 5, "t")
        tile.rect(0, 1, 16, 1, "u")
        tile.rect(0, 5, 16, 1, "s")
        for x in (3, 11):
            tile.rect(x, 2, 1, 3, "s")
    if kind == "window":
        tile.rect(2, 1, 12, 13, "s")
        tile.rect(3, 2, 10, 11, "t")
        for y, letter in enumerate("4556677788"):
            tile.rect(4, 3 + y, 8, 1, letter)
        tile.rect(7, 3, 2, 10, "t")
        tile.rect(4, 7, 8, 1, "t")
        tile.rect(2, 14, 12, 1, "u")
    if kind == "shelf":
        tile.rect(1, 10, 14, 2, "u")
        tile.rect(1, 10, 14, 1, "v")
        for x, letter in ((2, "c"), (5, "I"), (9, "o"), (12, "E")):
            tile.rect(x, 5, 2, 5, letter)
            tile.rect(x, 5, 1, 5, "0" if letter == "E" else "s")
            tile.set(x + 1, 6, "f")
    return tile
