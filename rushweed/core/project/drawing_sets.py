"""What levels are drawn with: hems, patches and mixes, as they are stored."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from rushweed.core.value_ranges import Positive, within

HemWay = Literal["sides", "all around", "corners"]


@dataclass(frozen=True, slots=True)
class HemTile:
    """A tile of a hem. `parts` says which of its nine parts belong to the area, three for each
    row from the upper left, as bits: 1 is the upper left one, 16 the middle, 256 the lower right
    one. Of tiles with the same parts, each is drawn as often as its `weight` says."""

    piece: int
    parts: Annotated[int, within(0, 511)]
    weight: Positive = 1


@dataclass(frozen=True, slots=True)
class Hem:
    """Tiles that finish the edges and corners of an area, chosen by what lies around each cell.

    `way` says what a tile is chosen by: its four sides, all eight neighbours, or the area at its
    four corners. With `goes_on`, the area is taken to go on past the level's end. It takes the
    hems it `meets` for itself.
    """

    name: str
    tiles: tuple[HemTile, ...] = ()
    way: HemWay = "all around"
    goes_on: bool = False
    meets: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Patch:
    """A saved block of tiles: rows of (number, orientation), upper left first; number 0 is left
    as it is."""

    name: str
    rows: tuple[tuple[tuple[int, int], ...], ...]


@dataclass(frozen=True, slots=True)
class Mix:
    """Tiles of which one is drawn at random, each as often as its weight says."""

    name: str
    tiles: tuple[tuple[int, int], ...]
