"""Pages of loose pieces of known boxes: trimmed figures on shelves, apart or edge to edge."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from rushweed.core.values import Rect
from tools.corpus.figures import Picture, Random, creature, frame, palette, thing

Page = tuple[Picture, list[Rect]]


def apart(draw: Random) -> Page:
    """Figures and things of all sizes with empty pixels between."""
    return _shelved(draw, [_of_any_size(draw) for _ in range(18)], int(draw.integers(2, 8)))


def with_sparks(draw: Random) -> Page:
    """The same, each with a few bits that hang together with nothing, nearer than other figures."""
    figures = [_of_any_size(draw) for _ in range(14)]
    for figure in figures:
        height, width = figure.shape[:2]
        for _ in range(int(draw.integers(0, 4))):
            y, x = int(draw.integers(0, height - 1)), int(draw.integers(0, width - 1))
            figure[y : y + 2, x : x + 2] = (250, 220, 120, 255)
    return _shelved(draw, figures, int(draw.integers(8, 14)))


def one_creature(draw: Random) -> Page:
    """Frames of one creature, trimmed, edge to edge."""
    side = int(draw.integers(20, 70))
    kind, colours = creature(draw, side, side), palette(draw)
    count = int(draw.integers(8, 28))
    figures = []
    for phase in np.linspace(0, 6, count):
        breath = 1 + 0.08 * np.sin(phase)
        moved = kind | {"body": kind["body"] * breath, "tall": kind["tall"] / breath}
        figures.append(frame(moved, colours, phase, limbs=False))
    return _shelved(draw, figures, 0)


def many_creatures(draw: Random) -> Page:
    """Figures of all sizes, trimmed, edge to edge."""
    return _shelved(draw, [_of_any_size(draw) for _ in range(18)], 0)


PAGES: dict[str, Callable[[Random], Page]] = {
    "of all sizes, apart": apart,
    "of all sizes, with bits that fly off": with_sparks,
    "one creature, edge to edge": one_creature,
    "of all sizes, edge to edge": many_creatures,
}


def pages(each: int, seed: int = 0) -> list[tuple[str, Picture, list[Rect]]]:
    """`each` pages of every kind with the boxes of their pieces."""
    return [
        (kind, *make(np.random.default_rng([place, seed + index])))
        for place, (kind, make) in enumerate(PAGES.items())
        for index in range(each)
    ]


def _of_any_size(draw: Random) -> Picture:
    width, height = (int(side) for side in draw.integers(12, 80, 2))
    if draw.random() < 0.5:
        return thing(draw, width, height, palette(draw))
    return frame(creature(draw, width, height), palette(draw), 0.0)


def _shelved(draw: Random, figures: list[Picture], between: int) -> Page:
    """Figures trimmed and laid on shelves from left to right, the tallest of each telling how high
    it is."""
    trimmed = [_trimmed(figure) for figure in figures]
    wide = max(figure.shape[1] for figure in trimmed)
    width = int(draw.integers(3, 7)) * (wide + between)
    x = y = shelf = 0
    boxes = []
    for figure in trimmed:
        height, across = figure.shape[:2]
        if x + across > width:
            x, y, shelf = 0, y + shelf + between, 0
        boxes.append(Rect(x, y, across, height))
        x, shelf = x + across + between, max(shelf, height)
    picture = np.zeros((y + shelf, width, 4), np.uint8)
    for figure, box in zip(trimmed, boxes, strict=True):
        picture[box.y : box.bottom, box.x : box.right] = figure
    return picture, boxes


def _trimmed(figure: Picture) -> Picture:
    rows, columns = np.flatnonzero(figure[..., 3].any(1)), np.flatnonzero(figure[..., 3].any(0))
    return figure[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
