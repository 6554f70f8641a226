"""What tiles are for, so that drawing leaves alone what serves another purpose.

Seen from the side their shapes tell it. From above a wall takes the place of the floor, and only
what lets one see through would leave a hole in it.
"""

from __future__ import annotations

from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal

FULL = 0.97
"""From above a tile of which so much is opaque is ground."""


def purpose_of(project: Project, number: int) -> str:
    """What a tile is for: to stand on and stop at, to land on, or to be looked at."""
    found = project.find(number)
    stops = {shape.stops for shape in (found[1].shapes or ())} if found else set()
    if "all sides" in stops:
        return "solid"
    return "one-way" if "one-way" in stops else "decoration"


class Purposes:
    """What the tiles of a level are for: `solid`, `one-way` or `decoration` seen from the side;
    `ground` or `things` from above."""

    def __init__(self, project: Project, art: Art, level: Level) -> None:
        self._project, self._art = project, art
        self._above = level.view == "top-down"
        self._known: dict[int, str] = {}

    def of(self, number: int) -> str:
        """What a tile is for; seen from the side, decoration where nobody has said it."""
        return self.known(number) if self._above else purpose_of(self._project, number)

    def known(self, number: int) -> str:
        """What a tile is for; empty where nobody has said it of it, or of any tile of its sheet,
        and where its picture cannot be read."""
        known = self._known.get(number)
        if known is None:
            known = self._from_above(number) if self._above else self._from_the_side(number)
            self._known[number] = known
        return known

    def main(self, layer: Layer) -> str:
        """What most of a layer's pieces are for, empty for an empty layer."""
        purposes = [self.of(number) for number in sorted(layer.cells.used())]
        return max(sorted(set(purposes)), key=purposes.count, default="")

    def _from_the_side(self, number: int) -> str:
        found = self._project.find(number)
        if found is None:
            return ""
        sheet, piece = found
        if piece.shapes is None and not any(other.shapes for other in sheet.pieces):
            return ""
        return purpose_of(self._project, number)

    def _from_above(self, number: int) -> str:
        found = self._project.find(number)
        if found is None:
            return ""
        sheet, piece = found
        key = ("covers", picture_key(sheet), piece.rect)
        try:
            covers = self._art.memory.get(key, lambda: _covers(self._art.piece(sheet, piece)))
        except Refusal:
            return ""
        return "ground" if covers else "things"


def _covers(picture: Picture) -> bool:
    """Whether a piece hides what is behind it."""
    return bool((picture[..., 3] == 255).mean() >= FULL)
