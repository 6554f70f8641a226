"""What the tiles of a sheet are in levels seen from the side: besides what is solid there are thin
ledges that one jumps through, ladders, and water."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.bound.proposing import FRINGE, FULL, Proposal
from rushweed.core.bound.tile_looks import is_ladder, is_water
from rushweed.core.bound.tile_words import told_by_any
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.facts import Facts
from rushweed.core.project.shape import Box
from rushweed.core.project.sheet import Sheet

THIN, BARE = 0.5, 0.35
"""A ledge is so much of its tile high at most; below it less than so much is drawn."""


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
            told = told_by_any(piece.name, sheet.name)
            found[piece.number] = _for_side(found[piece.number], tile, told)
    return found


def _for_side(proposal: Proposal, tile: Picture, told: str | None) -> Proposal:
    mask = tile[..., 3] > 0
    solid = proposal.shapes or proposal.other
    if told == "ladder" or (told is None and is_ladder(mask)):
        return Proposal((), told is not None, solid, Facts(moves="climbs"))
    if told == "water" or (told is None and is_water(tile, glassy=True)):
        return Proposal((), told is not None, solid, Facts(moves="swims"))
    if _is_ledge(proposal, mask):
        through = tuple(replace(shape, stops="one-way") for shape in proposal.shapes)
        return replace(proposal, shapes=through, sure=False, other=proposal.shapes)
    return proposal


def _is_ledge(proposal: Proposal, mask: Mask) -> bool:
    """Whether a box from side to side lies at the top of a tile, with nearly nothing below."""
    if len(proposal.shapes) != 1 or not isinstance(form := proposal.shapes[0].form, Box):
        return False
    height, width = mask.shape
    below = mask[int(np.ceil(form.y + form.height)) :]
    spans = form.x == 0 and form.width >= FULL * width
    thin = form.y <= FRINGE and 0 < form.height <= THIN * height
    return bool(spans and thin and below.mean() < BARE)
