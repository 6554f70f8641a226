"""Ground that nobody decided about: what a level is made of, and what the art says of it."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from rushweed.core.bound.from_above import for_above
from rushweed.core.bound.from_side import for_side
from rushweed.core.bound.proposing import Proposal, give_proposed, propose_shapes
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, numbers_in, piece_index
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.project.sitting import Made

MOST_AT_ONCE = 1024
"""Of sheets with more pieces only those that are painted are decided about by themselves."""
Wanted = Mapping[str, Collection[int]]
"""Numbers of pieces by sheet."""
Known = Mapping[int, Proposal]
"""What was proposed for pieces, by number."""


def undecided(project: Project, level: Level, known: Known | None = None) -> dict[str, set[int]]:
    """The numbers of painted tiles of which nobody said whether they are solid, by sheet, on the
    layers of a level that stop walkers: they carry and stop nobody. From above, those of props
    too, for one runs through what stands there. With `known` also those that are still as they
    were proposed, in doubt."""
    index = piece_index(project)
    layers = [layer for layer in level.layers if layer.stops]
    painted = {number for one in layers for number in one.cells.used()}
    if level.view == "top-down":
        standing = {prop.piece for layer in layers for prop in layer.props if prop.body is None}
        painted |= {n for n in standing & index.keys() if index[n][1].body.kind == "fixed"}
    found: dict[str, set[int]] = {}
    for number in sorted(painted & index.keys()):
        sheet, piece = index[number]
        if _is_open(piece, known or {}):
            found.setdefault(sheet.name, set()).add(number)
    return found


def to_decide(project: Project, level: Level, known: Known) -> dict[str, set[int]]:
    """What is to be decided about, by sheet, so that a level has ground: what it is made of; from
    the side the rest of these sheets, where they are not many, so that what is painted next is
    known, too."""
    if level.view == "top-down":
        return undecided(project, level, known)
    found = undecided(project, level)
    for name in found:
        pieces = project.sheet(name).pieces
        if len(pieces) <= MOST_AT_ONCE:
            found[name] = {piece.number for piece in pieces if piece.shapes is None}
    return found


def _is_open(piece: Piece, known: Known) -> bool:
    """Whether nobody decided about a piece: not at all, or it is as it was proposed, in doubt."""
    one = known.get(piece.number)
    return piece.shapes is None or (one is not None and not one.sure and one.shapes == piece.shapes)


def proposed(
    project: Project, art: Art, sheet: Sheet, wanted: Collection[int] | None = None
) -> dict[int, Proposal]:
    """Shapes and facts for pieces of a sheet, all or those wanted, by number, as its art tells,
    from the side or from above. Raises Refusal where the picture cannot be read."""
    picture, tiles = art.picture(sheet), holds_tiles(project, sheet)
    found = propose_shapes(solid(picture), sheet.pieces, tiles, wanted)
    if is_seen_from_above(project, sheet):
        levels = [level for level in project.levels if level.view == "top-down"]
        return for_above(sheet, picture, found, project.rules.tile.height, levels)
    return for_side(sheet, picture, found) if tiles else found


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


def decide(project: Project, art: Art, wanted: Wanted) -> Project:
    """The project with what the art tells of pieces, by sheet, that nobody decided about so
    far. Raises Refusal where a picture cannot be read."""
    return decided(project, art, wanted, {}).project


def decided(project: Project, art: Art, wanted: Wanted, known: Known) -> Made[dict[int, Proposal]]:
    """The same, with what was proposed for each; those that are as they were `known` to be, in
    doubt, are decided anew."""
    made: dict[int, Proposal] = {}
    for name, numbers in wanted.items():
        sheet = project.sheet(name)
        open_ = {p.number for p in sheet.pieces if p.number in numbers and _is_open(p, known)}
        found = proposed(project, art, sheet, open_)
        for piece in sheet.pieces:
            if piece.number in open_:
                one = found[piece.number]
                if known.get(piece.number) != one or piece.shapes is None:
                    made[piece.number] = one
    return Made(give_proposed(project, made) if made else project, made)


def is_seen_from_above(project: Project, sheet: Sheet) -> bool:
    """Whether a sheet is for levels seen from above: those that use it are, else all are, else
    levels begin so."""
    numbers = {piece.number for piece in sheet.pieces}
    using = [level for level in project.levels if numbers_in(level) & numbers]
    views = {level.view for level in using or project.levels} or {project.rules.view}
    return views == {"top-down"}
