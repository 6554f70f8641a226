"""Sheets on the screen: their pictures as images, kept as long as there is room."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import replace
from itertools import chain

import numpy as np
from PyQt6.QtCore import QRect
from PyQt6.QtGui import QImage, QPainter

from rushweed.core.gather.art import Art, cut_out, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.thumbnails import thumbnail
from rushweed.core.orientation import turned
from rushweed.core.project.level import Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Colour, Rect, Refusal
from rushweed.core.weave.drawing import UNPOSED, Scene, missing
from rushweed.core.weave.posing import pose_of
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_stitches

SMALLEST_CELL = 4
TOUCHING = 4
"""Lines of pieces that lie so few pixels outside of an area run on into it."""


class Images:
    """Images of sheets and pieces for the screen, kept in the same bounded store as their
    pixels."""

    def __init__(self, art: Art) -> None:
        self.art = art

    def sheet(self, sheet: Sheet) -> QImage:
        """The sheet's picture as drawn. A red square when it cannot be read."""
        return self._get(picture_key(sheet), lambda: self.art.picture(sheet))

    def stored(self, sheet: Sheet) -> QImage:
        """The sheet's picture as gathered."""
        contents = tuple(source.content for source in sheet.sources)
        return self._get(("stored", contents, sheet.redrawn), lambda: self.art.stored(sheet))

    def piece(self, sheet: Sheet, piece: Piece, orientation: int = 0) -> QImage:
        """One piece, turned and flipped."""
        key = (picture_key(sheet), piece.rect, orientation)
        return self._get(
            key, lambda: turned(cut_out(self.art.picture(sheet), piece.rect), orientation)
        )

    def thumbnail(self, sheet: Sheet, side: int) -> QImage:
        """What stands for a sheet in a square of so many pixels; about twice as large at most."""
        first = sheet.pieces[0].rect if sheet.pieces else None
        key = ("thumbnail", picture_key(sheet), sheet.kind, first, side)
        return self._get(key, lambda: thumbnail(self.art, sheet, side))

    def number(self, project: Project, number: int, orientation: int = 0) -> QImage:
        """The piece with that number; a red square when there is none."""
        found = project.find(number)
        if found is None:
            return self._get(("missing", project.rules.tile), lambda: missing(*project.rules.tile))
        return self.piece(*found, orientation)

    def prop(self, project: Project, prop: Prop, tint: Colour | None = None) -> QImage:
        """A prop as it stands, under its own tint and another; as wide and high as its area."""
        found = project.find(prop.piece)
        plain = replace(UNPOSED, orientation=prop.orientation)
        pose = pose_of(prop)
        if found is None or (pose == plain and prop.tint is None and tint is None):
            return self.number(project, prop.piece, prop.orientation)
        sheet, piece = found
        key = picture_key(sheet), piece.rect, piece.standing, piece.borders, pose, prop.tint, tint
        return self._get(key, lambda: Scene(project, self.art).prop(prop, tint))

    def _get(self, key: Hashable, picture: Callable[[], Picture]) -> QImage:
        try:
            return self.art.memory.get(("image", key), lambda: to_image(picture()))
        except Refusal:
            return to_image(missing(32, 32))


class RectIndex:
    """Rectangles of a sheet, found by place without asking each one."""

    def __init__(self, edges: np.ndarray) -> None:
        self._edges = edges

    def within(self, area: Rect) -> list[int]:
        """The places, in their order, of all rectangles that share pixels with an area."""
        found: list[int] = np.flatnonzero(_sharing(self._edges, area)).tolist()
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
