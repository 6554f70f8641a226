"""Pivots: where a piece stands or turns, in pixels of the piece."""

from __future__ import annotations

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
