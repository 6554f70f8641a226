"""A level: layers of cells and props, back to front."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated

from rushweed.core.project.body import Body
from rushweed.core.project.cells import Cells
from rushweed.core.project.facts import Note
from rushweed.core.project.rules import View
from rushweed.core.value_ranges import Degrees, Orientation, Phase, Place, Share, Times, within
from rushweed.core.values import Colour, Point, Rect


@dataclass(frozen=True, slots=True)
class Prop:
    """A piece placed freely, standing on its pivot at (x, y) in pixels of the level.

    `orientation` is one of the eight turns and flips of a square, about the pivot. With
    `animation`, the sheet's animation of that name plays there instead of the still piece, `phase`
    seconds ahead. Props
    of one `group` are moved together. `body` is how it moves, None for as its piece does. It is
    drawn `across` times as wide and `down` times as high before it is turned, by its orientation
    and then by `angle` degrees clockwise about the pivot; `tint` multiplies its colours.
    """

    piece: int
    x: Place
    y: Place
    orientation: Orientation = 0
    animation: str = ""
    name: str = ""
    group: str = ""
    body: Body | None = None
    across: Times = 1.0
    down: Times = 1.0
    angle: Degrees = 0
    tint: Colour | None = None
    opacity: Share = 1.0
    notes: tuple[Note, ...] = ()
    phase: Phase = 0.0


@dataclass(frozen=True, slots=True)
class Mark:
    """A named place for the game's code, in pixels of the level."""

    name: str
    x: Place
    y: Place
    notes: tuple[Note, ...] = ()


@dataclass(frozen=True, slots=True)
class Layer:
    """Cells and props drawn together.

    `parallax` is how far the layer moves with the view: 1 with the level, 0 not at all.
    `repeated` draws its props again and again to the left and right, as a backdrop, and
    `repeated_down` above and below. `tint`
    multiplies the layer's colours. `group` is a name that several layers share. Nothing on a layer
    that is not `solid` stops anybody, whatever its tiles are elsewhere.
    """

    name: str
    cells: Cells = field(default_factory=Cells)
    props: tuple[Prop, ...] = ()
    opacity: Share = 1.0
    visible: bool = True
    locked: bool = False
    parallax: Annotated[float, within(-16, 16)] = 1.0
    repeated: bool = False
    repeated_down: bool = False
    tint: Colour | None = None
    group: str = ""
    solid: bool = True
    notes: tuple[Note, ...] = ()

    @property
    def is_backdrop(self) -> bool:
        """Whether its props are drawn more than once."""
        return self.repeated or self.repeated_down

    @property
    def is_walked(self) -> bool:
        """Whether what is on it is met by walkers."""
        return self.visible and self.parallax == 1 and not self.is_backdrop

    @property
    def stops(self) -> bool:
        """Whether what is on it stops walkers."""
        return self.is_walked and self.solid


@dataclass(frozen=True, slots=True)
class Level:
    """Layers from back to front. `start` is where the walker's feet begin, in pixels."""

    name: str
    layers: tuple[Layer, ...]
    start: Point | None = None
    view: View = "side"
    background: Colour | None = None
    marks: tuple[Mark, ...] = ()
    notes: tuple[Note, ...] = ()


def bounds(level: Level) -> Rect:
    """The smallest rectangle of cells around all that is painted in a level."""
    area = Rect(0, 0, 0, 0)
    for layer in level.layers:
        area = area.union(layer.cells.bounds())
    return area
