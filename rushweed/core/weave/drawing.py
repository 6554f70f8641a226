"""Drawing levels into pixels, exactly as the game should.

All arithmetic is on whole numbers, so that a reader of a bundle can draw the same to the bit:
colour = (source × alpha + below × (255 − alpha) + 127) // 255, layers from back to front.
"""

from __future__ import annotations

import math

import numpy as np

from rushweed.core.cut.animations import find_animation, frame_at
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.orientation import turned, turned_point
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Colour, Point, Rect, Refusal, Size

MISSING = Colour(158, 47, 42)


class Scene:
    """Draws levels of one project; holds nothing that could go out of date."""

    def __init__(self, project: Project, art: Art) -> None:
        self.project = project
        self.art = art

    def level(self, level: Level, area: Rect, seconds: float = 0.0) -> Picture:
        """An area of the level, in its pixels, on its background; opaque.

        `area` is what the game's view shows: layers with parallax are placed by its corner.
        """
        colour = level.background or self.project.rules.background
        canvas = np.empty((area.height, area.width, 4), np.uint8)
        canvas[:] = (*colour[:3], 255)
        for layer in level.layers:
            if layer.visible:
                self.layer(canvas, layer, area, seconds)
        return canvas

    def layer(self, canvas: Picture, layer: Layer, area: Rect, seconds: float = 0.0) -> None:
        """Draw one layer onto an opaque canvas that shows `area`."""
        shown = shifted(layer, area)
        opacity = round(layer.opacity * 255)
        self._cells(canvas, layer, shown, opacity)
        for prop in layer.props:
            self._prop(canvas, prop, layer, shown, opacity, seconds)

    def tile(self, number: int, orientation: int = 0) -> Picture:
        """The pixels of a piece as painted; a plain red square when it is missing or unreadable."""
        found = self.project.find(number)
        if found is not None:
            try:
                return turned(self.art.piece(*found), orientation)
            except Refusal:
                pass
        return missing(*self.project.rules.tile)

    def _cells(self, canvas: Picture, layer: Layer, shown: Rect, opacity: int) -> None:
        width, height = self.project.rules.tile
        reach = Rect(
            shown.x // width - 4,
            shown.y // height,
            shown.width // width + 9,
            shown.height // height + 9,
        )
        numbers, orientations = layer.cells.window(reach)
        for row, column in np.argwhere(numbers).tolist():
            tile = self.tile(int(numbers[row, column]), int(orientations[row, column]))
            x = (reach.x + column) * width - shown.x
            y = (reach.y + row + 1) * height - tile.shape[0] - shown.y
            blend(canvas, tile, x, y, opacity)

    def _prop(
        self,
        canvas: Picture,
        prop: Prop,
        layer: Layer,
        shown: Rect,
        opacity: int,
        seconds: float,
    ) -> None:
        number = self._frame(prop, seconds)
        found = self.project.find(number)
        tile = self.tile(number, prop.orientation)
        pivot = standing_point(found[1] if found else None, self.project, prop.orientation)
        x = math.floor(prop.x - pivot.x) - shown.x
        y = math.floor(prop.y - pivot.y) - shown.y
        if not layer.repeated:
            blend(canvas, tile, x, y, opacity)
            return
        for start in range(x % tile.shape[1] - tile.shape[1], canvas.shape[1], tile.shape[1]):
            blend(canvas, tile, start, y, opacity)

    def _frame(self, prop: Prop, seconds: float) -> int:
        found = self.project.find(prop.piece)
        animation = find_animation(found[0], prop.animation) if found and prop.animation else None
        return frame_at(animation, seconds) if animation else prop.piece


def standing_point(piece: Piece | None, project: Project, orientation: int) -> Point:
    """Where a piece, turned like that, stands, from its upper left corner; a missing one stands on
    the middle of its foot."""
    if piece is None:
        width, height = project.rules.tile
        return Point(width // 2, height)
    return turned_point(piece.standing, piece.rect.size, orientation)


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


def blend(canvas: Picture, tile: Picture, x: int, y: int, opacity: int = 255) -> None:
    """Draw a picture with straight alpha onto an opaque canvas, its upper left corner at x, y."""
    left, top = max(x, 0), max(y, 0)
    right = min(x + tile.shape[1], canvas.shape[1])
    bottom = min(y + tile.shape[0], canvas.shape[0])
    if right <= left or bottom <= top:
        return
    part = tile[top - y : bottom - y, left - x : right - x]
    target = canvas[top:bottom, left:right]
    alpha = part[..., 3:].astype(np.int32)
    if opacity != 255:
        alpha = (alpha * opacity + 127) // 255
    below = target[..., :3].astype(np.int32)
    target[..., :3] = (part[..., :3] * alpha + below * (255 - alpha) + 127) // 255


def missing(width: int, height: int) -> Picture:
    """What stands for a piece that cannot be drawn."""
    square = np.zeros((height, width, 4), np.uint8)
    square[:] = (*MISSING[:3], 160)
    rows, columns = np.indices((height, width))
    square[(rows + columns) % 4 == 0] = (*MISSING[:3], 255)
    return square
