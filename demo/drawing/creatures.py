"""Small creatures: the crab, stored at four times its pixels, and the eel on flat magenta."""

from __future__ import annotations

import math

from drawing.pix import Pix, nearest

CRAB = (16, 12)
HALF_CRAB = [
    ".00.....",
    "0JJ0....",
    "0J00.0..",
    "0JJ00P0.",
    ".0I00P0.",
    "..0I0000",
    "...0JJEJ",
    "..0JJEJJ",
    ".00IJJJJ",
    "0I0IIIJJ",
    "0.0HHIII",
    ".0I0.000",
]
RIGHT_CLAW = [".00.", "0JJ0", "0J00", "0JJ0"]
LEFT_CLAW = [".00.", "0JJ0", "00J0", "0JJ0"]


def crab(raised: str) -> Pix:
    """The crab, its right or left claw raised and shut."""
    frame = Pix(*CRAB)
    for y, letters in enumerate(HALF_CRAB):
        for x, letter in enumerate(letters):
            if letter != ".":
                frame.set(x, y, letter)
                frame.set(15 - x, y, letter)
    first = 12 if raised == "right" else 0
    for y in range(4):
        for x in range(first, first + 4):
            frame.set(x, y, ".")
    if raised == "right":
        frame.map(RIGHT_CLAW, 12, -1)
        marks = ((13, 3, "0"), (14, 3, "0"), (0, 10, "."), (1, 11, "0"))
    else:
        frame.map(LEFT_CLAW, 0, -1)
        marks = ((1, 3, "0"), (2, 3, "0"), (15, 10, "."), (14, 11, "0"))
    for x, y, letter in marks:
        frame.set(x, y, letter)
    return frame


def crab_sheet(factor: int = 4) -> Pix:
    """Two frames of 16 × 12 with one empty column between, enlarged."""
    picture = Pix(33, 12).blit(crab("right"), 0, 0).blit(crab("left"), 17, 0)
    return picture.scaled(factor)


def eel(phase: float) -> Pix:
    """One frame of the eel swimming."""
    frame = Pix(32, 14)
    spine = {}
    for x in range(1, 31):
        part = x / 30
        swing = 1.2 + 2.6 * (1 - part) * 1.1
        spine[x] = 7 + math.sin(x * 0.42 + phase) * swing * (1 if part < 0.9 else 0.6)
    for x, middle in spine.items():
        half = 0.8 + x * 0.22 if x < 5 else 2.2 - (x - 26) * 0.35 if x > 26 else 2.1
        top, bottom = nearest(middle - half), nearest(middle + half)
        for y in range(top, bottom + 1):
            light = (y - middle) / half
            letter = "n" if light < -0.55 else "o" if light < 0.1 else "p" if light < 0.6 else "q"
            frame.set(x, y, letter)
        frame.set(x, top - 1, "m")
        frame.set(x, bottom + 1, "m")
    head = nearest(spine[27])
    frame.set(27, head - 1, "G")
    frame.set(28, head - 1, "0")
    frame.set(31, nearest(spine[30]), "m")
    return frame


def eel_sheet() -> Pix:
    """Four frames laid down a little carelessly."""
    picture = Pix(70, 32)
    for index, (x, y) in enumerate(((2, 1), (36, 2), (1, 17), (36, 17))):
        picture.blit(eel(index * 1.57), x, y)
    return picture.on("X")
