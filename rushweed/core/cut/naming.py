"""Names of pieces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import Piece, Sheet


def name_pieces(project: Project, names: Mapping[int, str]) -> Project:
    """Give pieces names, by their numbers; an empty name takes one away."""
    return with_pieces(
        project, frozenset(names), lambda piece: replace(piece, name=names[piece.number].strip())
    )


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
