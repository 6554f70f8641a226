"""The edges of what is solid, cell by cell: those inside of cells, and of each border that part
which only one of its two cells covers.

        ┌───┬───┐
        │▓▓▓│   │      both cover the lower half of the border: no edge there;
        │▓▓▓│▓▓▓│      the upper half one alone does: an edge
        └───┴───┘
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

import numpy as np

from rushweed.core.arrays import Indices
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Stopping
from rushweed.core.values import Rect, Size
from rushweed.core.weave.covered_cells import (
    Covered,
    Edge,
    Spans,
    coded,
    grouped,
)
from rushweed.core.weave.rings import Segments

NONE = np.zeros((0, 4))


def edges_in(
    project: Project, level: Level, area: Rect, stops: Stopping, layer: int | None = None
) -> Segments:
    """The outline's edges of the cells in an area, each common border with the cell at its left
    or above."""
    tile = project.rules.tile
    codes, parts = coded(
        project, level, Rect(area.x - 1, area.y - 1, area.width + 1, area.height + 1), stops, layer
    )
    found = [NONE]
    inside = codes[1:, 1:]
    rows, columns = np.nonzero(inside)
    for code, at in grouped(inside[rows, columns].astype(np.int64)):
        if parts[code].inner:
            places = columns[at] + area.x, rows[at] + area.y
            found.append(_placed(parts[code].inner, *places, tile))
    pairs = (
        (codes[1:, :-1], codes[1:, 1:], True),
        (codes[:-1, 1:], codes[1:, 1:], False),
    )
    for before, after, upright in pairs:
        rows, columns = np.nonzero((before > 0) | (after > 0))
        both = before[rows, columns].astype(np.int64) << 32 | after[rows, columns]
        for pair, at in grouped(both):
            edges = _border(parts[pair >> 32], parts[pair & 0xFFFFFFFF], upright)
            if edges:
                found.append(_placed(edges, columns[at] + area.x, rows[at] + area.y, tile))
    return np.concatenate(found)


def _placed(
    edges: Iterable[Edge],
    columns: Indices,
    rows: Indices,
    tile: Size,
) -> Segments:
    """Edges of a cell at several cells."""
    shapes = np.array(list(edges), np.float64).reshape(-1, 4)
    corners = np.stack([columns * tile.width, rows * tile.height] * 2, axis=-1)
    placed: Segments = (shapes[None] + corners[:, None]).reshape(-1, 4)
    return placed


def _border(before: Covered, after: Covered, upright: bool) -> tuple[Edge, ...]:
    """The edges on the border between two cells, in pixels of the one at the right or below."""
    first = before.right if upright else before.bottom
    second = after.left if upright else after.top
    edges: list[Edge] = []
    for low, high, covers in _differing(first, second):
        if upright:  # the cell before is solid on the left: its right edge runs upwards
            edges.append((0, high, 0, low) if covers else (0, low, 0, high))
        else:  # the cell above is solid: its lower edge runs to the right
            edges.append((low, 0, high, 0) if covers else (high, 0, low, 0))
    return tuple(edges)


def _differing(first: Spans, second: Spans) -> Iterable[tuple[float, float, bool]]:
    """The stretches that only one of two covers, and whether it is the first."""
    places = sorted({place for span in (*first, *second) for place in span})
    for low, high in pairwise(places):
        middle = (low + high) / 2
        one, other = (any(a < middle < b for a, b in spans) for spans in (first, second))
        if one != other:
            yield low, high, one
