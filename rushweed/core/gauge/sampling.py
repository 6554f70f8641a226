"""Drawing a picture larger, smaller, turned or between pixels as graphics hardware samples it.

The rules are those of the Vulkan specification: “Texel Filtering” for coordinates, weights and
clamping, “Level-of-Detail Operation” for the choice of mipmaps.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, cos, floor, log2, radians, sin
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import Pixels, premultiplied, straight
from rushweed.core.project.rules import Filter
from rushweed.core.values import Point, Rect, Size

Places = npt.NDArray[np.float64]
Value = TypeVar("Value", np.uint8, np.float32)


@dataclass(frozen=True, slots=True)
class Sampler:
    """How a texture is read. Filtered colours are weighed by their alpha if `weighed`: the
    texture then holds them multiplied already, else linear filtering mixes them as they are."""

    filter: Filter = "nearest"
    mipmaps: bool = False
    weighed: bool = True


@dataclass(frozen=True, slots=True)
class Placing:
    """How a picture lies on the screen: so many times as large, turned clockwise by degrees about
    its middle, that middle moved by screen pixels from the middle of the screen."""

    scale: float = 1.0
    turn: float = 0.0
    shift: Point = Point(0, 0)


def scaled(picture: Picture, width: int, height: int, filter: Filter) -> Picture:  # noqa: A002
    """The picture drawn over width × height pixels of the screen, without mipmaps.

    Straight alpha goes in and comes out; linear sampling weighs the four nearest texels by their
    alpha and clamps at the edges.
    """
    if not picture.size or width < 1 or height < 1:
        return np.zeros((max(height, 0), max(width, 0), 4), np.uint8)
    rows = (np.arange(height) + 0.5) * picture.shape[0] / height
    columns = (np.arange(width) + 0.5) * picture.shape[1] / width
    if filter == "nearest":
        picked: Picture = picture[rows.astype(np.intp)[:, None], columns.astype(np.intp)]
        return picked
    return straight(_along(_along(premultiplied(picture), rows, 0), columns, 1))


def drawn(
    texture: Picture,
    screen: Size,
    placing: Placing = Placing(),
    sampler: Sampler = Sampler(),
    part: Rect | None = None,
) -> Picture:
    """A screen with one part of a texture (or all of it) drawn on it, straight alpha.

    A screen pixel is covered when its centre lies in the part, and shows what the sampler reads
    there: near the part's edge a linear one also reads what lies beside it in the texture.
    """
    height, width = texture.shape[:2]
    part = part or Rect(0, 0, width, height)
    x, y = _texture_places(screen, placing, part)
    inside = (x >= part.x) & (x < part.right) & (y >= part.y) & (y < part.bottom)
    result = np.zeros((screen.height, screen.width, 4), np.uint8)
    if inside.any():
        detail = -log2(placing.scale)
        if sampler.filter == "nearest" and not (sampler.mipmaps and detail > 0.5):
            result[inside] = _nearest_texels(texture, x[inside], y[inside])
        else:
            values = _read(texture, x[inside], y[inside], sampler, detail)
            result[inside] = (straight if sampler.weighed else _rounded)(values[None])[0]
    return result


def enlarged_afterwards(
    texture: Picture, screen: Size, placing: Placing, sampler: Sampler, factor: int
) -> Picture:
    """The same view, drawn at one `factor`th of the screen's size and enlarged to it at last."""
    small = Size(ceil(screen.width / factor), ceil(screen.height / factor))
    shift = Point(round(placing.shift.x / factor), round(placing.shift.y / factor))
    view = drawn(texture, small, Placing(placing.scale / factor, placing.turn, shift), sampler)
    large = view.repeat(factor, 0).repeat(factor, 1)
    return large[: screen.height, : screen.width]


def mip_levels(texture: Picture, weighed: bool = True) -> list[Pixels]:
    """A texture and its ever smaller copies down to 1 × 1, each texel the mean of its footprint.

    Odd sizes are halved downwards, with texels shared by their parts (S. Guthe and P. Heckbert,
    "Non-Power-of-Two Mipmapping", 2005). Each level is rounded to whole numbers as it is stored.

    >>> [level.shape[:2] for level in mip_levels(np.zeros((3, 6, 4), np.uint8))]
    [(3, 6), (1, 3), (1, 1)]
    """
    levels = [premultiplied(texture) if weighed else texture.astype(np.float32)]
    while max(levels[-1].shape[:2]) > 1:
        levels.append(np.rint(_halved(_halved(levels[-1], 0), 1)).astype(np.float32))
    return levels


def _texture_places(screen: Size, placing: Placing, part: Rect) -> tuple[Places, Places]:
    """Where in the texture the centre of each screen pixel lies, in texels."""
    across = np.arange(screen.width) + 0.5 - screen.width / 2 - placing.shift.x
    down = (np.arange(screen.height) + 0.5 - screen.height / 2 - placing.shift.y)[:, None]
    angle = radians(placing.turn)
    x = (across * cos(angle) + down * sin(angle)) / placing.scale + part.x + part.width / 2
    y = (down * cos(angle) - across * sin(angle)) / placing.scale + part.y + part.height / 2
    return x, y


def _read(texture: Picture, x: Places, y: Places, sampler: Sampler, detail: float) -> Pixels:
    """What a sampler reads at places, at a level of detail: 0 is the texture itself, 1 its half."""
    if not sampler.mipmaps or detail <= 0:
        left, top = max(0, int(x.min()) - 1), max(0, int(y.min()) - 1)
        read = texture[top : int(y.max()) + 2, left : int(x.max()) + 2]
        base = premultiplied(read) if sampler.weighed else read.astype(np.float32)
        return _texels(base, x - left, y - top, sampler.filter)
    levels = mip_levels(texture, sampler.weighed)
    last = len(levels) - 1
    if sampler.filter == "nearest":
        return _from_level(levels, min(max(ceil(detail + 0.5) - 1, 0), last), x, y, "nearest")
    low = min(floor(detail), last)
    high, part = min(low + 1, last), np.float32(detail - floor(detail))
    near = _from_level(levels, low, x, y, "linear")
    far = _from_level(levels, high, x, y, "linear")
    return (near * (1 - part) + far * part).astype(np.float32)


def _from_level(
    levels: list[Pixels],
    level: int,
    x: Places,
    y: Places,
    filter: Filter,  # noqa: A002
) -> Pixels:
    height, width = levels[0].shape[:2]
    rows, columns = levels[level].shape[:2]
    return _texels(levels[level], x * columns / width, y * rows / height, filter)


def _texels(level: Pixels, x: Places, y: Places, filter: Filter) -> Pixels:  # noqa: A002
    if filter == "nearest":
        return _nearest_texels(level, x, y)
    bottom, right = level.shape[0] - 1, level.shape[1] - 1
    left, top = np.floor(x - 0.5).astype(np.intp), np.floor(y - 0.5).astype(np.intp)
    across = (x - 0.5 - left).astype(np.float32)[:, None]
    down = (y - 0.5 - top).astype(np.float32)[:, None]
    columns = [np.clip(left + step, 0, right) for step in (0, 1)]
    rows = [np.clip(top + step, 0, bottom) for step in (0, 1)]
    upper, lower = (
        level[row, columns[0]] * (1 - across) + level[row, columns[1]] * across for row in rows
    )
    return (upper * (1 - down) + lower * down).astype(np.float32)


def _nearest_texels(level: npt.NDArray[Value], x: Places, y: Places) -> npt.NDArray[Value]:
    bottom, right = level.shape[0] - 1, level.shape[1] - 1
    row = np.clip(np.floor(y).astype(np.intp), 0, bottom)
    return level[row, np.clip(np.floor(x).astype(np.intp), 0, right)]


def _along(values: Pixels, places: Places, axis: int) -> Pixels:
    """Linear filtering along one axis."""
    last = values.shape[axis] - 1
    before = np.floor(places - 0.5).astype(np.intp)
    part = (places - 0.5 - before).astype(np.float32)
    shape = [1, 1, 1]
    shape[axis] = len(places)
    part = part.reshape(shape)
    low = values.take(np.clip(before, 0, last), axis)
    high = values.take(np.clip(before + 1, 0, last), axis)
    return (low * (1 - part) + high * part).astype(np.float32)


def _halved(values: Pixels, axis: int) -> Pixels:
    """Half as many texels along one axis, each the mean of what it covers."""
    size = values.shape[axis]
    half = max(1, size // 2)
    if size == half:
        return values
    even, odd = (values.take(range(start, 2 * half, 2), axis) for start in (0, 1))
    if size == 2 * half:
        return ((even + odd) / 2).astype(np.float32)
    shape = [1, 1, 1]
    shape[axis] = half
    place = np.arange(half, dtype=np.float32).reshape(shape)
    after = values.take(range(2, size, 2), axis)
    total = (half - place) * even + half * odd + (place + 1) * after
    result: Pixels = (total / size).astype(np.float32)
    return result


def _rounded(values: Pixels) -> Picture:
    result: Picture = np.rint(np.clip(values, 0, 255)).astype(np.uint8)
    return result
