"""Drawing levels into pixels, exactly as the game should.

All arithmetic is on whole numbers, so that a reader of a bundle can draw the same to the bit:
colour = (source × alpha + below × (255 − alpha) + 127) // 255, layers from back to front.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from rushweed.core.arrays import Mask, Numbers
from rushweed.core.cut.animations import find_animation, frame_at
from rushweed.core.gather.art import Art, piece_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.newest import for_newest
from rushweed.core.orientation import turned
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Colour, Point, Rect, Refusal, Size
from rushweed.core.weave.blending import blend, byte_of, tinted
from rushweed.core.weave.laying import lay_tiles
from rushweed.core.weave.posing import pose_of, posed, prop_area, stands_at
from rushweed.core.weave.prop_index import PropIndex

MISSING = Colour(158, 47, 42)
UNPOSED = Prop(0, 0, 0)
"""The pose of a prop that is as its piece is drawn."""


Half = Literal["all", "behind", "before"]


@dataclass(frozen=True, slots=True)
class Moment:
    """When and how a level is drawn: after so many seconds, with the bodies of props elsewhere
    (by layer and place in it: x and y of the pivot, and degrees turned clockwise).

    Of what has depth, only what lies behind somebody whose feet are at `foot`, or before it, is
    drawn, unless `half` says all.
    """

    seconds: float = 0.0
    bodies: Mapping[tuple[int, int], tuple[float, float, int]] = field(default_factory=dict)
    half: Half = "all"
    foot: float = 0.0


STILL = Moment()
FEW = 32
"""So many props are looked at one by one."""
_props = PropIndex()


class Scene:
    """Draws levels of one project; holds nothing that could go out of date."""

    def __init__(self, project: Project, art: Art) -> None:
        self.project = in_levels(project)
        self.art = art

    def level(self, level: Level, area: Rect, moment: Moment = STILL) -> Picture:
        """An area of the level, in its pixels, on its background; opaque.

        `area` is what the game's view shows: layers with parallax are placed by its corner.
        """
        canvas = self.background(level, area.size)
        for index, layer in enumerate(level.layers):
            if layer.visible:
                self.layer(canvas, level, index, area, moment)
        return canvas

    def background(self, level: Level, size: Size) -> Picture:
        """An opaque canvas in the level's background colour."""
        colour = level.background or self.project.rules.background
        one = np.array([*colour[:3], 255], np.uint8).view(np.uint32)
        whole = np.full((size.height, size.width), one[0], np.uint32)
        return whole.view(np.uint8).reshape(size.height, size.width, 4)

    def layer(
        self, canvas: Picture, level: Level, index: int, area: Rect, moment: Moment = STILL
    ) -> None:
        """Draw one layer onto an opaque canvas that shows `area`."""
        layer = level.layers[index]
        shown = shifted(layer, area)
        self._cells(canvas, layer, shown, moment)
        for place in self._near(level, index, shown, moment):
            prop = layer.props[place]
            deep = level.view == "top-down" and layer.parallax == 1 and not layer.is_backdrop
            y = moment.bodies.get((index, place), (0.0, prop.y, 0))[1]
            if _is_drawn(moment, deep and y > moment.foot):
                self._prop(canvas, prop, layer, shown, moment, (index, place))

    def _near(self, level: Level, index: int, shown: Rect, moment: Moment) -> list[int]:
        """The places of a layer's props that may be seen in an area, in their order of drawing."""
        layer = level.layers[index]
        if layer.is_backdrop or len(layer.props) < FEW:
            return drawing_order(level, layer)
        near = _props.within(self.project, layer.props, shown.grown(1))
        moving = {place for at, place in moment.bodies if at == index}
        return drawing_order(level, layer, sorted(moving.union(near)))

    def tile(self, number: int, orientation: int = 0, tint: Colour | None = None) -> Picture:
        """The pixels of a piece as painted; a plain red square when it is missing or unreadable."""
        found = self.project.find(number)
        if found is not None:
            try:
                picture = turned(self.art.piece(*found), orientation)
                return picture if tint is None else tinted(picture, tint)
            except Refusal:
                pass
        return missing(*self.project.rules.tile)

    def _cells(self, canvas: Picture, layer: Layer, shown: Rect, moment: Moment) -> None:
        cell = self.project.rules.tile
        reach = cells_that_reach(self.project, layer, shown)
        numbers, orientations = layer.cells.window(reach)
        drawn = numbers > 0
        if moment.half != "all":
            drawn &= self._before(numbers, reach.y, moment.foot) == (moment.half == "before")
        codes = np.where(drawn, numbers.astype(np.int64) * 8 + orientations, 0)
        if not codes.any():
            return
        now = frames_now(self.project, moment.seconds)

        def tile_of(code: int) -> Picture:
            number, turn = divmod(code, 8)
            return self.tile(now.get(number, number), turn, layer.tint)

        x, y = reach.x * cell.width - shown.x, reach.y * cell.height - shown.y
        lay_tiles(canvas, codes, tile_of, cell, Point(x, y), byte_of(layer.opacity))

    def _before(self, numbers: Numbers, top: int, foot: float) -> Mask:
        """Which of some cells, the first row of which is `top`, cover somebody whose feet are at a
        height."""
        before = np.zeros(numbers.shape, np.bool_)
        ends = np.arange(top + 1, top + 1 + len(numbers))[:, None]
        for cover, tiles in _covering(self.project.sheets):
            reach = (ends + cover) * self.project.rules.tile.height > foot
            before |= reach & np.isin(numbers, tiles)
        return before

    def _prop(
        self,
        canvas: Picture,
        prop: Prop,
        layer: Layer,
        shown: Rect,
        moment: Moment,
        spot: tuple[int, int],
    ) -> None:
        at_x, at_y, angle = moment.bodies.get(spot, (prop.x, prop.y, 0))
        number = frame_of(self.project, prop, moment.seconds)
        turned_by = (prop.angle + angle) % 360
        now = replace(prop, piece=number, x=at_x, y=at_y, angle=turned_by)
        area = prop_area(self.project, now)
        spots = list(repeats(layer, area, shown))
        if not spots:
            return
        picture = self.prop(now, layer.tint)
        opacities = byte_of(prop.opacity), byte_of(layer.opacity)
        for start in spots:
            blend(canvas, picture, start.x - shown.x, start.y - shown.y, *opacities)

    def prop(self, prop: Prop, tint: Colour | None = None) -> Picture:
        """The pixels of a prop as it stands, under its own tint and another, as large as its area;
        kept where they are not those of its piece."""
        found = self.project.find(prop.piece)
        pose = pose_of(prop)
        if found is None or (pose == UNPOSED and prop.tint is None and tint is None):
            return self._posed(prop, None)
        sheet, piece = found
        key = ("prop", piece_key(sheet, piece), piece.standing, piece.borders, pose)
        return self.art.memory.get((*key, prop.tint, tint), lambda: self._posed(prop, tint))

    def _posed(self, prop: Prop, tint: Colour | None) -> Picture:
        found = self.project.find(prop.piece)
        _, stands = stands_at(self.project, prop.piece)
        borders = found[1].borders if found else None
        picture, _ = posed(self.tile(prop.piece), prop, stands, borders)
        for one in (prop.tint, tint):
            picture = picture if one is None else tinted(picture, one)
        return picture


def repeats(layer: Layer, area: Rect, shown: Rect) -> Iterator[Rect]:
    """Where what covers an area of a layer is drawn in a part that is shown, in its pixels: there,
    or again and again beside it, above and below, as far as the layer is a backdrop."""
    across = _starts(area.x, area.width, shown.x, shown.right, layer.repeated)
    for y in _starts(area.y, area.height, shown.y, shown.bottom, layer.repeated_down):
        yield from (Rect(x, y, area.width, area.height) for x in across)


def _starts(start: int, length: int, low: int, high: int, again: bool) -> range:
    """Where something of a length begins between two ends."""
    if not again:
        return range(start, start + 1) if start < high and start + length > low else range(0)
    return range(low - (low - start) % length, high, length)


def cells_that_reach(project: Project, layer: Layer, shown: Rect) -> Rect:
    """The cells of a layer whose tiles may be seen in an area, in its pixels: tiles larger than a
    cell reach to the right of it and above it."""
    width, height = project.rules.tile
    longest = _longest_side(project, layer.cells)
    left, below = max(0, longest - width), max(0, longest - height)
    first = Point((shown.x - left) // width, shown.y // height)
    last = Point(-(-shown.right // width), -(-(shown.bottom + below) // height))
    return Rect(int(first.x), int(first.y), int(last.x - first.x), int(last.y - first.y))


_longest_memory: list[tuple[object, object, int]] = []


def _longest_side(project: Project, cells: Cells) -> int:
    """The longest side of a layer's tiles; kept for the newest few layers that were asked for."""
    project = in_levels(project)
    for sheets, known, longest in _longest_memory:
        if sheets is project.sheets and known is cells:
            return longest
    index = piece_index(project)
    sides = (max(index[n][1].rect.size) for n in cells.used() if n in index)
    longest = max(sides, default=0)
    _longest_memory.insert(0, (project.sheets, cells, longest))
    del _longest_memory[16:]
    return longest


def drawing_order(level: Level, layer: Layer, among: Sequence[int] | None = None) -> list[int]:
    """The places of a layer's props, of all or `among` some, in the order in which they are drawn:
    as they are, and in levels seen from above by where they stand."""
    places = list(range(len(layer.props)) if among is None else among)
    if level.view == "top-down":
        places.sort(key=lambda place: layer.props[place].y)
    return places


def frame_of(project: Project, prop: Prop, seconds: float) -> int:
    """The piece that a prop shows after so many seconds."""
    found = project.find(prop.piece)
    animation = find_animation(found[0], prop.animation) if found and prop.animation else None
    return frame_at(animation, seconds + prop.phase) if animation else prop.piece


def frames_now(project: Project, seconds: float) -> dict[int, int]:
    """What is shown, after so many seconds, of tiles that begin an animation of their tileset, the
    first of several."""
    return {
        animation.frames[0]: frame_at(animation, seconds)
        for sheet in project.sheets
        if sheet.kind == "tileset"
        for animation in reversed(sheet.animations)
        if animation.frames
    }


@for_newest
def _covering(sheets: tuple[Sheet, ...]) -> list[tuple[int, list[int]]]:
    """The tiles that cover somebody, by the rows below them in which one stands."""
    tiles = defaultdict(list)
    for piece in (piece for sheet in sheets for piece in sheet.pieces if piece.facts.cover):
        tiles[piece.facts.cover].append(piece.number)
    return list(tiles.items())


def _is_drawn(moment: Moment, is_before: bool) -> bool:
    return moment.half == "all" or is_before == (moment.half == "before")


def view_around(place: Point, resolution: Size) -> Rect:
    """The part of a level the game shows when the walker's feet are at a place."""
    x = math.floor(place.x + 0.5) - resolution.width // 2
    y = math.floor(place.y + 0.5) - resolution.height * 5 // 8
    return Rect(x, y, resolution.width, resolution.height)


def shifted(layer: Layer, area: Rect) -> Rect:
    """The part of a layer's own plane that an area of the level shows."""
    if layer.parallax == 1:
        return area
    x, y = math.floor(area.x * layer.parallax), math.floor(area.y * layer.parallax)
    return Rect(x, y, area.width, area.height)


def missing(width: int, height: int) -> Picture:
    """What stands for a piece that cannot be drawn."""
    square = np.zeros((height, width, 4), np.uint8)
    square[:] = (*MISSING[:3], 160)
    rows, columns = np.indices((height, width))
    square[(rows + columns) % 4 == 0] = (*MISSING[:3], 255)
    return square
