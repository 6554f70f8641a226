"""What `bundle.json` says. These classes are its one definition; its JSON Schema is made of them.

Places on pages, pivots, shapes and places in levels are in pixels, y down, from the upper left;
with `y_up` true, places in levels and pivots and shapes are y up instead, pivots and shapes from
the lower left corner of the piece, places in levels from the level's origin.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from rushweed.core.project.sheet import Play
from rushweed.core.values import Point, Rect, Size

FORMAT = 1


@dataclass(frozen=True, slots=True)
class PageEntry:
    """A picture of the bundle, beside this file, and its normal map, empty when it has none."""

    file: str
    size: Size
    normals: str


@dataclass(frozen=True, slots=True)
class BordersEntry:
    """How many pixels at each side keep their size while the rest is stretched or tiled."""

    left: int
    top: int
    right: int
    bottom: int
    middle: Literal["stretched", "tiled"]


@dataclass(frozen=True, slots=True)
class ShapeEntry:
    """A solid part of a piece, counter-clockwise as seen on the screen."""

    stops: Literal["all sides", "one-way", "sensor"]
    corners: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class PieceEntry:
    """A frame or tile: where it lies, how large a unit is in it, where it stands.

    `borders` is null for what is drawn whole.
    `shapes` is null while nobody decided, and empty when nothing of the piece is solid.
    """

    number: int
    name: str
    sheet: str
    page: int
    rect: Rect
    pivot: Point
    pixels_per_unit: int
    filter: Literal["nearest", "linear"]
    borders: BordersEntry | None
    shapes: tuple[ShapeEntry, ...] | None


@dataclass(frozen=True, slots=True)
class AnimationEntry:
    """Pieces shown one after the other, by number, at `rate` steps per second; each for as many
    steps as `holds` says."""

    name: str
    sheet: str
    frames: tuple[int, ...]
    holds: tuple[int, ...]
    rate: float
    play: Play


@dataclass(frozen=True, slots=True)
class PropEntry:
    """A piece placed freely, its pivot at (x, y). `animation` is empty for a still one."""

    piece: int
    x: float
    y: float
    orientation: int
    animation: str


@dataclass(frozen=True, slots=True)
class LayerEntry:
    """Painted cells as rows of runs [number, count] or [number, count, orientation], and props."""

    name: str
    opacity: float
    visible: bool
    parallax: float
    repeated: bool
    cells: list[dict[str, Any]]
    props: tuple[PropEntry, ...]


@dataclass(frozen=True, slots=True)
class LevelEntry:
    """Layers from back to front on a background of red, green, blue."""

    name: str
    view: Literal["side", "top-down"]
    background: tuple[int, int, int]
    start: Point | None
    layers: tuple[LayerEntry, ...]


@dataclass(frozen=True, slots=True)
class CreditEntry:
    """Whom to thank for a sheet, under which licence (an SPDX expression)."""

    sheet: str
    author: str
    licence: str
    source: str
    credit: str


@dataclass(frozen=True, slots=True)
class Manifest:
    """All of a bundle but its pictures."""

    name: str
    recipe: str
    y_up: bool
    tile: Size
    pixels_per_unit: int
    resolution: Size
    pages: tuple[PageEntry, ...]
    pieces: tuple[PieceEntry, ...]
    animations: tuple[AnimationEntry, ...]
    levels: tuple[LevelEntry, ...]
    credits: tuple[CreditEntry, ...]
    format: Literal[1] = 1


def schema() -> dict[str, Any]:
    """The JSON Schema of `bundle.json`."""
    from pydantic import TypeAdapter

    return TypeAdapter(Manifest).json_schema()
