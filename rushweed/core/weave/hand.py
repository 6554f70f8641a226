"""What one draws with, as a value, and all that it lays: every stroke, box, fill and part that is
moved goes through here, is guarded, and has its hems finished.

Nothing painted is replaced by what serves another purpose, unless that was said. What was left
alone is told.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rushweed.core.gather.art import Art
from rushweed.core.orientation import FLIPPED
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Outcome
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.finishing import around_in, draw_hem, finished
from rushweed.core.weave.guarding import first_purpose, leave_others
from rushweed.core.weave.hems import parts_of_piece
from rushweed.core.weave.levels import painted_layer, set_cells
from rushweed.core.weave.painting import (
    ERASER,
    Brush,
    FillBy,
    beside,
    dabbed,
    fill_area,
    fill_under,
    hollow,
    laid,
    line,
    mirror_places,
    mirrored,
    moved,
    rectangle,
    ring,
    room,
    stretched,
)
from rushweed.core.weave.purposes import Purposes

NINE = (3, 3)


@dataclass(frozen=True, slots=True)
class Hand:
    """What is drawn with: a brush, or the hem of that name, mirrored about a column; `rubs` takes
    away. With `keeps`, tiles that serve another purpose are left alone; what is rubbed out is of
    the purpose `rubbed` alone, where that is told. `walls` is how thick a box's walls are."""

    brush: Brush = ERASER
    hem: str = ""
    rubs: bool = False
    mirror: float | None = None
    keeps: bool = True
    rubbed: str = ""
    walls: int = 0


@dataclass(frozen=True, slots=True)
class Spot:
    """The layer that is drawn on, of a project at one moment."""

    project: Project
    art: Art
    level: Level
    index: int

    @property
    def cells(self) -> Cells:
        """What is painted there."""
        return painted_layer(self.level, self.index).cells

    @property
    def purposes(self) -> Purposes:
        """What the level's tiles are for."""
        return Purposes(self.project, self.art, self.level)


@dataclass(frozen=True, slots=True)
class Laid:
    """Cells after drawing: those that were left alone for they serve another purpose, and those
    for which a hem has no fitting tile."""

    cells: Cells
    spared: frozenset[Key] = frozenset()
    lacking: frozenset[Key] = frozenset()


@dataclass(frozen=True, slots=True)
class Drawn(Outcome):
    """A project after drawing on one of its layers."""

    laid: Laid = Laid(Cells())


def drawn(project: Project, art: Art, level: str, index: int, lay: Callable[[Spot], Laid]) -> Drawn:
    """The project with what `lay` lays on a layer. Raises Refusal when it is locked or gone."""
    spot = Spot(project, art, project.level(level), index)
    result = lay(spot)
    return Drawn(set_cells(project, level, index, result.cells), result)


def lay_places(spot: Spot, hand: Hand, places: Iterable[Key], begun: Cells | None = None) -> Laid:
    """Draw at some places, and at their mirror images, on what is there or on what a stroke has
    come to already. What is rubbed out is all of the purpose that is met first."""
    places, cells = list(places), spot.cells if begun is None else begun
    if hand.rubs and hand.keeps and not hand.rubbed:
        hand = replace(hand, rubbed=first_purpose(spot.purposes, cells, places))
    hem = hem_of(spot.project, hand)
    if hem is not None and (not hand.rubs or _lies_at(hem, cells, places)):
        both = places if hand.mirror is None else [*places, *mirror_places(places, hand.mirror)]
        return _with_hem(spot, hand, hem, cells, both)
    brush = ERASER if hand.rubs else hand.brush
    after = dabbed(cells, brush, places)
    if hand.mirror is not None:
        other = brush if brush is ERASER else mirrored(brush, FLIPPED)
        after = dabbed(after, other, mirror_places(places, hand.mirror, brush.width))
    return _settled(spot, hand, cells, after)


def lay_line(spot: Spot, hand: Hand, first: Key, last: Key) -> Laid:
    """Draw along a straight line, with a block edge to edge from its beginning."""
    brush = ERASER if hand.hem else hand.brush
    way = dict.fromkeys(beside(place, first, brush) for place in line(first, last))
    return lay_places(spot, hand, way)


def lay_box(spot: Spot, hand: Hand, first: Key, last: Key) -> Laid:
    """Draw a box between two corners, and its mirror image: full, or its walls alone. With a block
    of nine tiles the walls are a room's from the side; from above the block is stretched, for the
    floor belongs to it."""
    left, right = sorted((first[0], last[0]))
    top, bottom = sorted((first[1], last[1]))
    area = Rect(left, top, right - left + 1, bottom - top + 1)
    if hand.hem:
        return lay_places(spot, hand, ring(area, hand.walls))
    cells = spot.cells
    if hand.walls and (hand.brush.width, hand.brush.height) == NINE:
        above = spot.level.view == "top-down"
        nine = hand.brush
        after = stretched(cells, nine, area) if above else room(cells, nine, area, hand.walls)
    else:
        after = rectangle(cells, hand.brush, area)
        rooms = [hollow(area, hand.walls)]
        if hand.mirror is not None:
            beyond = round(2 * hand.mirror) - area.right
            other = mirrored(hand.brush, FLIPPED)
            after = rectangle(after, other, Rect(beyond, top, area.width, area.height))
            rooms.append(rooms[0].moved(beyond - area.x, 0))
        for inside in rooms:
            if inside.area:
                after = after.overlaid(inside, *cells.window(inside))
    return _settled(spot, hand, cells, after)


def lay_fill(spot: Spot, hand: Hand, start: Key, by: FillBy, within: Rect | None) -> Laid:
    """Fill what hangs together with a cell, with the hem in hand if there is one. Raises Refusal
    where the brush lies there already."""
    grounds = {
        piece.number: piece.facts.ground
        for _, piece in spot.project.pieces()
        if piece.facts.ground is not None
    }
    cells = spot.cells
    area, where = fill_area(cells, start, by, grounds, within)
    hem = hem_of(spot.project, hand)
    if hem is not None:
        places = [(area.x + x, area.y + y) for y, x in np.argwhere(where).tolist()]
        return _with_hem(spot, hand, hem, cells, places)
    after = laid(cells, hand.brush, area, where, start)
    if after == cells:
        raise Refusal("That is filled with the brush already. Take another tile to fill it with.")
    return _settled(spot, hand, cells, after)


def replace_everywhere(
    project: Project, art: Art, number: int, hand: Hand, levels: Collection[str]
) -> Project:
    """The project with a tile replaced by what is in hand wherever it lies on the layers of some
    levels that are not locked, whatever it serves for."""
    hand = replace(hand, keeps=False)
    for name in levels:
        for index, layer in enumerate(project.level(name).layers):
            start = next(layer.cells.places_of({number}), None)
            if start is not None and not layer.locked:
                spot = Spot(project, art, project.level(name), index)
                cells = lay_fill(spot, hand, start, "all alike", None).cells
                project = set_cells(project, name, index, cells)
    return project


def count_everywhere(project: Project, number: int, levels: Collection[str]) -> int:
    """On how many cells a tile lies on the layers of some levels that are not locked."""
    return sum(
        int(np.count_nonzero(numbers == number))
        for name in levels
        for layer in project.level(name).layers
        if not layer.locked
        for numbers, _ in layer.cells.chunks.values()
    )


def lay_under(spot: Spot, hand: Hand, within: Rect | None) -> Laid:
    """Fill below the surface of what is painted, in a part or all of it. Raises Refusal where
    nothing is empty there."""
    after = fill_under(spot.cells, hand.brush, within)
    if after == spot.cells:
        raise Refusal("Nothing is empty below what is painted here. Paint its surface first.")
    return _settled(spot, hand, spot.cells, after)


def lay_moved(spot: Spot, hand: Hand, area: Rect, way: Key, copy: bool = False) -> Laid:
    """Move what is painted in an area, or a copy of it. What cannot be put down, for it would
    replace something of another purpose, stays where it was."""
    cells = spot.cells
    after = moved(cells, area, *way, copy=copy)
    result = _guarded(spot, hand, cells, after)
    if result.spared and not copy:
        back = {}
        for x, y in result.spared:
            place = x - way[0], y - way[1]
            if not result.cells.at(*place)[0]:
                back[place] = cells.at(*place)
        result = replace(result, cells=result.cells.painted(back))
    return _finished(spot, cells, result)


def lay_nothing(spot: Spot, area: Rect) -> Laid:
    """Rub out all of an area."""
    return _finished(spot, spot.cells, Laid(rectangle(spot.cells, ERASER, area)))


@dataclass(frozen=True, slots=True)
class Act:
    """How something was drawn, from where it began, to draw it again elsewhere: a stroke at some
    places, or a line or a box to where it ended."""

    form: Literal["stroke", "line", "box"]
    places: tuple[Key, ...]
    walls: int = 0

    def again(self, spot: Spot, hand: Hand, at: Key) -> Laid:
        """Draw it from another place."""
        places = [(at[0] + across, at[1] + down) for across, down in self.places]
        if self.form == "stroke":
            return lay_places(spot, hand, places)
        lay = lay_line if self.form == "line" else lay_box
        return lay(spot, replace(hand, walls=self.walls), at, places[-1])


def hem_of(project: Project, hand: Hand) -> Hem | None:
    """The hem that is drawn with; None for a brush. Raises Refusal where it is gone."""
    if not hand.hem:
        return None
    for hem in project.hems:
        if hem.name == hand.hem:
            return hem
    raise Refusal("There is no hem called “{hem}” any more. Take another one.", hem=hand.hem)


def _with_hem(spot: Spot, hand: Hand, hem: Hem, cells: Cells, places: list[Key]) -> Laid:
    change = draw_hem(cells, hem, around_in(spot.project, spot.level), places, hand.rubs)
    result = _guarded(spot, hand, cells, change.cells, frozenset(parts_of_piece(hem)))
    return _finished(spot, cells, replace(result, lacking=change.lacking))


def _lies_at(hem: Hem, cells: Cells, places: Iterable[Key]) -> bool:
    """Whether a tile of a hem lies at any of the places."""
    own = parts_of_piece(hem)
    return any(cells.at(*place)[0] in own for place in places)


def _settled(spot: Spot, hand: Hand, before: Cells, after: Cells) -> Laid:
    """What was laid tile by tile, guarded, with the hems beside it finished."""
    return _finished(spot, before, _guarded(spot, hand, before, after), by_hand=True)


def _guarded(
    spot: Spot,
    hand: Hand,
    before: Cells,
    after: Cells,
    own: frozenset[int] = frozenset(),
) -> Laid:
    """What was drawn, with all as it was that serves another purpose, if that is wished. Tiles of
    `own` always take each other's place."""
    if not hand.keeps or before is after:
        return Laid(after)
    return Laid(*leave_others(spot.purposes, before, after, hand.rubbed, own))


def _finished(spot: Spot, before: Cells, result: Laid, by_hand: bool = False) -> Laid:
    cells = finished(spot.project, spot.level, before, result.cells, by_hand)
    return replace(result, cells=cells)
