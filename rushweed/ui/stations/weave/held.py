"""What is in the hand while a level is drawn: tool, brush, hem."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rushweed.core.weave.hand import Act
from rushweed.core.weave.painting import Brush, FillBy
from rushweed.core.words import say

Tool = Literal[
    "Brush",
    "Line",
    "Box",
    "Fill",
    "Erase",
    "Pick up",
    "Select",
    "Props",
    "Mark",
    "Measure",
    "Start",
]
DRAWING: tuple[Tool, ...] = ("Brush", "Line", "Box", "Fill", "Erase", "Pick up", "Select")
PAINTING: tuple[Tool, ...] = ("Brush", "Line", "Box", "Fill")
"""Tools that lay what is in hand."""
FIRST = say("Pick a tile in the tray first.")
TOOLS: tuple[Tool, ...] = (*DRAWING, "Props", "Mark", "Measure", "Start")

Reach = Literal["layer", "level", "levels"]
"""Where a fill of all that is alike replaces it: on the layer, in the level, in all levels."""
Others = Literal["stay", "aside", "replaced"]
"""They stay, or the stroke goes aside to the layer that fits it, or they are replaced."""


@dataclass(slots=True)
class Held:
    """One for the station; its groups and tools share it. `last` is what was drawn
    last, `mirror` the column (in cells) about which strokes are mirrored.
    `others` says what becomes of tiles of another purpose that a stroke comes upon; `walls` is how
    many cells thick the walls of a box are, 0 for a full one. With `places_tiles`, tiles are
    placed as props, for somebody took that tool by hand."""

    tool: Tool = "Brush"
    brush: Brush | None = None
    hem: str = ""
    fill_by: FillBy = "tile"
    reach: Reach = "layer"
    mirror: float | None = None
    last: Act | None = None
    others: Others = "stay"
    walls: int = 0
    places_tiles: bool = False
