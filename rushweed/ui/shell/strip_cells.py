"""Where the pieces of the selected sheets lie in the strip."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice
from typing import NamedTuple

from PyQt6.QtGui import QFontMetrics

from rushweed.core.cut.naming import groups_of
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.ui.canvas.even import even_scale
from rushweed.ui.look.fonts import BODY, font

CELL_HEIGHT = 52
NARROWEST, WIDEST = 38, 76
LEFT, BETWEEN, APART = 12, 3, 14
"""Where the first cell begins, and how far apart cells and groups are."""


class Cell(NamedTuple):
    """One piece in the strip, in pixels of the whole strip."""

    sheet: Sheet
    piece: Piece
    place: int
    x: int
    width: int
    factor: float


class CellGroup(NamedTuple):
    """A row or an animation, and where its title begins."""

    title: str
    numbers: frozenset[int]
    x: int


class StripCells:
    """Cells and groups in reading order, laid out further and further: of very many pieces only
    those that are seen are needed at once."""

    def __init__(self, sheets: Sequence[Sheet], tall: int, ratio: float = 1.0) -> None:
        """`tall` is how high cells are, in pixels of which the screen has `ratio` for each."""
        self.cells: list[Cell] = []
        self.groups: list[CellGroup] = []
        self.length = LEFT
        self.is_whole = False
        self._tall, self._ratio = tall, ratio
        self._metrics = QFontMetrics(font(BODY, 600))
        self._rest = self._lay_out(sheets)

    def lay(self, count: int) -> None:
        """Lay out so many more cells."""
        self.is_whole = sum(1 for _ in islice(self._rest, count)) < count

    def _lay_out(self, sheets: Sequence[Sheet]) -> Iterator[None]:
        for sheet in sheets:
            for title, first, pieces in _grouped(sheet, len(sheets) > 1):
                begin = x = self.length
                numbers = frozenset(piece.number for piece in pieces)
                self.groups.append(CellGroup(title, numbers, begin))
                for index, piece in enumerate(pieces, first):
                    width, factor = _cell_size(piece, self._tall, self._ratio)
                    self.cells.append(Cell(sheet, piece, index, x, width, factor))
                    x += width + BETWEEN
                    self.length = x
                    yield
                wide = self._metrics.horizontalAdvance(f"{title} {len(pieces)}")
                self.length = max(x, begin + wide) + APART


def _grouped(sheet: Sheet, several: bool) -> Iterator[tuple[str, int, Sequence[Piece]]]:
    """Runs of pieces that share an animation or a row, with the place of the first in reading
    order."""
    if several:
        if sheet.pieces:
            yield sheet.name, 0, sheet.pieces
        return
    titles = groups_of(sheet)
    begin = 0
    for place in range(1, len(titles) + 1):
        if place == len(titles) or titles[place] != titles[begin]:
            yield titles[begin] or sheet.name, begin, sheet.pieces[begin:place]
            begin = place


def _cell_size(piece: Piece, tall: int, ratio: float) -> tuple[int, float]:
    """The width of a piece's cell that is so high, and by what it is enlarged there."""
    rect = piece.rect
    widest, most = WIDEST * tall // CELL_HEIGHT, 3 * tall // CELL_HEIGHT
    room = min(tall / max(rect.height, 1), widest / max(rect.width, 1), most)
    factor = even_scale(room, ratio)
    return max(NARROWEST, min(widest, int(rect.width * factor))), factor
