"""Shapes for a whole sheet that is seen from above, where a wall is as full as the floor beside it.

What is drawn tells little there, so that what a sheet or a piece is called decides; all else is
walked on, and in doubt.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from rushweed.core.bound.proposing import Proposal
from rushweed.core.project.project import Project, numbers_in
from rushweed.core.project.sheet import Sheet

STOPS = "block blocks boulder boulders cliff cliffs fence fences hedge hedges rock rocks wall walls"
CARRIES = (
    "carpet carpets dirt floor floors grass ground grounds lawn path paths road roads sand turf"
)
KNOWN = dict.fromkeys(STOPS.split(), True) | dict.fromkeys(CARRIES.split(), False)
"""Words for what stops one, and for what one walks on."""


def is_seen_from_above(project: Project, sheet: Sheet) -> bool:
    """Whether a sheet is for levels seen from above: those that use it are, else all are, else
    levels begin so."""
    numbers = {piece.number for piece in sheet.pieces}
    using = [level for level in project.levels if numbers_in(level) & numbers]
    views = {level.view for level in using or project.levels} or {project.rules.view}
    return views == {"top-down"}


def for_above(sheet: Sheet, proposals: Mapping[int, Proposal]) -> dict[int, Proposal]:
    """What is proposed for pieces of a sheet, by number, as it is meant from above."""
    return {
        piece.number: _for_above(proposals[piece.number], piece.name, sheet.name)
        for piece in sheet.pieces
        if piece.number in proposals
    }


def _for_above(proposal: Proposal, *names: str) -> Proposal:
    found = proposal.shapes or proposal.other
    stops = next((told for name in names if (told := _told_by(name)) is not None), None)
    if stops is None:
        return Proposal((), sure=not found, other=found)
    return Proposal(found, sure=proposal.sure) if stops else Proposal(())


def _told_by(name: str) -> bool | None:
    """Whether what is called so stops one; the last word that is known says it."""
    words = re.split(r"[\W_\d]+", name.lower())
    return next((KNOWN[word] for word in reversed(words) if word in KNOWN), None)
