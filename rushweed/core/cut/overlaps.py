"""Pieces that share pixels, and pieces with nothing in them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from rushweed.core.cut.loose import Mask
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Rect


def overlapping(pieces: Sequence[Piece]) -> Iterator[tuple[Piece, Piece]]:
    """Every pair of pieces whose rectangles overlap, found in one sweep from the top."""
    reached: list[Piece] = []
    for piece in sorted(pieces, key=lambda piece: piece.rect.y):
        reached = [other for other in reached if other.rect.bottom > piece.rect.y]
        for other in reached:
            if other.rect.x < piece.rect.right and piece.rect.x < other.rect.right:
                yield other, piece
        reached.append(piece)


def sharing_pixels(pieces: Sequence[Piece], mask: Mask) -> frozenset[int]:
    """The numbers of all pieces that show pixels which another piece shows too."""
    return frozenset(
        piece.number
        for pair in overlapping(pieces)
        if _shows(mask, pair[0].rect.intersection(pair[1].rect))
        for piece in pair
    )


def with_nothing(pieces: Sequence[Piece], mask: Mask) -> frozenset[int]:
    """The numbers of all pieces that show nothing."""
    return frozenset(piece.number for piece in pieces if not _shows(mask, piece.rect))


def _shows(mask: Mask, rect: Rect) -> bool:
    left, top = max(rect.x, 0), max(rect.y, 0)
    return bool(mask[top : max(rect.bottom, 0), left : max(rect.right, 0)].any())
