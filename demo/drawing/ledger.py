"""The ledger's surround, 18 × 18, made to stretch with borders of 6."""

from __future__ import annotations

from drawing.pix import Pix


def ledger() -> Pix:
    surround = Pix(18, 18)
    for y in range(18):
        for x in range(18):
            depth = min(x, y, 17 - x, 17 - y)
            rim = "w" if x + y < 17 else "u"
            surround.set(x, y, ("0", rim, "u", "s", "8", "7", "7", "7", "7")[depth])
    for x in (0, 12):
        for y in (0, 12):
            surround.rect(x + 1, y + 1, 4, 4, "z")
            surround.rect(x + 1, y + 1, 4, 1, "B")
            surround.rect(x + 1, y + 4, 4, 1, "x")
            surround.set(x + 2, y + 2, "x")
            surround.set(x + 3, y + 3, "A")
    return surround
