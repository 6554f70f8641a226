"""Seams: what one sees where a figure changes from one animation to another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Bytes, Floats, Mask
from rushweed.core.cut.animations import one_round
from rushweed.core.cut.boards import common_board, on_board, weights_of
from rushweed.core.cut.overlaying import Waves, farthest_across, shift_between, waves_of
from rushweed.core.cut.steady_together import SWAY, is_off_the_ground
from rushweed.core.cut.steadying import stance
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.figure import Cast
from rushweed.core.project.sheet import Animation

FINEST = 64
"""Frames are compared with so many places a side at most."""
MEET = 0.4
"""Silhouettes that share less than this part of what both cover do not meet."""
STEPS = 60.0
"""A change is played in so many steps a second, so that either animation keeps its rate."""


class Seam(NamedTuple):
    """The change from one animation to another, by their names, where it is worst.

    `jump` is by how many pixels the feet go down, negative up, and None where either leaves the
    ground on purpose; `aside` by how many the body goes to the right, as most frames say; `shared`
    the part of what both silhouettes cover that both do.
    """

    before: str
    after: str
    jump: int | None
    aside: int
    shared: float

    @property
    def is_seen(self) -> bool:
        """Whether one sees it as a fault."""
        return bool(self.jump) or abs(self.aside) > SWAY or self.shared < MEET


class _Frame(NamedTuple):
    """Where a frame's foot is; in coarse places of so many pixels, what it covers, and its weights
    as waves."""

    foot: int
    coarse: int
    covered: Mask
    waves: Waves


def seams_of(cast: Cast, art: Art) -> list[Seam]:
    """Every change between two animations of a figure. A looping one may be left at any frame, one
    that is played once at its last; the other begins with its first."""
    shown = dict(_frames(cast, art))
    found = []
    for before in cast.animations:
        left = [p for p in _left_at(before) if before.frames[p] in shown]
        for after in cast.animations:
            if after is not before and left and after.frames and after.frames[0] in shown:
                found.append(_seam(before, after, left, shown))
    return found


def played(before: Animation, after: Animation) -> Animation:
    """One round of each of two animations, after each other."""
    frames, holds = [], []
    for one in (before, after):
        steps = one_round(one)
        frames += [one.frames[place] for place in steps]
        holds += [max(1, round(STEPS / one.rate))] * len(steps)
    return Animation(f"{before.name} → {after.name}", tuple(frames), STEPS, "loop", tuple(holds))


def _left_at(animation: Animation) -> Sequence[int]:
    """The places of the frames at which it may be left."""
    places = range(len(animation.frames))
    return places[-1:] if animation.play == "once" else places


def _seam(
    before: Animation, after: Animation, left: Sequence[int], shown: dict[int, _Frame]
) -> Seam:
    first = shown[after.frames[0]]
    leaps = is_off_the_ground(before) or is_off_the_ground(after)
    frames = [shown[before.frames[place]] for place in left]
    jump = None if leaps else max((first.foot - one.foot for one in frames), key=abs)
    most = farthest_across(first.covered.shape[1])
    shifts = [shift_between(first.waves, one.waves, most) for one in frames]
    aside = sorted(shifts)[len(shifts) // 2] * first.coarse
    shared = min(_shared(one.covered, first.covered) for one in frames)
    return Seam(before.name, after.name, jump, aside, shared)


def _shared(one: Mask, other: Mask) -> float:
    return float((one & other).sum()) / max(1.0, float((one | other).sum()))


def _frames(cast: Cast, art: Art) -> Iterator[tuple[int, _Frame]]:
    """What is seen of each frame of a figure that shows something, by its number."""
    wanted = {frame for one in cast.animations for frame in one.frames}
    board = common_board(
        piece for sheet in cast.sheets for piece in sheet.pieces if piece.number in wanted
    )
    coarse = max(1, -(-max(board.size) // FINEST))
    for sheet in cast.sheets:
        mask = solid(art.picture(sheet))
        for piece in sheet.pieces:
            if piece.number in wanted and (stands := stance(piece, mask)) is not None:
                weights = weights_of(on_board(art.piece(sheet, piece), piece, board))
                found = _coarsely(weights, coarse)
                yield piece.number, _Frame(stands.foot, coarse, found > 0, waves_of(found))


def _coarsely(weights: Bytes, coarse: int) -> Floats:
    """The same summed over places of so many pixels a side."""
    found = weights.astype(np.float32)
    for axis in (0, 1):
        found = np.add.reduceat(found, range(0, found.shape[axis], coarse), axis=axis)
    return found
