"""What a tile is beyond its shape, as it is stored."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from rushweed.core.value_ranges import NotNegative, within
from rushweed.core.values import Colour

Side = Literal["left", "right", "above", "below"]
SIDES: tuple[Side, ...] = ("left", "right", "above", "below")
KindNumber = Annotated[int, within(0, 65535)]
Moves = Literal["walks", "climbs", "swims"]
NoteKind = Literal["text", "number", "yes or no"]


@dataclass(frozen=True, slots=True)
class GroundKind:
    """A kind of ground that the game's code asks for by number, 0 to 65535. `letter` and `colour`
    mark it on tiles."""

    number: KindNumber
    name: str
    letter: str = ""
    colour: Colour = Colour(76, 107, 54)


@dataclass(frozen=True, slots=True)
class Note:
    """A key and value of the game's own. A number or a yes or no is written as text here and as
    what it is into bundles."""

    key: str
    value: str = ""
    kind: NoteKind = "text"


@dataclass(frozen=True, slots=True)
class Current:
    """What carries whoever is in a tile, in units per second."""

    across: Annotated[float, within(-100, 100)] = 0.0
    down: Annotated[float, within(-100, 100)] = 0.0


@dataclass(frozen=True, slots=True)
class Facts:
    """What a tile is beyond its shape.

    `entry` names the sides from which one may come in. `cover` is how many tiles high it is drawn
    over somebody who stands behind it, `wade` how many pixels of somebody's feet it hides, `reach`
    whether one can act across it. `ground` is the number of a ground kind, None for no kind.
    `moves` is how one gets on in it, `current` what carries one there.
    """

    entry: tuple[Side, ...] = SIDES
    cover: NotNegative = 0
    wade: NotNegative = 0
    reach: bool = False
    ground: KindNumber | None = None
    notes: tuple[Note, ...] = ()
    moves: Moves = "walks"
    current: Current = Current()


USUAL = Facts()
"""Those of a tile of which nothing was said."""
