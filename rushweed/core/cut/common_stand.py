"""One common stand for all sheets of a figure, however each was cropped.

  idle        run, cropped closer    run as it is laid
+-----+         +----+                  +----+
|  o  |         |  o~|                  |  o~|
| ~|~ |         |~|  |                  |~|  |
+--x--+         +-x--+                  +--x-+      x: where it stands
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Bytes, Reals
from rushweed.core.cut.boards import common_board, on_board, weights_of
from rushweed.core.cut.loose import part_of
from rushweed.core.cut.overlaying import (
    farthest_across,
    over_each_other,
    shift_between,
    shift_by_phases,
    shift_down,
    waves_of,
)
from rushweed.core.cut.steady_together import is_off_the_ground
from rushweed.core.cut.steadying import feet_of, most_common, move_offsets
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.sitting import Made
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Refusal

LOOKED_AT = 24
"""Of more frames of a sheet so many say where it lies."""
NEAR = 1
AGREE = 0.6
"""It is sure where a sheet lies when so many of its frames say the same within a pixel."""


class Laid(NamedTuple):
    """By how many pixels a sheet's frames were moved, all alike or each by its own, and whether
    that is sure."""

    sheet: str
    moved: tuple[Point, ...]
    is_sure: bool


class _Part(NamedTuple):
    """Pieces that move as one, by their numbers; those of them that say where, and where their
    feet are, if they stand on the ground."""

    sheet: Sheet
    moving: Sequence[int]
    frames: Sequence[Piece]
    foot: int | None

    @property
    def most(self) -> int:
        return farthest_across(max(frame.rect.width for frame in self.frames))


def lay_over_each_other(project: Project, art: Art, names: Sequence[str]) -> Made[list[Laid]]:
    """Move the frames of sheets, by their offsets, until all show one figure in one place: what
    stands on the ground on one line of feet, bodies over each other. The first stays.

    Frames of one size were cropped together and move as one; where sizes differ, each moves alone.
    Makes known how each sheet was moved. Raises Refusal where fewer than two sheets
    show something, and where they are drawn at different scales.
    """
    _check_scales(project, names)
    parts = [part for name in names for part in _parts(project.sheet(name), art)]
    if len({part.sheet.name for part in parts}) < 2:
        raise Refusal("Fewer than two of these sheets show a figure. Cut them into frames first.")
    line = next((part.foot for part in parts if part.foot is not None), 0)
    downs = [0 if part.foot is None else line - part.foot for part in parts]
    boards = _boards(parts, downs, art)
    means = [np.mean(board, axis=0) for board in boards]
    shifts = over_each_other(means, [part.most for part in parts])
    together = sum(np.roll(mean, shift, 1) for mean, shift in zip(means, shifts, strict=True))
    found: dict[str, list[tuple[Point, bool]]] = defaultdict(list)
    moves: dict[int, Point] = {}
    for part, board, mean, across, down in zip(parts, boards, means, shifts, downs, strict=True):
        rest = (np.roll(together, -across, 1) - mean) / (len(parts) - 1)
        sees = shift_down(rest, mean, part.most) if part is not parts[0] else 0
        moved = Point(across, down + (sees if part.foot is None else 0))
        stands = part.foot is None or abs(sees) <= NEAR
        sure = part is parts[0] or (stands and _agree(board, rest, part.most))
        found[part.sheet.name].append((moved, sure))
        moves |= dict.fromkeys(part.moving, moved)
    laid = [
        Laid(name, tuple(moved for moved, _ in all_of), all(sure for _, sure in all_of))
        for name, all_of in found.items()
    ]
    return Made(move_offsets(project, moves), laid)


def _check_scales(project: Project, names: Sequence[str]) -> None:
    scales = {treatment_of(project, project.sheet(name)).pixels_per_unit for name in names}
    if len(scales) > 1:
        raise Refusal(
            "These sheets are drawn at {scales} px per unit. Give them one size in Gauge first.",
            scales=", ".join(f"{scale:g}" for scale in sorted(scales)),
        )


def _parts(sheet: Sheet, art: Art) -> list[_Part]:
    """What moves of a sheet. Of frames that move as one, those speak that stand on the ground."""
    mask = solid(art.picture(sheet))
    shown = [piece for piece in sheet.pieces if part_of(mask, piece.rect).any()]
    leaping = {frame for one in sheet.animations if is_off_the_ground(one) for frame in one.frames}
    standing = [piece for piece in shown if piece.number not in leaping]
    feet = feet_of(standing, mask)
    if len({piece.rect.size for piece in shown}) > 1:
        return [_Part(sheet, [one.number], [one], feet.get(one.number)) for one in shown]
    speaking = standing or shown
    if not speaking:
        return []
    some = speaking[:: -(-len(speaking) // LOOKED_AT)]
    numbers = [piece.number for piece in sheet.pieces]
    return [_Part(sheet, numbers, some, most_common(feet.values()) if feet else None)]


def _boards(parts: Sequence[_Part], downs: Sequence[int], art: Art) -> list[list[Bytes]]:
    """The weights of the frames of each part on one board, moved down, with room to move in."""
    board = common_board(frame for part in parts for frame in part.frames)
    aside, room = max(part.most for part in parts), max(map(abs, downs))
    size = board.width + 2 * aside, board.height + 2 * room
    board = Rect(board.x - aside, board.y - room, *size)
    return [
        [
            weights_of(on_board(art.piece(part.sheet, frame), frame, board.moved(0, -down)))
            for frame in part.frames
        ]
        for part, down in zip(parts, downs, strict=True)
    ]


def _agree(boards: Sequence[Bytes], rest: Reals, most: int) -> bool:
    """Whether most of some frames, and their edges, say that they lie right over the others."""
    waves = waves_of(rest)
    same = sum(abs(shift_between(waves, waves_of(board), most)) <= NEAR for board in boards)
    by_edges = abs(shift_by_phases(rest, np.mean(boards, axis=0), most)) <= NEAR
    return by_edges and same >= AGREE * len(boards)
