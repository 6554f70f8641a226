"""A small picture of palette letters, and the few strokes the art is made of."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

PALETTE = {
    "0": "#15141d", "1": "#232035", "2": "#37324f", "3": "#524a6c", "4": "#766386", "5": "#a37c90",
    "6": "#d19c92", "7": "#efc195", "8": "#fbe3b6",
    "a": "#142c3b", "b": "#1d4251", "c": "#2d606c", "d": "#4a8585", "e": "#86b3a1", "f": "#c8dcbf",
    "g": "#221a22", "h": "#38282e", "i": "#543c3c", "j": "#745446", "k": "#967252", "l": "#bd986c",
    "m": "#1b2b29", "n": "#2d4437", "o": "#48653d", "p": "#6f8646", "q": "#a3a957", "r": "#d4cb80",
    "s": "#35232a", "t": "#593a35", "u": "#815442", "v": "#aa7955", "w": "#d2a676",
    "x": "#2b2f3d", "y": "#484d5e", "z": "#6c727f", "A": "#969b9f", "B": "#c2c4bc",
    "C": "#7a3320", "D": "#c5622c", "E": "#ef9a3e", "F": "#ffd069", "G": "#fff3b8",
    "H": "#532030", "I": "#87323f", "J": "#b5524a", "K": "#84503f", "L": "#c48a68", "M": "#e9bc92",
    "P": "#eceedd", "Q": "#b6c0c2", "R": "#7f8fa2", "S": "#56637a", "X": "#ff00ff",
}  # fmt: skip

THRESHOLDS = ((0, 8, 2, 10), (12, 4, 14, 6), (3, 11, 1, 9), (15, 7, 13, 5))


def dither(x: int, y: int) -> float:
    """The threshold of an ordered dither at a pixel, between 0 and 1."""
    return (THRESHOLDS[y & 3][x & 3] + 0.5) / 16


def nearest(value: float) -> int:
    """The nearest whole number, halves up."""
    return math.floor(value + 0.5)


def randomness(seed: int) -> Callable[[], float]:
    """A small generator of numbers between 0 and 1, the same for the same seed everywhere."""
    state = seed

    def draw() -> float:
        nonlocal state
        state = (state + 0x6D2B79F5) & 0xFFFFFFFF
        value = ((state ^ (state >> 15)) * (1 | state)) & 0xFFFFFFFF
        mixed = ((value ^ (value >> 7)) * (61 | value)) & 0xFFFFFFFF
        value = ((value + mixed) & 0xFFFFFFFF) ^ value
        return (value ^ (value >> 14)) / 4294967296

    return draw


class Pix:
    """A picture of palette letters; a point is nothing."""

    def __init__(self, width: int, height: int) -> None:
        self.width = width
        self.height = height
        self.rows = [["."] * width for _ in range(height)]

    def set(self, x: float, y: float, colour: str) -> None:
        x, y = int(x), int(y)
        if 0 <= x < self.width and 0 <= y < self.height:
            self.rows[y][x] = colour

    def get(self, x: int, y: int) -> str:
        inside = 0 <= x < self.width and 0 <= y < self.height
        return self.rows[y][x] if inside else "."

    def rect(self, x: int, y: int, width: int, height: int, colour: str) -> None:
        for row in range(y, y + height):
            for column in range(x, x + width):
                self.set(column, row, colour)

    def map(self, rows: list[str], x: int = 0, y: int = 0) -> Pix:
        for row, letters in enumerate(rows):
            for column, letter in enumerate(letters):
                if letter not in ". ":
                    self.set(x + column, y + row, letter)
        return self

    def blit(self, other: Pix, x: int, y: int, flip: bool = False) -> Pix:
        for row in range(other.height):
            for column in range(other.width):
                letter = other.get(other.width - 1 - column if flip else column, row)
                if letter != ".":
                    self.set(x + column, y + row, letter)
        return self

    def crop(self, x: int, y: int, width: int, height: int) -> Pix:
        part = Pix(width, height)
        part.rows = [[self.get(x + i, y + j) for i in range(width)] for j in range(height)]
        return part

    def line(self, x0: int, y0: int, x1: int, y1: int, colour: str) -> Pix:
        steps = max(abs(x1 - x0), abs(y1 - y0), 1)
        for step in range(steps + 1):
            x = nearest(x0 + (x1 - x0) * step / steps)
            self.set(x, nearest(y0 + (y1 - y0) * step / steps), colour)
        return self

    def scaled(self, factor: int) -> Pix:
        big = Pix(self.width * factor, self.height * factor)
        for y in range(big.height):
            big.rows[y] = [self.rows[y // factor][x // factor] for x in range(big.width)]
        return big

    def on(self, colour: str) -> Pix:
        filled = Pix(self.width, self.height)
        filled.rows = [[colour if c == "." else c for c in row] for row in self.rows]
        return filled

    def pixels(self) -> np.ndarray:
        """Pixels of shape (height, width, 4), dtype uint8, straight alpha."""
        table = {letter: (*bytes.fromhex(code[1:]), 255) for letter, code in PALETTE.items()}
        table["."] = (0, 0, 0, 0)
        return np.array([[table[letter] for letter in row] for row in self.rows], np.uint8)
