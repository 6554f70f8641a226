"""One sheet's card in Gather."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QRect, QRectF

from rushweed.core.cut.inspect import Seen
from rushweed.core.project.sheet import Sheet


class Card(NamedTuple):
    """The picture's place and the whole card's, in pixels of the table."""

    sheet: Sheet
    picture: QRectF
    whole: QRect
    sentences: tuple[str, ...]
    waits: bool
    seen: Seen | None
    """What is seen, where nothing was decided yet."""

    @property
    def doubtful(self) -> Seen | None:
        """What is seen, where that should be looked at before it is taken."""
        return None if self.seen is None or self.seen.is_sure else self.seen

    def placed(self, sheet: Sheet, x: int, y: int) -> Card:
        """The same card elsewhere, for a sheet of which it tells the same."""
        picture, whole = self.picture.translated(x, y), self.whole.translated(x, y)
        return Card(sheet, picture, whole, self.sentences, self.waits, self.seen)
