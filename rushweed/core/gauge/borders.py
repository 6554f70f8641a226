"""Nine-slice: the borders of a surround, whose corners keep their size while it stretches."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.sampling import scaled
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.rules import Filter
from rushweed.core.project.sheet import Borders, Piece
from rushweed.core.values import Refusal, Size
from rushweed.core.words import say

LONGEST_PATTERN = 16


def set_borders(project: Project, numbers: frozenset[int], borders: Borders | None) -> Project:
    """Give pieces borders, or none. Raises Refusal where they would cross in one of them."""

    def edit(piece: Piece) -> Piece:
        if borders is not None:
            check_borders(borders, piece.rect.size)
        return replace(piece, borders=borders)

    return with_pieces(project, numbers, edit)


def change_borders(project: Project, numbers: frozenset[int], point: str, value: Any) -> Project:
    """Change one point of the borders of pieces, a side or the middle; each keeps its others.
    Raises Refusal where they would cross in one of them."""

    def edit(piece: Piece) -> Piece:
        borders = replace(piece.borders or Borders(), **{point: value})
        check_borders(borders, piece.rect.size)
        return replace(piece, borders=borders)

    return with_pieces(project, numbers, edit)


def check_borders(borders: Borders, size: Size) -> None:
    """Raise Refusal for borders that leave no middle in a piece of that size."""
    if min(borders.left, borders.top, borders.right, borders.bottom) < 0:
        raise Refusal("A border is 0 px or wider.")
    for one, other, side, words in (
        (borders.left, borders.right, size.width, say("left and right")),
        (borders.top, borders.bottom, size.height, say("top and bottom")),
    ):
        if one + other >= side:
            raise Refusal(
                "The borders at {words} cross: {one} and {other} px leave no middle of {side} px.",
                words=words,
                one=one,
                other=other,
                side=side,
            )


def guess_borders(picture: Picture) -> Borders | None:
    """The borders around the longest stretch that repeats across and down; None where nothing
    does. The middle is tiled where it repeats in patterns wider than a pixel."""
    across = _repeating(picture.swapaxes(0, 1))
    down = _repeating(picture)
    if across is None or down is None:
        return None
    height, width = picture.shape[:2]
    tiled = across[2] > 1 or down[2] > 1
    return Borders(
        across[0], down[0], width - across[1], height - down[1], "tiled" if tiled else "stretched"
    )


def smallest(borders: Borders) -> Size:
    """The smallest size a surround is drawn at: its borders with a middle of one pixel."""
    return Size(borders.left + borders.right + 1, borders.top + borders.bottom + 1)


def surround(picture: Picture, borders: Borders, size: Size, filter: Filter = "nearest") -> Picture:  # noqa: A002
    """A picture drawn as a surround of some size in its own pixels: corners as they are, sides
    and middle stretched or tiled. It is never smaller than its borders allow."""
    least = smallest(borders)
    size = Size(max(size.width, least.width), max(size.height, least.height))
    height, width = picture.shape[:2]
    columns = _parts(borders.left, borders.right, width, size.width)
    rows = _parts(borders.top, borders.bottom, height, size.height)
    lines = []
    for (top, bottom), tall in rows:
        parts = [
            _filled(picture[top:bottom, left:right], Size(wide, tall), borders, filter)
            for (left, right), wide in columns
        ]
        lines.append(np.concatenate(parts, axis=1))
    return np.concatenate(lines, axis=0)


def _repeating(lines: Picture) -> tuple[int, int, int] | None:
    """Start and end of the longest stretch of lines that repeats, and the height of its pattern."""
    best: tuple[int, int, int] | None = None
    for pattern in range(1, min(LONGEST_PATTERN, len(lines) // 2) + 1):
        same = (lines[pattern:] == lines[:-pattern]).all(axis=(1, 2))
        edges = np.flatnonzero(np.diff(np.concatenate([[False], same, [False]]).astype(np.int8)))
        for start, end in edges.reshape(-1, 2).tolist():
            stretch = end - start + pattern
            enough = stretch >= 2 * pattern and (pattern == 1 or stretch >= 3 * pattern)
            if enough and (best is None or stretch > best[1] - best[0]):
                best = (start, end + pattern, pattern)
    if best is not None and best[0] == 0 and best[1] == len(lines):
        middle = len(lines) // 2
        return middle, middle + 1, 1
    return best


def _parts(first: int, last: int, side: int, wanted: int) -> list[tuple[tuple[int, int], int]]:
    """Where the three parts of a side begin and end, and how long each is to be."""
    spans = ((0, first), (first, side - last), (side - last, side))
    return list(zip(spans, (first, wanted - first - last, last), strict=True))


def _filled(part: Picture, size: Size, borders: Borders, filter: Filter) -> Picture:  # noqa: A002
    height, width = part.shape[:2]
    if (width, height) == tuple(size) or not part.size:
        return part if part.size else np.zeros((size.height, size.width, 4), np.uint8)
    if borders.middle == "tiled":
        rows = np.arange(size.height) % height
        tiled: Picture = part[rows[:, None], np.arange(size.width) % width]
        return tiled
    return scaled(part, size.width, size.height, filter)
