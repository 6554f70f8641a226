"""Findings of Bound."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from rushweed.core.bound.standing import stand_on_drawn, standing_error
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project, piece_index
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal


def floats_and_sinks(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces whose shapes lie above or below what is drawn of them."""
    for sheet in project.sheets:
        errors = _standing_errors(art, sheet)
        for floats in (True, False):
            off = {n: by for n, by in errors.items() if (by > 0) is floats}
            if not off:
                continue
            count = "1 piece" if len(off) == 1 else f"{len(off)} pieces"
            most = max(abs(by) for by in off.values())
            where = "above" if floats else "below"
            yield Finding(
                "floats" if floats else "sinks",
                "Bound",
                f"The shapes of {count} of {sheet.name} begin {where} what is drawn, "
                f"by up to {most} px.",
                f"A walker will {'float over' if floats else 'sink into'} the ground.",
                sheet.name,
                sheet.name,
                tuple(off),
                mend_words="Bring them together",
                mend=partial(stand_on_drawn, errors=off),
            )


def _standing_errors(art: Art, sheet: Sheet) -> dict[int, int]:
    """By how much the shapes of each piece are off; only of those that are."""
    found: dict[int, int] = {}
    picture = picture_key(sheet)
    for piece in sheet.pieces:
        if not piece.shapes:
            continue
        try:
            key = ("standing", picture, piece.rect, piece.shapes)
            found[piece.number] = art.memory.get(key, partial(_standing_error, art, sheet, piece))
        except Refusal:
            return {}
    return {number: by for number, by in found.items() if by}


def _standing_error(art: Art, sheet: Sheet, piece: Piece) -> int:
    return standing_error(solid(art.piece(sheet, piece)), piece.shapes or ())


def undecided_in_level(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets with painted tiles of which nobody said whether they are solid."""
    index = piece_index(project)
    used: set[int] = set()
    for level in project.levels:
        for layer in level.layers:
            used |= layer.cells.used()
    undecided: dict[str, list[int]] = {}
    for number in sorted(used & index.keys()):
        sheet, piece = index[number]
        if piece.shapes is None:
            undecided.setdefault(sheet.name, []).append(number)
    for name, numbers in undecided.items():
        count = "1 painted tile" if len(numbers) == 1 else f"{len(numbers)} painted tiles"
        yield Finding(
            "undecided",
            "Bound",
            f"{count} of {name} have no decision on what is solid.",
            "A walker goes through them as if they were not there.",
            name,
            name,
            tuple(numbers),
        )
