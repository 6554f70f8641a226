"""Ground that nobody decided about: what a level is painted with, and what the art says of it."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from rushweed.core.bound.from_above import for_above, is_seen_from_above
from rushweed.core.bound.proposing import Proposal, give_proposed, propose_shapes
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, piece_index
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
