"""Pivots: where a piece stands or turns, in pixels of the piece."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Refusal

ANCHORS: dict[str, tuple[float, float]] = {
    "Top left": (0, 0),
    "Top": (0.5, 0),
    "Top right": (1, 0),
    "Left": (0, 0.5),
    "Centre": (0.5, 0.5),
    "Right": (1, 0.5),
    "Foot left": (0, 1),
    "Foot": (0.5, 1),
    "Foot right": (1, 1),
}
FARTHEST = 4096


def anchored(piece: Piece, anchor: str) -> Point:
    """The pivot an anchor gives a piece, on whole pixels."""
    across, down = ANCHORS[anchor]
    return Point(int(piece.rect.width * across), int(piece.rect.height * down))


def set_anchor(project: Project, numbers: frozenset[int], anchor: str) -> Project:
    """Put the pivots of pieces at one of the nine anchors of each."""
    return with_pieces(
        project, numbers, lambda piece: replace(piece, pivot=anchored(piece, anchor))
    )


def set_pivot(
    project: Project, numbers: frozenset[int], x: float | None = None, y: float | None = None
) -> Project:
    """Put the pivots of pieces at these pixels; None leaves that coordinate as it is.

    Shapes stay where they are on the picture. Raises Refusal for a pivot absurdly far outside.
    """
    if max(abs(x or 0), abs(y or 0)) > FARTHEST:
        raise Refusal(f"A pivot lies within {FARTHEST} px of its piece.")

    def edit(piece: Piece) -> Piece:
        old = piece.pivot
        return replace(piece, pivot=Point(old.x if x is None else x, old.y if y is None else y))

    return with_pieces(project, numbers, edit)


def from_foot(piece: Piece) -> Point:
    """Where the pivot lies, in pixels from the middle of the piece's foot."""
    return Point(piece.pivot.x - piece.rect.width // 2, piece.pivot.y - piece.rect.height)


def align_pivots(project: Project, numbers: frozenset[int]) -> Project:
    """Put the pivots of pieces where most of them have it, seen from the middle of the foot."""
    found = Counter(from_foot(piece) for _, piece in project.pieces() if piece.number in numbers)
    if not found:
        return project
    usual = max(found, key=lambda place: (found[place], -abs(place.x) - abs(place.y)))

    def edit(piece: Piece) -> Piece:
        x, y = piece.rect.width // 2 + usual.x, piece.rect.height + usual.y
        return replace(piece, pivot=Point(x, y))

    return with_pieces(project, numbers, edit)


def round_pivots(project: Project, numbers: frozenset[int]) -> Project:
    """Put the pivots of pieces onto whole pixels."""

    def edit(piece: Piece) -> Piece:
        return replace(piece, pivot=Point(round(piece.pivot.x), round(piece.pivot.y)))

    return with_pieces(project, numbers, edit)
