"""Ground that nobody decided about: what a level is painted with, and what the art says of it; seen
from above a wall is as full as the floor beside it, so that names tell more."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping

from rushweed.core.bound.proposing import Proposal, give_proposed, propose_shapes
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, numbers_in, piece_index
from rushweed.core.project.sheet import EvenCells, Sheet


def undecided(project: Project, level: Level) -> dict[str, frozenset[int]]:
    """The numbers of painted tiles of which nobody said whether they are solid, by sheet, on the
    layers of a level that stop walkers: they carry and stop nobody."""
    index = piece_index(project)
    painted = {number for one in level.layers if one.stops for number in one.cells.used()}
    found: dict[str, set[int]] = {}
    for number in sorted(painted & index.keys()):
        sheet, piece = index[number]
        if piece.shapes is None:
            found.setdefault(sheet.name, set()).add(number)
    return {name: frozenset(numbers) for name, numbers in found.items()}


def proposed(project: Project, art: Art, sheet: Sheet) -> dict[int, Proposal]:
    """Shapes for all pieces of a sheet, by number, as its art tells, from the side or from above.
    Raises Refusal where the picture cannot be read."""
    found = propose_shapes(solid(art.picture(sheet)), sheet.pieces, holds_tiles(project, sheet))
    return for_above(sheet, found) if is_seen_from_above(project, sheet) else found


def holds_tiles(project: Project, sheet: Sheet) -> bool:
    """Whether the pieces of a sheet are tiles: it is a tileset, levels are painted with it, or its
    cells are as large as those of levels and nothing in them moves."""
    if sheet.kind == "tileset":
        return True
    if not isinstance(sheet.layout, EvenCells) or sheet.animations:
        return False
    numbers = {piece.number for piece in sheet.pieces}
    layers = (layer for level in project.levels for layer in level.layers)
    painted = any(not numbers.isdisjoint(layer.cells.used()) for layer in layers)
    return painted or sheet.layout.cell == project.rules.tile


def decide(project: Project, art: Art, wanted: Mapping[str, Collection[int]]) -> Project:
    """The project with the shapes that the art tells for pieces, by sheet, that nobody decided
    about so far. Raises Refusal where a picture cannot be read."""
    index = piece_index(project)
    for name, numbers in wanted.items():
        found = proposed(project, art, project.sheet(name))
        open_ = {n for n in numbers if n in index and index[n][1].shapes is None}
        project = give_proposed(project, {n: found[n] for n in open_ & found.keys()})
    return project


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
