"""The landing's things: boat, oar, lamp post, lanterns, bucket, net, float, bottle, reeds."""

from __future__ import annotations

import math

from drawing.pix import Pix, nearest
from drawing.plants import reed_bed, tuft

LANTERNS = [
    [
        "...00...",
        "..0zz0..",
        "...0....",
        "..0yy0..",
        ".0yzzy0.",
        "0yzzzzy0",
        "00000000",
        "0EFGGFE0",
        "0FGGGGF0",
        "0FGGGGF0",
        "0EFGGFE0",
        "0DEFFED0",
        "00000000",
        ".0yzzy0.",
        "..0000..",
    ],
    [
        "...00...",
        "..0zz0..",
        "...0....",
        "..0yy0..",
        ".0yzzy0.",
        "0yzzzzy0",
        "00000000",
        "0DEFFED0",
        "0EFGGFE0",
        "0EFGGFE0",
        "0DEFFED0",
        "0CDEEDC0",
        "00000000",
        ".0yzzy0.",
        "..0000..",
    ],
    [
        "...00...",
        "..0zz0..",
        "...0....",
        "..0yy0..",
        ".0yzzy0.",
        "0yzzzzy0",
        "00000000",
        "0xxyyxx0",
        "0xyzzyx0",
        "0xyyzyx0",
        "0xxyyxx0",
        "0xxxxxx0",
        "00000000",
        ".0yzzy0.",
        "..0000..",
    ],
]
BUCKET = [
    "..yyyyyy..",
    ".y......y.",
    ".y......y.",
    "0000000000",
    "0vwvvuut0.",
    ".0vvuutt0.",
    ".0zzzzyy0.",
    ".0vvuutt0.",
    ".0vuuutt0.",
    "..0uutt0..",
    "..00000...",
]
FLOAT = [
    "....00.....",
    "...0yy0....",
    "....0y0....",
    "...0000....",
    "..0nopp0...",
    ".0noopqp0..",
    ".0noopqp0..",
    ".08878870..",
    ".07788770..",
    "..0nopp0...",
    "..0nopp0...",
    "...0nn0....",
    "....00.....",
]
BOTTLE = [
    "..uu..",
    "..00..",
    "..0d..",
    "..0d..",
    ".0cd0.",
    "0bcde0",
    "0bcde0",
    "0bcdd0",
    "0bccd0",
    "0bbcd0",
    "0bbcc0",
    ".0000.",
]
BLADE = ["..00000.", "00wvvvv0", "0vvvuuu0", "000000. "]
SPARKS = ((9, 30, "F"), (12, 31, "E"), (10, 34, "G"))
"""Sparks of the first lantern, apart from it on the sheet."""


def boat() -> Pix:
    width = 52
    hull = Pix(width, 17)
    for x in range(width):
        along = abs((x - 25.5) / 26)
        top = nearest(4 - 3.2 * along**2.6)
        bottom = nearest(15.5 - 8 * along**4.2)
        for y in range(top, bottom + 1):
            hull.set(x, y, _hull(x, y, top, bottom, width))
        if top > 0:
            hull.set(x, top - 1, "0")
    for x in (12, 26, 40):
        hull.rect(x, 6, 1, 8, "s")
    for x in (15, 30):
        hull.rect(x, 2, 7, 1, "v")
        hull.rect(x, 3, 7, 1, "t")
    return hull


def _hull(x: int, y: int, top: int, bottom: int, width: int) -> str:
    if x in (0, width - 1) or y == bottom:
        return "0"
    if y - top < 3:
        return "wvs"[y - top]
    depth = (y - top) / (bottom - top + 0.01)
    if depth < 0.45:
        return "v" if (x * 5 + y * 2) % 13 == 0 else "u"
    if 0.52 <= depth < 0.75:
        return "u" if (x * 3 + y) % 11 == 0 else "t"
    return "s"


def oar() -> Pix:
    shaft = Pix(30, 6).line(0, 1, 21, 3, "v").line(0, 2, 21, 4, "t")
    return shaft.map(BLADE, 21, 1)


def lantern(index: int) -> Pix:
    """Burning bright, burning low, or out."""
    return Pix(8, 15).map(LANTERNS[index])


def lamp_post(lit: int = 0) -> Pix:
    pole = Pix(20, 50)
    for y in range(4, 50):
        letters = (
            "0",
            "u" if (y * 7) % 9 == 2 else "v",
            "t" if (y * 5) % 7 == 2 else "u",
            "t",
            "0",
        )
        for x, letter in enumerate(letters, 3):
            pole.set(x, y, letter)
    for x, y, width, height, letter in (
        (3, 3, 5, 1, "0"),
        (4, 4, 3, 1, "w"),
        (4, 7, 11, 1, "0"),
        (7, 8, 8, 1, "v"),
        (7, 9, 8, 1, "s"),
    ):
        pole.rect(x, y, width, height, letter)
    pole.line(8, 14, 12, 10, "u").line(8, 15, 13, 10, "s")
    for y, letter in ((20, "q"), (21, "o"), (22, "q")):
        pole.rect(3, y, 5, 1, letter)
    pole.rect(2, 46, 7, 4, "t")
    pole.rect(2, 46, 7, 1, "v")
    pole.rect(2, 49, 7, 1, "0")
    pole.rect(2, 46, 1, 4, "0")
    pole.rect(8, 46, 1, 4, "0")
    pole.rect(13, 10, 1, 2, "y")
    return pole.blit(lantern(lit), 10, 11)


def net() -> Pix:
    hoop = Pix(14, 14)
    for y in range(14):
        for x in range(14):
            reach = math.hypot(x - 6.5, y - 6.5)
            if reach < 6.6 and ((x + y) % 4 == 0 or (x - y + 16) % 4 == 0):
                hoop.set(x, y, "w")
            if abs(reach - 6) < 0.6:
                hoop.set(x, y, "u")
    return hoop


def things() -> list[tuple[str, Pix, int, int]]:
    """Every thing with its name and place on the sheet."""
    return [
        ("boat", boat(), 2, 2),
        ("oar", oar(), 2, 22),
        ("lamp_post", lamp_post(), 80, 2),
        ("lantern_1", lantern(0), 2, 32),
        ("lantern_2", lantern(1), 14, 32),
        ("lantern_out", lantern(2), 26, 32),
        ("bucket", Pix(10, 11).map(BUCKET), 39, 23),
        ("net", net(), 38, 37),
        ("float", Pix(11, 13).map(FLOAT), 66, 3),
        ("bottle", Pix(6, 12).map(BOTTLE), 57, 4),
        ("tuft", tuft(5, 12), 2, 50),
        ("tuft_b", tuft(8, 9), 20, 50),
        ("reeds", reed_bed(23, 42, 5, 26, True), 55, 24),
    ]


def sheet() -> Pix:
    picture = Pix(102, 68)
    for _, thing, x, y in things():
        picture.blit(thing, x, y)
    for x, y, letter in SPARKS:
        picture.set(x, y, letter)
    return picture
