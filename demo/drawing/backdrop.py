"""Dusk over the fen: sky, sun, far hills with willows, near reeds, and the glow of a lamp.

Every backdrop meets itself at its left and right edge, so that it can be repeated.
"""

from __future__ import annotations

import math

from drawing.pix import Pix, dither, nearest, randomness

SKY = "12345678"
CLOUDS = (
    (0.12, 0.50, 46, "5"),
    (0.30, 0.60, 60, "6"),
    (0.78, 0.46, 52, "4"),
    (0.52, 0.74, 70, "7"),
    (0.05, 0.80, 44, "7"),
    (0.88, 0.68, 40, "6"),
    (0.44, 0.36, 38, "3"),
    (0.70, 0.28, 30, "3"),
    (0.20, 0.26, 34, "3"),
)
WILLOWS = ((0.12, 13), (0.19, 9), (0.47, 11), (0.83, 15), (0.9, 10))


def sky(width: int, height: int, horizon: int, with_sun: bool = True) -> Pix:
    picture = Pix(width, height)
    for y in range(height):
        level = min(1.0, y / horizon) ** 1.12 * 6.9
        step, part = int(level), level - int(level)
        for x in range(width):
            picture.set(x, y, SKY[min(7, step + (part > dither(x, y) * 0.9 + 0.05))])
    draw = randomness(4)
    for _ in range(width // 6):
        x, y = int(draw() * width), int(draw() * horizon * 0.4)
        picture.set(x, y, "8" if draw() < 0.3 else "5")
    if with_sun:
        disc = sun()
        picture.blit(disc, nearest(width * 0.66) - 13, horizon - 24)
    for across, down, length, colour in CLOUDS:
        _cloud(
            picture, nearest(across * width - length / 2), nearest(down * horizon), length, colour
        )
    return picture


def _cloud(picture: Pix, x: int, y: int, length: int, colour: str) -> None:
    for i in range(length):
        end = min(i, length - i)
        for j in range(3 if end > length * 0.32 else 2 if end > length * 0.15 else 1):
            if not (i % 9 == 0 and end < length * 0.2):
                picture.set((x + i) % picture.width, y - j + ((i >> 4) & 1), colour)


def sun() -> Pix:
    """The low sun, barred by haze."""
    disc = Pix(27, 27)
    for y in range(-13, 14):
        for x in range(-13, 14):
            reach = math.hypot(x, y)
            if reach < 10.5:
                lit = "G" if reach < 8 else "8"
                disc.set(13 + x, 13 + y, "7" if y > 3 and y % 3 == 0 else lit)
    return disc


def far_fen(width: int, height: int, seed: int = 3) -> Pix:
    """Hills and willows far off."""
    picture = Pix(width, height)
    turn = 2 * math.pi / width
    ridge = [
        nearest(
            height * 0.42
            + math.sin(x * turn + seed) * 7
            + math.sin(x * turn * 3 + 1) * 4
            + math.sin(x * turn * 9) * 1.6
        )
        for x in range(width)
    ]
    for x in range(width):
        for y in range(ridge[x], height):
            picture.set(x, y, "4" if dither(x, y) < (y - ridge[x]) / 40 else "3")
    for across, size in WILLOWS:
        root = nearest(across * width)
        foot = ridge[root] + 2
        for y in range(-size, 1):
            for x in range(-size, size + 1):
                reach = math.hypot(x, y * 1.15 + size * 0.15)
                full = reach < size * 0.65 or math.fmod(x * x * 3 + y * 7 + x, 5) != 0
                if reach < size * 0.9 and full:
                    picture.set(root + x, foot + y - 3, "3")
        picture.rect(root - 1, foot - 4, 2, 6, "2")
    return picture


def near_fen(width: int, height: int, seed: int = 3) -> Pix:
    """A dark band of reeds in the middle distance."""
    picture, draw = Pix(width, height), randomness(seed)
    turn = 2 * math.pi / width
    for x in range(width):
        start = nearest(height * 0.52 + math.sin(x * turn * 2) * 3 + math.sin(x * turn * 7) * 1.5)
        for y in range(start, height):
            picture.set(x, y, "2")
    for k in range(int(width * 1.1)):
        root = int(draw() * width)
        clump = 0.5 + 0.5 * math.sin(root * turn * 3 + seed)
        length = int(height * (0.24 + 0.5 * clump * draw())) + 6
        lean = (draw() - 0.5) * 5
        for step in range(length):
            x = nearest(root + lean * (step / length) ** 2)
            picture.set(x % width, nearest(height * 0.6) - step, "2")
        if k % 5 == 0 and length > 16:
            for dx in (0, 1):
                for dy in range(5):
                    x = (nearest(root + lean) + dx) % width
                    picture.set(x, nearest(height * 0.6) - length + dy, "2")
    return picture


def glow() -> Pix:
    """The dithered light around a lamp."""
    halo = Pix(72, 72)
    for y in range(72):
        for x in range(72):
            reach = math.hypot(x - 35.5, y - 35.5) / 36
            if reach < 1 and dither(x, y) < (1 - reach) ** 2 * 0.55:
                halo.set(x, y, "F" if reach < 0.3 else "E")
    return halo
