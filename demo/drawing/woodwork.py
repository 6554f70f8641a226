"""Planks, posts, rails, ladders and crates of the boardwalk."""

from __future__ import annotations

import math

from drawing.pix import Pix, nearest


def plank(
    joint: int = 7,
    beams: tuple[int, ...] = (3, 11),
    left: bool = False,
    right: bool = False,
    broken: bool = False,
) -> Pix:
    """One tile of walkway, 5 px thick, on the beams it rests on."""
    tile = Pix(16, 16)
    for x in range(16):
        at_joint = x in (joint, 15)
        for y, letter in enumerate("wvuus"):
            colour = letter
            if at_joint:
                colour = "u" if y == 0 else "s"
            elif y == 1 and (x * 3 + joint) % 7 == 0:
                colour = "u"
            elif y == 2 and (x * 5 + 3) % 9 == 0:
                colour = "t"
            tile.set(x, y, colour)
        if not at_joint and x % 8 in (1, 6):
            tile.set(x, 1, "s")
        tile.set(x, 5, "t")
        tile.set(x, 6, "t" if (x * 5) % 6 == 0 else "s")
        tile.set(x, 7, "0")
    for x in beams:
        tile.rect(x, 5, 3, 3, "u")
        for dx, y, colour in ((0, 5, "v"), (2, 6, "t"), (2, 7, "s"), (0, 7, "t"), (1, 8, "0")):
            tile.set(x + dx, y, colour)
    if left:
        for y in range(8):
            tile.set(0, y, "t" if y < 5 else ".")
        for x, y in ((0, 0), (0, 5), (0, 6), (0, 7), (1, 7)):
            tile.set(x, y, ".")
    if right:
        for y in range(8):
            tile.set(15, y, "s" if y < 5 else ".")
        tile.set(15, 0, ".")
        tile.set(14, 7, ".")
    if broken:
        for y in range(9):
            for x in range(9 - y % 3, 13 + (y & 1)):
                tile.set(x, y, ".")
        tile.set(8, 1, "w")
        tile.set(13, 1, "w")
    return tile


def post(start: int = 0, top: bool = False, bands: tuple[int, ...] = ()) -> Pix:
    """An upright pile, with moss bands and a cap where asked."""
    tile = Pix(16, 16)
    for y in range(start, 16):
        grain = (y * 7) % 11
        letters = ("0", "u" if grain == 3 else "v", "t" if grain == 5 else "u")
        letters += ("u" if grain == 1 else "t", "s", "0")
        for x, letter in enumerate(letters, 5):
            tile.set(x, y, letter)
    for band in bands:
        tile.rect(5, band, 6, 2, "q")
        tile.rect(5, band + 1, 6, 1, "o")
        for x, colour in ((7, "r"), (5, "0"), (10, "0")):
            tile.set(x, band, colour)
    if top:
        tile.rect(6, start, 4, 1, "w")
        tile.set(5, start, ".")
        tile.set(10, start, ".")
        tile.rect(6, start - 1, 4, 1, "0")
    return tile


def rail(left: bool = False, right: bool = False) -> Pix:
    """A rope rail, its ends on posts."""
    tile = Pix(16, 16)
    for x in range(2 if left else 0, 14 if right else 16):
        sag = nearest(1.6 * math.sin(math.pi * x / 15))
        tile.set(x, 5 + sag, "v" if x % 3 else "w")
        tile.set(x, 6 + sag, "t")
    if left or right:
        x = 2 if left else 12
        for y in range(2, 16):
            for offset, letter in enumerate("vus"):
                tile.set(x + offset, y, letter)
        tile.rect(x, 2, 3, 1, "w")
    return tile


def brace() -> Pix:
    """A diagonal strut, falling to the right."""
    tile = Pix(16, 16)
    for i in range(16):
        for offset, letter in enumerate("vus"):
            tile.set(i, i + offset, letter)
    return tile


def steps() -> Pix:
    """Four steps, rising to the right."""
    tile = Pix(16, 16)
    for k in range(4):
        tile.rect(k * 4, 12 - k * 4, 4, 1, "w")
        tile.rect(k * 4, 13 - k * 4, 4, 1, "u")
        tile.rect(k * 4, 14 - k * 4, 4, 2, "s")
        for y in range(16 - k * 4, 16):
            tile.set(k * 4, y, "t")
    for i in range(16):
        tile.set(i, 17 - i, "t")
        tile.set(i, 18 - i, "s")
    return tile


def ladder() -> Pix:
    tile = Pix(16, 16)
    for y in range(16):
        for x, letter in ((4, "u"), (5, "s"), (10, "v"), (11, "s")):
            tile.set(x, y, letter)
    for y in (1, 5, 9, 13):
        tile.rect(4, y, 8, 1, "w")
        tile.rect(4, y + 1, 8, 1, "t")
    return tile


def crate() -> Pix:
    tile = Pix(16, 16)
    tile.rect(2, 5, 12, 11, "t")
    tile.rect(2, 5, 12, 1, "w")
    tile.rect(2, 6, 12, 1, "v")
    for x in (4, 8, 11):
        tile.rect(x, 6, 1, 10, "s")
    tile.rect(2, 8, 12, 1, "y")
    tile.rect(2, 13, 12, 1, "y")
    tile.rect(2, 15, 12, 1, "0")
    tile.rect(2, 5, 1, 11, "s")
    tile.rect(13, 5, 1, 11, "s")
    return tile
