"""The sluice wheel in eight numbered frames of 32 × 32."""

from __future__ import annotations

import math

from drawing.pix import Pix

SPOKES = 6


def wheel(turn: float) -> Pix:
    """The wheel turned by an angle in radians, lit from the upper left."""
    frame = Pix(32, 32)
    for y in range(32):
        for x in range(32):
            letter = _letter(x - 15.5, y - 15.5, turn)
            if letter:
                frame.set(x, y, letter)
    frame.rect(15, 15, 2, 2, "B")
    return frame


def frames() -> list[Pix]:
    return [wheel(index * math.pi / 24) for index in range(8)]


def _letter(dx: float, dy: float, turn: float) -> str:
    reach = math.hypot(dx, dy)
    lit = dx + dy < 0
    angles = [turn + spoke * math.pi / 3 for spoke in range(SPOKES)]
    if any(math.hypot(dx - 13.2 * math.cos(a), dy - 13.2 * math.sin(a)) < 1.1 for a in angles):
        return "x"
    if 11.2 < reach < 15.5:
        if reach > 14.6:
            return "0"
        if reach < 12:
            return "s"
        return ("w" if reach > 13.6 else "v") if lit else ("u" if reach > 13.2 else "t")
    if reach < 4.6:
        return "0" if reach > 3.7 else "A" if lit else "y"
    letter = ""
    if reach <= 11.2:
        for angle in angles:
            along = dx * math.cos(angle) + dy * math.sin(angle)
            aside = -dx * math.sin(angle) + dy * math.cos(angle)
            if along > 0 and abs(aside) < 1.6:
                letter = "w" if aside < -0.6 else "v" if aside < 0.6 else "t"
    return letter
