"""What the tiles of a sheet are in levels seen from the side: besides what is solid there are thin
ledges that one jumps through, ladders, and water."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.bound.proposing import FRINGE, Proposal
from rushweed.core.bound.tile_looks import is_ladder, is_water
from rushweed.core.bound.tile_words import told_by
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.facts import Facts
from rushweed.core.project.sheet import Sheet

WIDE, THIN, BARE = 0.85, 0.65, 0.5
"""A ledge is so much of its tile wide at least, and so much of it high at most; below it less than
so much is drawn."""
LIQUID_OR_LADDER = ("water", "ladder")
"""What the name of a sheet may tell of all of its tiles."""


def for_side(
    sheet: Sheet, picture: Picture, proposals: Mapping[int, Proposal]
) -> dict[int, Proposal]:
    """What is proposed for pieces of a sheet, by number, as it is meant from the side; `picture`,
    of shape (height, width, 4), is that of the sheet."""
    found = dict(proposals)
    for piece in sheet.pieces:
        if piece.number in found:
            rect = piece.rect
            tile = picture[rect.y : rect.bottom, rect.x : rect.right]
            of_sheet = told_by(sheet.name)
            told = told_by(piece.name) or (of_sheet if of_sheet in LIQUID_OR_LADDER else None)
            found[piece.number] = _for_side(found[piece.number], tile, told)
    return found


def _for_side(proposal: Proposal, tile: Picture, told: str | None) -> Proposal:
    mask = tile[..., 3] > 0
    solid = proposal.shapes or proposal.other
    if told == "ladder" or (told is None and is_ladder(mask)):
        return Proposal((), told is not None, solid, Facts(moves="climbs"))
    if told == "water" or (told is None and is_water(tile, glassy=True)):
        return Proposal((), told is not None, solid, Facts(moves="swims"))
    if told is None and proposal.shapes and is_water(tile):
        return replace(proposal, sure=False, other=(), other_facts=Facts(moves="swims"))
    if _is_ledge(proposal, mask):
        through = tuple(replace(shape, stops="one-way") for shape in proposal.shapes)
        return replace(proposal, shapes=through, sure=False, other=proposal.shapes)
    return proposal


def _is_ledge(proposal: Proposal, mask: Mask) -> bool:
    """Whether what is solid lies at the top of a tile, from side to side, with little below."""
    if len(proposal.shapes) != 1:
        return False
    corners = proposal.shapes[0].form.corners
    across, down = ({corner[axis] for corner in corners} for axis in (0, 1))
    height, width = mask.shape
    bottom = int(np.ceil(max(down)))
    wide = max(across) - min(across) >= WIDE * width
    thin = min(down) <= FRINGE and bottom <= THIN * height
    return bool(wide and thin and mask[bottom:].mean() < BARE)
