"""A level: layers of cells and props, back to front."""

from __future__ import annotations

from dataclasses import dataclass, field

from rushweed.core.project.cells import Cells
from rushweed.core.project.rules import View
from rushweed.core.values import Colour, Point


@dataclass(frozen=True, slots=True)
class Prop:
    """A piece placed freely, standing on its pivot at (x, y) in pixels of the level.

    With `animation`, the sheet's animation of that name plays there instead of the still piece.
    """

    piece: int
    x: float
    y: float
    flipped: bool = False
    animation: str = ""


@dataclass(frozen=True, slots=True)
class Layer:
    """Cells and props drawn together.

    `parallax` is how far the layer moves with the view: 1 with the level, 0 not at all.
    `repeated` draws its props again and again to the left and right, as a backdrop.
    """

    name: str
    cells: Cells = field(default_factory=Cells)
    props: tuple[Prop, ...] = ()
    opacity: float = 1.0
    visible: bool = True
    locked: bool = False
    parallax: float = 1.0
    repeated: bool = False


@dataclass(frozen=True, slots=True)
class Level:
    """Layers from back to front. `start` is where the walker's feet begin, in pixels."""

    name: str
    layers: tuple[Layer, ...]
    start: Point | None = None
    view: View = "side"
    background: Colour | None = None
