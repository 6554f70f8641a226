"""Names of pieces."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from functools import partial

from rushweed.core.cut.animations import set_animation
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal

FIELD = re.compile(r"\{(?P<name>\w+)(?::(?P<digits>\d))?\}")


def name_pieces(project: Project, names: Mapping[int, str]) -> Project:
    """Give pieces names, by their numbers; an empty name takes one away."""
    return with_pieces(
        project, frozenset(names), lambda piece: replace(piece, name=names[piece.number].strip())
    )


def pattern_names(
    sheet: Sheet, pattern: str, rows: Sequence[str] = (), only: Collection[int] = ()
) -> dict[int, str]:
    """A name for every piece, or for those of the numbers `only`, by a pattern such as
    `{sheet}_{row}_{n:2}`.

    `{n}` counts along the row and `{i}` through all that are named, from 1, with as many digits
    as are asked for; `{row}` is the row's name, else its number; `{name}` is the name so far.
    Raises Refusal for other patterns.
    """
    chosen = [piece for piece in sheet.pieces if not only or piece.number in only]
    names: dict[int, str] = {}
    counted: dict[int, int] = {}
    for place, piece in enumerate(chosen, 1):
        counted[piece.row] = counted.get(piece.row, 0) + 1
        row = rows[piece.row] if piece.row < len(rows) and rows[piece.row] else piece.row + 1
        values = {
            "sheet": sheet.name,
            "row": row,
            "n": counted[piece.row],
            "i": place,
            "name": piece.name or f"{sheet.name}_{place}",
        }
        names[piece.number] = FIELD.sub(partial(_value, values=values), pattern)
    return names


def name_by_pattern(
    project: Project,
    sheet: str,
    pattern: str,
    rows: Sequence[str] = (),
    only: Collection[int] = (),
) -> Project:
    """Name all pieces of a sheet by a pattern; rows that have a name become animations. With
    `only`, nothing but the pieces of those numbers is named."""
    old = project.sheet(sheet)
    project = name_pieces(project, pattern_names(old, pattern, rows, only))
    if only:
        return project
    for index, name in enumerate(rows):
        frames = [piece.number for piece in old.pieces if piece.row == index]
        if name and frames:
            known = next((a for a in old.animations if a.name == name), None)
            rate = known.rate if known else 8.0
            project = set_animation(project, sheet, name, frames, rate)
    return project


def row_names(sheet: Sheet) -> list[str]:
    """The names of a sheet's rows, as far as its animations tell them."""
    rows = max((piece.row for piece in sheet.pieces), default=-1) + 1
    names = [""] * rows
    for animation in sheet.animations:
        places = {piece.row for piece in sheet.pieces if piece.number in animation.frames}
        if len(places) == 1:
            names[places.pop()] = animation.name
    return names


def _value(match: re.Match[str], values: Mapping[str, str | int]) -> str:
    name, digits = match["name"], match["digits"]
    if name not in values:
        raise Refusal(
            "A name's pattern knows {sheet}, {row}, {n}, {i} and {name}, "
            f"but not {{{name}}}."
        )
    text = str(values[name])
    return text.zfill(int(digits)) if digits else text


def shown_name(sheet: Sheet, piece: Piece) -> str:
    """What to call a piece: its name, else its sheet and place in reading order."""
    if piece.name:
        return piece.name
    if len(sheet.pieces) == 1:
        return sheet.name
    return f"{sheet.name}_{piece_index(sheet, piece) + 1}"


def piece_index(sheet: Sheet, piece: Piece) -> int:
    """The piece's place in reading order, from 0."""
    return next(i for i, other in enumerate(sheet.pieces) if other.number == piece.number)


def group_of(sheet: Sheet, piece: Piece) -> str:
    """The animation a piece belongs to, else its row; empty when it is loose."""
    for animation in sheet.animations:
        if piece.number in animation.frames:
            return animation.name
    if sheet.layout is not None and sheet.layout.kind == "even cells":
        return f"row {piece.row + 1}"
    return ""
