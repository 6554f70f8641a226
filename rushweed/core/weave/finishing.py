"""Drawing hems and finishing them: whatever changed a layer's cells, the tiles of hems around are
chosen anew.

This is the one place that does it. A tile that has the parts which its place asks for stays; so
variants keep their place, and what was put down by hand stays as it is until something beside it
changes.

      what was there    a cell rubbed out    what is chosen anew
        # # # # #           # # # # #            # # # # #
        # # # # #           # # . # #            # n . n #       n: its rim, all around
        # # # # #           # # # # #            # n n n #
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Bytes, Mask, Numbers
from rushweed.core.project.cells import CHUNK, Cells, Key
from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.hems import (
    ALL_CORNERS,
    CORNERS,
    MIDDLE,
    SIDES,
    Around,
    around,
    by_parts,
    counting,
    met_by,
    parts_of_piece,
    tile_for,
)

SPOT = -1
"""In place of a piece: a cell that is drawn on."""
RIM = 2
"""What is chosen anew lies beside what changed, and is chosen by what lies beside it."""


class _Window(NamedTuple):
    """A part of a layer with a rim around what may be chosen anew: numbers and turns of shape
    (area.height, area.width). Where the numbers `before` are told, only what lies near what changed
    is chosen anew."""

    area: Rect
    numbers: Numbers
    turns: Bytes
    before: Numbers | None = None


class HemChange(NamedTuple):
    """Cells after drawing with a hem, and the places for which it has no fitting tile: the
    nearest one stands there."""

    cells: Cells
    lacking: frozenset[Key]


def draw_hem(
    cells: Cells, hem: Hem, among: Around, places: Iterable[Key], rub_out: bool = False
) -> HemChange:
    """Add places to a hem's area, or take them from it; only they and their neighbours change.

    Raises Refusal when the hem has no tile.
    """
    if not hem.tiles:
        raise Refusal(
            "The hem “{name}” has no tile yet. Mark tiles for it in the tray.", name=hem.name
        )
    spots = cells.painted(dict.fromkeys(places, (SPOT, 0)))
    changes: dict[Key, tuple[int, int]] = {}
    lacking = set()
    for area in _changed_areas(cells, spots):
        numbers, is_spot = cells.window(area)[0], spots.window(area)[0] == SPOT
        for place, tile, fits in _drawn(hem, among, area, numbers, is_spot, rub_out):
            changes[place] = (tile, 0)
            if not fits:
                lacking.add(place)
    different = {place: tile for place, tile in changes.items() if cells.at(*place) != tile}
    return HemChange(cells.painted(different) if different else cells, frozenset(lacking))


def _drawn(
    hem: Hem, among: Around, area: Rect, numbers: Numbers, spots: Mask, rubs: bool
) -> Iterator[tuple[Key, int, bool]]:
    """The tiles of the cells that are drawn on in a window and of those beside them, and whether
    they fit."""
    parts = _parts_of(numbers, parts_of_piece(hem))
    beyond, near = _beyond(area, among.end), _beside(spots)
    if hem.way == "corners":
        told = _told_corners(hem, parts, beyond)
        told[_any_around(spots)] = not rubs
        wanted = _with_corners(told)
        near &= (wanted > 0) | (parts >= 0)
        empty = (wanted == 0) & (0 not in by_parts(hem))
    else:
        inside = np.where(beyond, hem.goes_on, _is_among(numbers, met_by(hem, among)))
        wanted = _by_cells(np.where(spots, not rubs, inside), hem.way == "sides")
        near &= spots | (parts >= 0)
        empty = spots & rubs
    near[[0, -1], :] = near[:, [0, -1]] = False
    for row, column in np.argwhere(near).tolist():
        place = area.x + column, area.y + row
        if empty[row, column]:
            yield place, 0, True
        else:
            yield place, *tile_for(hem, int(wanted[row, column]), place)


def finished(
    project: Project, level: Level, before: Cells, after: Cells, by_hand: bool = False
) -> Cells:
    """The changed cells of a layer with all hems finished. `by_hand` says that what was laid was
    chosen tile by tile, and stays as it is."""
    if before is after:
        return after
    windows = [
        _Window(area, *after.window(area), before.window(area)[0])
        for area in _changed_areas(before, after)
    ]
    return _with_hems_finished(project, level, after, windows, by_hand)


def finished_along(project: Project, level: Level, cells: Cells, seams: Sequence[Rect]) -> Cells:
    """The cells of a layer with the hems finished along some rows and columns."""
    areas = (seam.grown(RIM) for seam in seams if seam.area)
    windows = [_Window(area, *cells.window(area)) for area in areas]
    return _with_hems_finished(project, level, cells, windows, by_hand=False)


def around_in(project: Project, level: Level) -> Around:
    """What hems are drawn among in a level: where any goes on past its end, that counts."""
    if not any(hem.goes_on for hem in project.hems):
        return around(project)
    end = Rect(0, 0, 0, 0)
    for layer in level.layers:
        end = end.union(layer.cells.bounds())
    return around(project, end if end.area > 1 else None)


def _changed_areas(before: Cells, after: Cells) -> Iterator[Rect]:
    """The chunks that are not the same any more, each with its rim."""
    for key in before.chunks.keys() | after.chunks.keys():
        if before.chunks.get(key) is not after.chunks.get(key):
            yield Rect(key[0] * CHUNK, key[1] * CHUNK, CHUNK, CHUNK).grown(RIM)


def _with_hems_finished(
    project: Project, level: Level, cells: Cells, windows: Sequence[_Window], by_hand: bool
) -> Cells:
    """A tile of several hems is one of the first."""
    among, known = around_in(project, level), set[int]()
    changes: dict[Key, tuple[int, int]] = {}
    for hem in project.hems:
        ours = {piece: p for piece, p in parts_of_piece(hem).items() if piece not in known}
        known |= ours.keys()
        for window in windows if ours else ():
            changes.update(_chosen_anew(hem, ours, among, window, by_hand))
    return cells.painted(changes) if changes else cells


def _chosen_anew(
    hem: Hem, ours: Mapping[int, int], among: Around, window: _Window, by_hand: bool
) -> Iterator[tuple[Key, tuple[int, int]]]:
    """The tiles of a hem that do not fit beside what changed, each with the one that does."""
    area, numbers, turns, before = window
    parts, met = _parts_of(numbers, ours), met_by(hem, among)
    inside = _is_among(numbers, met)
    near = (parts >= 0) & (turns == 0)
    if before is not None:
        changed = before != numbers
        near &= _beside((inside != _is_among(before, met)) | (changed & (parts >= 0)))
        near &= ~changed if by_hand else True
    near[[0, -1], :] = near[:, [0, -1]] = False
    if not near.any():
        return
    beyond = _beyond(area, among.end)
    inside = np.where(beyond, hem.goes_on, inside)
    if hem.way == "corners":
        wanted = _with_corners(_told_corners(hem, parts, beyond) & ~_any_around(~inside))
        have = parts & ALL_CORNERS
    else:
        wanted = _by_cells(inside, hem.way == "sides")
        have = _counted(parts, hem)
    for row, column in np.argwhere(near & (wanted != have)).tolist():
        place, asked = (area.x + column, area.y + row), int(wanted[row, column])
        lies = asked or hem.way != "corners" or 0 in by_parts(hem)
        yield place, (tile_for(hem, asked, place)[0] if lies else 0, 0)


def _by_cells(inside: Mask, by_sides: bool) -> Numbers:
    """The parts that each cell of an area asks for, of the same shape; at the window's very edge
    they are not known."""
    asked = np.full(inside.shape, MIDDLE, np.int32)
    joined = {way: _shifted(inside, *way) for way in SIDES}
    for way, bit in SIDES.items():
        asked |= np.where(joined[way], bit, 0)
    for (dx, dy), bit in CORNERS.items():
        both = joined[dx, 0] & joined[0, dy]
        asked |= np.where(both if by_sides else both & _shifted(inside, dx, dy), bit, 0)
    return asked


def _told_corners(hem: Hem, parts: Numbers, beyond: Mask) -> Mask:
    """The corners of cells that lie in a hem's area, for any tile around says so, or as it goes on
    past the end there; of shape (height + 1, width + 1)."""
    told = _any_around(parts >= 0) & _any_around(beyond) & hem.goes_on
    held = np.where(beyond, 0, np.maximum(parts, 0))
    for (dx, dy), bit in CORNERS.items():
        told[dy > 0 :, dx > 0 :][: parts.shape[0], : parts.shape[1]] |= held & bit > 0
    return told


def _with_corners(told: Mask) -> Numbers:
    """The parts that cells ask for whose corners are told."""
    asked = np.zeros((told.shape[0] - 1, told.shape[1] - 1), np.int32)
    for (dx, dy), bit in CORNERS.items():
        asked |= np.where(told[dy > 0 :, dx > 0 :][: asked.shape[0], : asked.shape[1]], bit, 0)
    return asked


def _any_around(marked: Mask) -> Mask:
    """For each corner of cells, of shape (height + 1, width + 1), whether any cell around it is
    marked."""
    wide = np.pad(marked, 1)
    either = wide[1:] | wide[:-1]
    return either[:, 1:] | either[:, :-1]


def _counted(parts: Numbers, hem: Hem) -> Numbers:
    """The parts of tiles as cells ask for them."""
    known = np.unique(parts)
    counted = np.array([counting(value, hem.way) if value >= 0 else -1 for value in known.tolist()])
    return counted[np.searchsorted(known, parts)].astype(np.int32)


def _parts_of(numbers: Numbers, parts: Mapping[int, int]) -> Numbers:
    """The parts of each cell's tile, -1 where it is none of the hem's."""
    pieces = np.array(sorted(parts), np.int32)
    told = np.array([parts[piece] for piece in sorted(parts)], np.int32)
    places = np.minimum(np.searchsorted(pieces, numbers), len(pieces) - 1)
    return np.where(pieces[places] == numbers, told[places], -1)


def _is_among(numbers: Numbers, pieces: frozenset[int]) -> Mask:
    return np.isin(numbers, np.array(sorted(pieces), np.int32))


def _beside(marked: Mask) -> Mask:
    """All cells that are marked or next to one that is."""
    down = marked | _shifted(marked, 0, 1) | _shifted(marked, 0, -1)
    return down | _shifted(down, 1, 0) | _shifted(down, -1, 0)


def _shifted(marked: Mask, dx: int, dy: int) -> Mask:
    """For each cell what lies so far to the right and below; nothing past the window."""
    height, width = marked.shape
    result = np.zeros_like(marked)
    there = np.s_[max(dy, 0) : height + min(dy, 0), max(dx, 0) : width + min(dx, 0)]
    here = np.s_[max(-dy, 0) : height + min(-dy, 0), max(-dx, 0) : width + min(-dx, 0)]
    result[here] = marked[there]
    return result


def _beyond(area: Rect, end: Rect | None) -> Mask:
    """Which cells of an area lie past the level's end."""
    beyond = np.zeros((area.height, area.width), np.bool_)
    if end is not None:
        beyond[:] = True
        left, top = max(end.x - area.x, 0), max(end.y - area.y, 0)
        beyond[top : max(end.bottom - area.y, 0), left : max(end.right - area.x, 0)] = False
    return beyond
