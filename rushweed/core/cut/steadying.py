"""Steadying an animation: where feet and middle are in each frame, and bringing them to rest.

A frame is moved by its offset, whole pixels by which it is drawn away from where its pivot says;
the picture and its cuts stay as they are.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Literal, NamedTuple

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.cut.boards import common_board, on_board, weights_of
from rushweed.core.cut.correcting import recut
from rushweed.core.cut.loose import part_of
from rushweed.core.cut.overlaying import farthest_across, over_each_other
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.pixels import box_around
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import EvenCells, Piece
from rushweed.core.values import Point, Rect, Refusal

Box = Literal["all that is drawn", "feet and middle"]
FARTHEST = 1024
SHARE = 0.3
"""Feet of so many frames on one line say where a figure stands."""


class Stance(NamedTuple):
    """Where a frame's drawing is, in pixels from the point it stands on: its foot (just below its
    lowest pixel), the middle of what is drawn, and the box around it."""

    foot: int
    middle: float
    box: Rect


def stance(piece: Piece, mask: Mask) -> Stance | None:
    """Where a frame's drawing is; None when it shows nothing. `mask` is the sheet's."""
    part = part_of(mask, piece.rect)
    drawn = box_around(part)
    if drawn is None:
        return None
    x, y = _whole(piece.standing)
    box = drawn.moved(-x, -y)
    weight = part.sum(axis=0)
    middle = float((weight * (np.arange(len(weight)) + 0.5)).sum() / weight.sum()) - x
    return Stance(box.bottom, middle, box)


def wander(values: Sequence[float]) -> int:
    """By how many pixels values differ at most."""
    return round(max(values) - min(values)) if values else 0


def unrest(pieces: Sequence[Piece], mask: Mask) -> tuple[int, int]:
    """By how many pixels feet and middles of frames wander, as they stand."""
    stances = [s for piece in pieces if (s := stance(piece, mask)) is not None]
    return wander([s.foot for s in stances]), wander([s.middle for s in stances])


def feet_of(pieces: Sequence[Piece], mask: Mask) -> dict[int, int]:
    """Where the foot of each frame that shows something is, by its number, in pixels from what it
    stands on."""
    return {p.number: s.foot for p in pieces if (s := stance(p, mask)) is not None}


def most_common(values: Iterable[int]) -> int:
    """The value met most often, of several the largest; there is one at least."""
    counted = Counter(values)
    return max(counted, key=lambda value: (counted[value], value))


def level_feet(project: Project, pieces: Sequence[Piece], mask: Mask) -> Project:
    """Move frames up or down until all feet are where most of them are."""
    feet = feet_of(pieces, mask)
    if not feet:
        raise Refusal(
            "These frames show nothing that could stand. Choose frames that show something."
        )
    common = most_common(feet.values())
    return move_offsets(project, {n: Point(0, common - foot) for n, foot in feet.items()})


def stand_on_one_line(project: Project, sheet: str, mask: Mask) -> Project:
    """Have the frames of an even sheet stand where the feet of most of them are, so that nothing
    floats; what was decided of a pivot stays, and so do frames whose feet are all over the place.
    """
    old = project.sheet(sheet)
    if old.kind != "sheet" or not isinstance(old.layout, EvenCells):
        return project
    usual = [p for p in old.pieces if p.pivot == Point(p.rect.width // 2, p.rect.height)]
    above = [-s.foot for piece in usual if (s := stance(piece, mask)) is not None]
    if not above:
        return project
    gap = min(value for value, count in Counter(above).items() if count == _most(above))
    if gap == 0 or above.count(gap) < SHARE * len(above):
        return project
    numbers = frozenset(piece.number for piece in usual)
    return with_pieces(
        project, numbers, lambda p: replace(p, pivot=Point(p.pivot.x, p.pivot.y - gap))
    )


def steady_middle(project: Project, pieces: Sequence[Piece], mask: Mask) -> Project:
    """Move frames across until the middle of what is drawn is where it is in most of them."""
    middles = {p.number: s.middle for p in pieces if (s := stance(p, mask)) is not None}
    if not middles:
        raise Refusal(
            "These frames show nothing that has a middle. Choose frames that show something."
        )
    common = float(np.percentile([*middles.values()], 50, method="lower"))
    return move_offsets(project, {n: Point(round(common - m), 0) for n, m in middles.items()})


def steady_body(project: Project, pieces: Sequence[Piece], picture: Picture) -> Project:
    """Move frames across until their bodies lie upon each other, whatever their limbs do; the first
    one stays."""
    board = common_board(pieces)
    boards = [weights_of(on_board(cut_out(picture, one.rect), one, board)) for one in pieces]
    shifts = over_each_other(boards, [farthest_across(piece.rect.width) for piece in pieces])
    moves = zip(pieces, shifts, strict=True)
    return move_offsets(project, {piece.number: Point(shift, 0) for piece, shift in moves})


def nudge(project: Project, numbers: frozenset[int], across: int, down: int) -> Project:
    """Draw frames so many pixels further to the right and down."""
    return move_offsets(project, dict.fromkeys(numbers, Point(across, down)))


def forget_offsets(project: Project, numbers: frozenset[int]) -> Project:
    """Draw frames where their pivots say."""
    return with_pieces(project, numbers, lambda piece: replace(piece, offset=Point(0, 0)))


def common_box(project: Project, pieces: Sequence[Piece], mask: Mask, box: Box) -> Project:
    """Cut all frames to one size, with what they stand on at one place in each.

    Around all that is drawn, seen from where each frame stands; or each frame around its own feet
    and middle, which then are what it stands on, unless it stands steadier already. No frame jumps
    more than before. Raises Refusal where frames lie too close together for such a box.
    """
    stances = {p.number: s for p in pieces if (s := stance(p, mask)) is not None}
    if not stances:
        raise Refusal("These frames show nothing to put a box around. Choose others.")
    stands = {number: Point(0, 0) for number in stances}
    if box == "feet and middle":
        stands = _own_feet(stances)
    whole = Rect(0, 0, 0, 0)
    for number, one in stances.items():
        whole = whole.union(one.box.moved(-int(stands[number].x), -int(stands[number].y)))

    def boxed(piece: Piece) -> Piece:
        stand = stands[piece.number]
        x, y = _whole(piece.standing)
        return _boxed(piece, (x + int(stand.x), y + int(stand.y)), whole)

    for piece in pieces:
        if piece.number in stances and _shows_others(piece.rect, boxed(piece).rect, mask):
            raise Refusal(
                "The frames lie too close together: one box would show bits of their neighbours. "
                "Level the feet and steady the middle instead; sizes may differ."
            )
    return with_pieces(project, frozenset(stances), boxed)


def _own_feet(stances: Mapping[int, Stance]) -> dict[int, Point]:
    """From where each frame stands now, the foot and middle of its own box; where frames stand
    steadier across than that, only the foot."""
    across = {n: one.box.x + one.box.width // 2 for n, one in stances.items()}
    now = wander([one.middle for one in stances.values()])
    if wander([one.middle - across[n] for n, one in stances.items()]) > now:
        across = dict.fromkeys(stances, 0)
    return {n: Point(across[n], one.foot) for n, one in stances.items()}


def _shows_others(before: Rect, after: Rect, mask: Mask) -> bool:
    """Whether a rectangle shows something that did not lie in the one before."""
    seen = part_of(mask, after).copy()
    own = before.intersection(after)
    if own.area:
        left, top = own.x - after.x, own.y - after.y
        seen[top : top + own.height, left : left + own.width] = False
    return bool(seen.any())


def _boxed(piece: Piece, stand: tuple[int, int], box: Rect) -> Piece:
    """A piece cut to a box around a place of its own, on which it then stands."""
    x, y = piece.rect.x + stand[0] + box.x, piece.rect.y + stand[1] + box.y
    cut = recut(piece, Rect(x, y, box.width, box.height))
    return replace(cut, pivot=Point(-box.x, -box.y), offset=Point(0, 0))


def move_offsets(project: Project, moves: Mapping[int, Point]) -> Project:
    """Draw pieces, by their numbers, so many pixels further to the right and down. Raises Refusal
    where that is absurdly far."""

    def edit(piece: Piece) -> Piece:
        x, y = piece.offset.x + moves[piece.number].x, piece.offset.y + moves[piece.number].y
        if max(abs(x), abs(y)) > FARTHEST:
            raise Refusal("A frame is moved by at most {farthest} px.", farthest=FARTHEST)
        return replace(piece, offset=Point(x, y))

    real = frozenset(number for number, move in moves.items() if move != Point(0, 0))
    return with_pieces(project, real, edit) if real else project


def _most(values: Sequence[int]) -> int:
    """How often the value is met that is met most often."""
    return max(Counter(values).values())


def _whole(place: Point) -> tuple[int, int]:
    return round(place.x), round(place.y)
