"""Pieces that share pixels, and pieces with nothing in them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from rushweed.core.arrays import Mask
from rushweed.core.cut.loose import part_of
from rushweed.core.project.sheet import Piece


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
        if part_of(mask, pair[0].rect.intersection(pair[1].rect)).any()
        for piece in pair
    )


def with_nothing(pieces: Sequence[Piece], mask: Mask) -> frozenset[int]:
    """The numbers of all pieces that show nothing."""
    return frozenset(piece.number for piece in pieces if not part_of(mask, piece.rect).any())
