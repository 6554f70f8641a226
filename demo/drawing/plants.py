"""Reeds and tufts."""

from __future__ import annotations

from drawing.pix import Pix, nearest, randomness


def reed_bed(
    width: int, height: int, seed: int, count: int, heads: bool, greens: str = "nopqr"
) -> Pix:
    """A stand of reeds, dark at the back, with heads and bent leaves."""
    bed, draw = Pix(width, height), randomness(seed)
    for k in range(count):
        front = k / count
        root = int(draw() * (width - 2)) + 1
        length = int(height * (0.45 + draw() * 0.55))
        lean = (draw() - 0.5) * 5
        if front < 0.4:
            colour = greens[0]
        elif front < 0.7:
            colour = greens[1]
        else:
            colour = greens[3] if draw() < 0.35 else greens[2]
        x = root
        for step in range(length):
            part = step / length
            x = nearest(root + lean * part * part)
            bed.set(x, height - 1 - step, colour)
            if step < length * 0.5 and front > 0.4 and k % 3 == 0:
                bed.set(x + 1, height - 1 - step, greens[1])
        tip = height - length
        if heads and k % 4 == 3 and length > height * 0.7 and tip > 1:
            for i in range(6):
                bed.set(x, tip + i, "w" if i == 0 else "u")
                bed.set(x + 1, tip + i, "t")
            bed.set(x, tip - 1, "q")
            bed.set(x, tip - 2, "q")
        if front > 0.5 and k % 3 == 1:
            bend = height - int(length * 0.55)
            side = -1 if draw() < 0.5 else 1
            for i in range(1, 6):
                leaf = bend - (i if i < 3 else 3 - (i - 3))
                bed.set(root + side * i, leaf, greens[1] if i > 3 else greens[3])
    return bed


def tuft(seed: int, count: int = 9) -> Pix:
    """A tuft of grass on the lower edge of a tile."""
    tile, draw = Pix(16, 16), randomness(seed)
    for k in range(count):
        root = 2 + int(draw() * 12)
        length = 4 + int(draw() * 7)
        lean = (draw() - 0.5) * 6
        for step in range(length):
            light = "r" if step > length - 2 else "p"
            colour = "n" if k < 3 else "o" if k < 6 else light
            tile.set(nearest(root + lean * (step / length) ** 2), 15 - step, colour)
    return tile
