"""One sheet's card in Gather."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PyQt6.QtCore import QRect

from rushweed.core.cut.inspect import Seen
from rushweed.core.project.sheet import Sheet


@dataclass(frozen=True, slots=True)
class Card:
    """The picture's place and the whole card's, in pixels of the table."""

    sheet: Sheet
    picture: QRect
    whole: QRect
    sentences: tuple[str, ...]
    waits: bool
    doubtful: Seen | None
    """What is seen, where that should be looked at before it is taken."""

    def moved(self, x: int, y: int) -> Card:
        """The same card elsewhere."""
        picture, whole = self.picture.translated(x, y), self.whole.translated(x, y)
        return replace(self, picture=picture, whole=whole)
