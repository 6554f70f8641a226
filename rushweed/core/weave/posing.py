"""How a prop stands: its size, how it is turned, and what becomes of its pixels and shapes.

A piece is first drawn so many times as wide and as high, then turned and flipped by its
orientation, then turned about its pivot by degrees. Every pixel is the nearest one of the source.
Sines and cosines are whole 65536ths, so that a reader of a bundle can draw the same to the bit.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

import numpy as np

from rushweed.core.arrays import Indices
from rushweed.core.gather.fitting import nearest_of
from rushweed.core.gather.pictures import Picture
from rushweed.core.orientation import SWAPPED, turned, turned_point
from rushweed.core.project.level import Prop
from rushweed.core.project.own_size import LONGEST, in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Polygon, Shape
from rushweed.core.project.sheet import Borders, Piece
from rushweed.core.project.turning import rotated_side, turned_side
from rushweed.core.values import Point, Rect, Size

MOST_PIXELS = 1 << 24
"""Pixels that a prop may cover when somebody sets how it stands: more are slow to draw."""
PART = 65536
AT_ONCE = 1 << 20
"""Pixels that are turned at a time."""


def drawn_size(size: Size, prop: Prop) -> Size:
    """How large a piece of that size is drawn as the prop, before it is turned; in pixels."""
    return Size(_side(size.width, prop.across), _side(size.height, prop.down))


def stands_at(project: Project, number: int) -> tuple[Size, Point]:
    """The size of a piece in levels, and where it stands from its upper left corner; a missing one
    is as large as a tile and stands on the middle of its foot."""
    found = in_levels(project).find(number)
    if found is None:
        tile = project.rules.tile
        return tile, Point(tile.width // 2, tile.height)
    return found[1].rect.size, found[1].standing


def posed(
    picture: Picture, prop: Prop, stands: Point, borders: Borders | None = None
) -> tuple[Picture, Point]:
    """A piece's pixels as the prop shows them, and where its pivot lies in them. `stands` is the
    pivot in the piece as drawn."""
    height, width = picture.shape[:2]
    size = drawn_size(Size(width, height), prop)
    if size != (width, height):
        kept = borders or Borders()
        tiled = borders is not None and borders.middle == "tiled"
        columns = _shown_of(width, size.width, kept.left, kept.right, tiled)
        rows = _shown_of(height, size.height, kept.top, kept.bottom, tiled)
        picture = picture[rows[:, None], columns]
    pivot = Point(stands.x * size.width / width, stands.y * size.height / height)
    picture = turned(picture, prop.orientation)
    pivot = turned_point(pivot, size, prop.orientation)
    degrees = prop.angle % 360
    return rotated(picture, pivot, degrees) if degrees else (picture, pivot)


def rotated(picture: Picture, pivot: Point, degrees: int) -> tuple[Picture, Point]:
    """A picture turned clockwise about a pivot, and where the pivot lies in it."""
    height, width = picture.shape[:2]
    area = _area_of(Size(width, height), pivot, degrees)
    cos, sin = _parts_of(degrees)
    across = np.arange(area.width) + (area.x + 0.5)
    result = np.zeros((area.height, area.width, 4), np.uint8)
    band = max(1, AT_ONCE // max(1, area.width))
    for top in range(0, area.height, band):
        rows = result[top : top + band]
        down = (np.arange(top, top + len(rows)) + (area.y + 0.5))[:, None]
        x = np.floor((across * cos + down * sin) / PART + pivot.x).astype(np.int32)
        y = np.floor((down * cos - across * sin) / PART + pivot.y).astype(np.int32)
        inside = (x >= 0) & (y >= 0) & (x < width) & (y < height)
        rows[inside] = picture[y[inside], x[inside]]
    return result, Point(-area.x, -area.y)


def prop_area(project: Project, prop: Prop) -> Rect:
    """The rectangle of the level that a prop's picture covers, in whole pixels."""
    left, top, width, height = _about(*stands_at(project, prop.piece), pose_of(prop))
    return Rect(math.floor(prop.x + left), math.floor(prop.y + top), width, height)


def posed_shapes(piece: Piece, prop: Prop) -> tuple[Shape, ...]:
    """A piece's shapes as the prop has them, their places in pixels from where it stands."""
    if not piece.shapes:
        return ()
    return _shapes(piece.shapes, piece.rect.size, piece.standing, pose_of(prop))


def rotated_shape(shape: Shape, degrees: int) -> Shape:
    """A shape turned clockwise about the place that it is measured from."""
    if not degrees % 360:
        return shape
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))

    def place(c: Point) -> Point:
        return Point(round(c.x * cos - c.y * sin, 6), round(c.x * sin + c.y * cos, 6))

    side = rotated_side(shape.side, degrees)
    return replace(placed_shape(shape, place), side=side)


def placed_shape(shape: Shape, place: Callable[[Point], Point]) -> Shape:
    """A shape with each corner elsewhere."""
    outer, *holes = (tuple(map(place, ring)) for ring in shape.form.rings)
    return replace(shape, form=Polygon(outer, tuple(holes)))


def pose_of(prop: Prop) -> Prop:
    """A prop of which nothing but the pose is told, for what is remembered by it."""
    return Prop(0, 0, 0, prop.orientation, across=prop.across, down=prop.down, angle=prop.angle)


@lru_cache(maxsize=4096)
def _about(size: Size, stands: Point, pose: Prop) -> tuple[float, float, int, int]:
    """Left and top of a picture from its pivot, and its width and height."""
    large = drawn_size(size, pose)
    scaled = Point(stands.x * large.width / size.width, stands.y * large.height / size.height)
    pivot = turned_point(scaled, large, pose.orientation)
    if pose.orientation & SWAPPED:
        large = Size(large.height, large.width)
    if pose.angle % 360:
        area = _area_of(large, pivot, pose.angle)
        return area.x, area.y, area.width, area.height
    return -pivot.x, -pivot.y, *large


@lru_cache(maxsize=4096)
def _shapes(shapes: tuple[Shape, ...], size: Size, stands: Point, pose: Prop) -> tuple[Shape, ...]:
    large = drawn_size(size, pose)
    across, down = large.width / size.width, large.height / size.height
    pivot = turned_point(Point(stands.x * across, stands.y * down), large, pose.orientation)

    def place(corner: Point) -> Point:
        there = turned_point(Point(corner.x * across, corner.y * down), large, pose.orientation)
        return Point(there.x - pivot.x, there.y - pivot.y)

    turned_shapes = (
        replace(placed_shape(shape, place), side=turned_side(shape.side, pose.orientation))
        for shape in shapes
    )
    return tuple(rotated_shape(shape, pose.angle) for shape in turned_shapes)


def _side(pixels: int, factor: float) -> int:
    return min(max(1, math.floor(pixels * factor + 0.5)), LONGEST)


def _shown_of(side: int, wanted: int, first: int, last: int, tiled: bool) -> Indices:
    """Which pixel of a side of the source each one shows. `first` and `last` ones keep their size
    where there is room for them; what is between is stretched, or laid again and again."""
    if first + last >= min(side, wanted):
        first, last, tiled = 0, 0, False
    middle, long = side - first - last, wanted - first - last
    between = np.arange(long) % middle if tiled else nearest_of(middle, long)
    shown: Indices = np.concatenate(
        [np.arange(first), first + between, np.arange(side - last, side)]
    )
    return shown


def _parts_of(degrees: int) -> tuple[int, int]:
    """Cosine and sine in 65536ths."""
    angle = math.radians(degrees % 360)
    return math.floor(math.cos(angle) * PART + 0.5), math.floor(math.sin(angle) * PART + 0.5)


def _area_of(size: Size, pivot: Point, degrees: int) -> Rect:
    """The pixels, counted from the pivot, around a picture that is turned about it."""
    cos, sin = _parts_of(degrees)
    corners = [
        ((x - pivot.x) * cos - (y - pivot.y) * sin, (x - pivot.x) * sin + (y - pivot.y) * cos)
        for x in (0, size.width)
        for y in (0, size.height)
    ]
    left, top = (math.floor(min(places) / PART) for places in zip(*corners, strict=True))
    right, bottom = (math.ceil(max(places) / PART) for places in zip(*corners, strict=True))
    return Rect(left, top, right - left, bottom - top)
