"""The rectangles of a sheet's pieces on the screen: found by place, and drawn as cut lines."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain

import numpy as np
from PyQt6.QtCore import QRect
from PyQt6.QtGui import QPainter

from rushweed.core.values import Rect
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_stitches

SMALLEST_CELL = 4
TOUCHING = 4
"""Lines of pieces that lie so few pixels outside of an area run on into it."""


class RectIndex:
    """Rectangles of a sheet, found by place without asking each one."""

    def __init__(self, edges: np.ndarray) -> None:
        self._edges = edges

    def within(self, area: Rect, narrowest: float = 0) -> list[int]:
        """The places, in their order, of all rectangles that share pixels with an area, as far as
        they are so wide."""
        shared = _sharing(self._edges, area)
        if narrowest > 0:
            shared &= self._edges[:, 2] - self._edges[:, 0] >= narrowest
        found: list[int] = np.flatnonzero(shared).tolist()
        return found

    def changed(self, rects: Mapping[int, Rect]) -> np.ndarray:
        """The edges as they are when the rectangles in these places are others."""
        edges = self._edges.copy(order="F")
        edges[list(rects)] = edges_of(list(rects.values()))
        return edges


class CutLines:
    """The cut lines of many pieces, joined where they run on, culled to what can be seen."""

    def __init__(self, edges: np.ndarray) -> None:
        self._edges = edges
        self._smallest = int((edges[:, 2:] - edges[:, :2]).min()) if len(edges) else 0
        self._area = Rect(0, 0, 0, 0)
        """Where the lines are known."""
        self._upright = self._level = np.empty((0, 3), np.int64)

    def draw(self, painter: QPainter, canvas: Canvas) -> None:
        if self._smallest * canvas.view.scale < SMALLEST_CELL:
            return
        seen = canvas.visible()
        view = canvas.view
        if self._area.intersection(seen) != seen:
            self._find(seen.grown(max(seen.width, seen.height) // 4))
        upright = _culled(self._upright, seen.x, seen.right, seen.y, seen.bottom)
        level = _culled(self._level, seen.y, seen.bottom, seen.x, seen.right)
        scale = view.scale
        xs = np.floor(view.left + upright[:, 0] * scale).astype(int).tolist()
        ys = np.floor(view.top + upright[:, 1:] * scale).astype(int).tolist()
        verticals = [QRect(x, y0, 1, y1 - y0 + 1) for x, (y0, y1) in zip(xs, ys, strict=True)]
        ys = np.floor(view.top + level[:, 0] * scale).astype(int).tolist()
        ends = np.floor(view.left + level[:, 1:] * scale).astype(int).tolist()
        levels = [QRect(x0, y, x1 - x0 + 1, 1) for y, (x0, x1) in zip(ys, ends, strict=True)]
        draw_stitches(painter, verticals, levels)

    def _find(self, area: Rect) -> None:
        """The lines of what lies in an area, and those that touch it."""
        self._area = area
        x0, y0, x1, y1 = self._edges[_sharing(self._edges, area.grown(TOUCHING))].T
        self._upright = _joined(np.r_[x0, x1], np.r_[y0, y0], np.r_[y1, y1])
        self._level = _joined(np.r_[y0, y1], np.r_[x0, x0], np.r_[x1, x1])


def edges_of(rects: Sequence[Rect]) -> np.ndarray:
    """Left, top, right and bottom of every rectangle, of shape (count, 4), each in a row of its
    own in memory, for they are compared one by one."""
    flat = np.fromiter(chain.from_iterable(rects), np.int64, 4 * len(rects)).reshape(-1, 4)
    flat[:, 2:] += flat[:, :2]
    return np.asfortranarray(flat)


def _sharing(edges: np.ndarray, area: Rect) -> np.ndarray:
    """Which rectangles share pixels with an area."""
    x0, y0, x1, y1 = edges.T
    shared: np.ndarray = (x0 < area.right) & (x1 > area.x) & (y0 < area.bottom) & (y1 > area.y)
    return shared


def _joined(at: np.ndarray, start: np.ndarray, end: np.ndarray) -> np.ndarray:
    """Lines (at, start, end) with those on one line joined over gaps of up to 2 px."""
    order = np.lexsort((start, at))
    at, start, end = at[order], start[order], end[order]
    if not len(order):
        return np.empty((0, 3), np.int64)
    own_stretch = at * (2 * int(np.abs(end).max() + np.abs(start).max()) + 3)
    reached = np.maximum.accumulate(end + own_stretch)
    begins = np.r_[True, start[1:] + own_stretch[1:] > reached[:-1] + 2]
    ends = np.r_[begins[1:], True]
    return np.column_stack([at[begins], start[begins], (reached - own_stretch)[ends]])


def _culled(lines: np.ndarray, low: int, high: int, first: int, last: int) -> np.ndarray:
    keep = (lines[:, 0] >= low - 1) & (lines[:, 0] <= high + 1)
    keep &= (lines[:, 2] >= first) & (lines[:, 1] <= last)
    kept = lines[keep].copy()
    kept[:, 1] = np.maximum(kept[:, 1], first - 2)
    kept[:, 2] = np.minimum(kept[:, 2], last + 2)
    return kept
