"""Pieces in other colours: sheets made of another one, which their pieces take after."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from rushweed.core.project.project import Project, free_name, taken_names, with_sheet
from rushweed.core.project.sheet import Belonging, Recolouring, Sheet
from rushweed.core.values import Refusal


def add_variant(
    project: Project, sheet: str, numbers: Collection[int], how: Recolouring, name: str = ""
) -> tuple[Project, Sheet]:
    """A new sheet with some pieces of another, or all of them for no numbers, in other colours.

    They have the same names, shapes and facts, and follow when those change. Nothing is painted:
    the colours can be changed at any time. Raises Refusal when there is no piece.
    """
    original = project.sheet(sheet)
    chosen = [piece for piece in original.pieces if not numbers or piece.number in numbers]
    if not chosen:
        raise Refusal("Cut the sheet first: there is no piece to recolour.")
    pieces = tuple(
        replace(piece, number=project.next_number + place) for place, piece in enumerate(chosen)
    )
    renumbered = {old.number: new.number for old, new in zip(chosen, pieces, strict=True)}
    animations = tuple(
        replace(animation, frames=tuple(renumbered[frame] for frame in animation.frames))
        for animation in original.animations
        if set(animation.frames) <= renumbered.keys()
    )
    made = replace(
        original,
        name=free_name(name or f"{sheet} recoloured", taken_names(project)),
        belongs=Belonging("recolouring", sheet),
        pieces=pieces,
        missing=(),
        animations=animations,
        recoloured=how,
    )
    place = [one.name for one in project.sheets].index(sheet) + 1
    sheets = (*project.sheets[:place], made, *project.sheets[place:])
    number = project.next_number + len(pieces)
    return replace(project, sheets=sheets, next_number=number), made


def recolour(project: Project, sheet: str, how: Recolouring) -> Project:
    """Change the colours of a recoloured sheet. Raises Refusal for any other."""

    def edit(old: Sheet) -> Sheet:
        if old.recoloured is None:
            raise Refusal(
                "“{sheet}” has its own colours. Make a recoloured one of it first.", sheet=sheet
            )
        return replace(old, recoloured=how)

    return with_sheet(project, sheet, edit)
