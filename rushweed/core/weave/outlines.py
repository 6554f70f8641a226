"""What is solid in a level as outlines without inner seams, kept up to date cell by cell.

Shapes are cut at the borders of cells. What two cells cover on both sides of their common border
is no outline; what only one of them covers is. So a cell's outline depends on nothing but itself
and its four neighbours.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache, partial

import numpy as np

from rushweed.core.pixels import box_around
from rushweed.core.project.cells import CHUNK
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.shape import ALL_SIDES, Ring, Stopping
from rushweed.core.values import Rect
from rushweed.core.weave.covered_cells import (
    farthest,
    reach_of_number,
)
from rushweed.core.weave.outline_edges import NONE, edges_in
from rushweed.core.weave.rings import Segments, chained

BLOCK = 16
"""Outlines are kept in blocks of so many cells a side."""
MOST_AT_ONCE = 1 << 24
"""So many cells are looked at in one go."""
Key = tuple[int, int]


class SolidOutlines:
    """The outlines of what stops walkers in one level in one way."""

    def __init__(self, project: Project, level: Level, stops: Stopping = ALL_SIDES) -> None:
        self._stops = stops
        self._project, self._level = in_levels(project), level
        self._blocks: dict[Key, Segments] = {}

    def segments(self, area: Rect) -> Segments:
        """The edges in and around an area of cells, by whole blocks, in pixels of the level."""
        wanted = list(_blocks_of(area))
        for key in wanted:
            if key not in self._blocks:
                place = Rect(key[0] * BLOCK, key[1] * BLOCK, BLOCK, BLOCK)
                self._blocks[key] = edges_in(self._project, self._level, place, self._stops)
        found = [self._blocks[key] for key in wanted]
        return np.concatenate(found) if found else NONE

    def follow(self, project: Project, level: Level) -> None:
        """Take over a changed level; only blocks with changed cells, and their neighbours, are
        forgotten."""
        project = in_levels(project)
        if project.sheets is not self._project.sheets or _other_layers(self._level, level):
            self._blocks.clear()
        else:
            for old, new in zip(self._level.layers, level.layers, strict=True):
                if old.cells is not new.cells:
                    self._forget(old, new)
        self._project, self._level = project, level

    def _forget(self, old: Layer, new: Layer) -> None:
        before, after = old.cells.chunks, new.cells.chunks
        reach = cache(partial(reach_of_number, self._project))
        for key in before.keys() | after.keys():
            one, other = before.get(key), after.get(key)
            if one is other:
                continue
            blank = np.zeros((CHUNK, CHUNK), np.int32)
            first, second = (pair if pair else (blank, blank) for pair in (one, other))
            changed = (first[0] != second[0]) | (first[1] != second[1])
            area = box_around(changed)
            if area is None:
                continue
            numbers = np.unique([first[0][changed], second[0][changed]]).tolist()
            beyond = 1 + max(map(reach, numbers))
            area = area.moved(key[0] * CHUNK, key[1] * CHUNK).grown(beyond)
            for block in self._blocks.keys() & set(_blocks_of(area)):
                del self._blocks[block]


def merged_outlines(
    project: Project, level: Level, stops: Stopping = ALL_SIDES, layer: int | None = None
) -> list[Ring]:
    """The rings around all that is solid in a level, of one collision layer or of all: outer ones
    counter-clockwise as seen on the screen, holes clockwise; in pixels of the level."""
    found = [edges_in(project, level, part, stops, layer) for part in _occupied(project, level)]
    return chained(np.concatenate(found)) if found else []


def _occupied(project: Project, level: Level) -> Iterable[Rect]:
    """Areas without overlap that hold all that is painted, and what it reaches into: one, or where
    little lies far apart, those around it."""
    area = _painted(project, level)
    if area.area <= MOST_AT_ONCE:
        return [area] if area.area else []
    reach = 1 + farthest(project) // CHUNK
    near = range(-reach, reach + 1)
    keys = {key for layer in level.layers for key in layer.cells.chunks}
    grown = {(x + dx, y + dy) for x, y in keys for dx in near for dy in near}
    return [Rect(x * CHUNK, y * CHUNK, CHUNK, CHUNK) for x, y in sorted(grown)]


def _blocks_of(area: Rect) -> Iterable[Key]:
    for row in range(area.y // BLOCK, (area.bottom - 1) // BLOCK + 1):
        for column in range(area.x // BLOCK, (area.right - 1) // BLOCK + 1):
            yield column, row


def _other_layers(old: Level, new: Level) -> bool:
    """Whether layers were added, moved, hidden or shown, or are solid or not now."""
    pairs = zip(old.layers, new.layers, strict=False)
    return len(old.layers) != len(new.layers) or any(
        (one.visible, one.parallax, one.solid) != (other.visible, other.parallax, other.solid)
        for one, other in pairs
    )


def _painted(project: Project, level: Level) -> Rect:
    """The cells that anything may be solid in, with the next ones around them: tiles reach as far
    beyond their cells as they are large."""
    area = Rect(0, 0, 0, 0)
    for layer in level.layers:
        if layer.parallax == 1:
            area = area.union(layer.cells.bounds())
    return area.grown(farthest(project) + 1) if area.area else area
