"""Water of the fen, at the surface and below."""

from __future__ import annotations

from drawing.pix import Pix, dither

SURFACE = (3, 3, 2, 2, 3, 3, 4, 4, 3, 3, 2, 2, 3, 4, 4, 3)
GLINTS = ((2, 6, 4), (9, 8, 5), (5, 11, 3), (12, 13, 3), (0, 13, 2))


def surface(phase: int) -> Pix:
    """The top of the water at one of four moments."""
    tile = Pix(16, 16)
    for x in range(16):
        start = SURFACE[(x + phase * 4) & 15]
        for y in range(start, 16):
            depth = y - start
            shallow = depth < 4 + dither(x, y) * 4
            tile.set(x, y, "f" if depth == 0 else "d" if depth == 1 else "c" if shallow else "b")
    for x, y, length in GLINTS:
        for i in range(length):
            tile.set((x + i + phase * 4) & 15, y, "c" if i in (0, length - 1) else "d")
    return tile


def body(variant: int, deep: bool = False) -> Pix:
    """Water under the surface."""
    tile = Pix(16, 16)
    for y in range(16):
        for x in range(16):
            dark = dither(x, y) < (0.12 if deep else y / 22)
            tile.set(x, y, ("b" if dark else "a") if deep else ("a" if dark else "b"))
    glints = ((3, 3, 4), (11, 7, 3), (6, 12, 3)) if variant else ((8, 2, 5), (1, 8, 3), (10, 12, 4))
    for x, y, length in glints:
        for i in range(length):
            tile.set((x + i) & 15, y, "b" if deep else "c")
    return tile


def pile_in_water(pile: Pix) -> Pix:
    """Where a pile goes into the water."""
    tile = Pix(16, 16).blit(surface(0), 0, 0)
    for y in range(6):
        for x in range(16):
            if pile.get(x, y) != ".":
                tile.set(x, y, pile.get(x, y))
    for y in range(6, 16):
        for x in range(5, 11):
            if dither(x, y) < 0.55:
                tile.set(x, y, "a")
    tile.rect(3, 5, 3, 1, "f")
    tile.rect(10, 5, 3, 1, "f")
    tile.rect(4, 6, 8, 1, "e")
    return tile
