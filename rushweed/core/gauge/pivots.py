"""Pivots: where a piece stands or turns, in pixels of the piece."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from rushweed.core.arrays import Mask
from rushweed.core.cut.loose import part_of
from rushweed.core.pixels import box_around
from rushweed.core.project.project import Project, with_pieces, with_sheet
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Refusal
from rushweed.core.words import say

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


def anchor_words(anchor: str) -> str:
    """An anchor in the user's language."""
    return say(anchor)


def anchored(piece: Piece, anchor: str) -> Point:
    """The pivot an anchor gives a piece, on whole pixels."""
    across, down = ANCHORS[anchor]
    return Point(int(piece.rect.width * across), int(piece.rect.height * down))


def put_pivot(piece: Piece, pivot: Point) -> Piece:
    """A piece whose pivot somebody put there: it stays on that pixel of the picture."""
    return replace(piece, pivot=pivot, pivot_set=True)


def set_anchor(project: Project, numbers: frozenset[int], anchor: str) -> Project:
    """Put the pivots of pieces at one of the nine anchors of each."""
    return with_pieces(project, numbers, lambda piece: put_pivot(piece, anchored(piece, anchor)))


def set_pivot(
    project: Project, numbers: frozenset[int], x: float | None = None, y: float | None = None
) -> Project:
    """Put the pivots of pieces at these pixels; None leaves that coordinate as it is.

    Shapes stay where they are on the picture. Raises Refusal for a pivot absurdly far outside.
    """
    if max(abs(x or 0), abs(y or 0)) > FARTHEST:
        raise Refusal("A pivot lies within {farthest} px of its piece.", farthest=FARTHEST)

    def edit(piece: Piece) -> Piece:
        old = piece.pivot
        return put_pivot(piece, Point(old.x if x is None else x, old.y if y is None else y))

    return with_pieces(project, numbers, edit)


def stand_on_feet(project: Project, sheet: str, numbers: frozenset[int], mask: Mask) -> Project:
    """Put the pivot of each piece below its lowest pixel, under the middle of what is drawn of
    it; pieces that show nothing stay as they are."""

    def edit(piece: Piece) -> Piece:
        drawn = box_around(part_of(mask, piece.rect))
        if piece.number not in numbers or drawn is None:
            return piece
        return put_pivot(piece, Point((drawn.x + drawn.right) // 2, drawn.bottom))

    def change(old: Sheet) -> Sheet:
        return replace(old, pieces=tuple(map(edit, old.pieces)))

    return with_sheet(project, sheet, change)


def copy_pivot(project: Project, number: int, numbers: frozenset[int]) -> Project:
    """Give pieces the pivot of another, seen from the middle of the foot of each."""
    found = project.find(number)
    if found is None:
        return project
    place = from_foot(found[1])
    return with_pieces(project, numbers, lambda piece: _with_foot(piece, place))


def from_foot(piece: Piece) -> Point:
    """Where the piece stands, in pixels from the middle of its foot."""
    stands = piece.standing
    return Point(stands.x - piece.rect.width // 2, stands.y - piece.rect.height)


def align_pivots(project: Project, numbers: frozenset[int]) -> Project:
    """Put the pivots of pieces where most of them have it, seen from the middle of the foot."""
    found = Counter(from_foot(piece) for _, piece in project.pieces() if piece.number in numbers)
    if not found:
        return project
    usual = max(found, key=lambda place: (found[place], -abs(place.x) - abs(place.y)))
    return with_pieces(project, numbers, lambda piece: _with_foot(piece, usual))


def round_pivots(project: Project, numbers: frozenset[int]) -> Project:
    """Put the pivots of pieces onto whole pixels."""

    def edit(piece: Piece) -> Piece:
        whole = Point(round(piece.pivot.x), round(piece.pivot.y))
        return piece if piece.pivot == whole else put_pivot(piece, whole)

    return with_pieces(project, numbers, edit)


def _with_foot(piece: Piece, place: Point) -> Piece:
    """The piece standing so far from the middle of its foot; an offset stays what it is."""
    x = piece.rect.width // 2 + place.x + piece.offset.x
    return put_pivot(piece, Point(x, piece.rect.height + place.y + piece.offset.y))
