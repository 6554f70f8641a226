"""Recoloured sheets take after the sheet they were made of, piece by piece, until they are given
something of their own."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.project.sheet import Piece, Sheet

INHERITED = ("rect", "pivot", "offset", "shapes", "facts", "borders", "body", "row", "column")


def passed_on(before: tuple[Sheet, ...], after: tuple[Sheet, ...]) -> tuple[Sheet, ...]:
    """The sheets after a change, with what was changed in pieces that others take after changed
    in those too, where the two were alike before."""
    if not any(is_recoloured(sheet) for sheet in after):
        return after
    old = {sheet.name: sheet for sheet in before}
    new = {sheet.name: sheet for sheet in after}

    def follow(sheet: Sheet) -> Sheet:
        if not is_recoloured(sheet) or sheet.belongs is None:
            return sheet
        first, then = old.get(sheet.belongs.to), new.get(sheet.belongs.to)
        if first is None or then is None or first.pieces is then.pieces:
            return sheet
        return _follow(sheet, first.pieces, then.pieces)

    return tuple(map(follow, after))


def is_recoloured(sheet: Sheet) -> bool:
    """Whether a sheet shows another one in other colours."""
    return sheet.belongs is not None and sheet.belongs.kind == "recolouring"


def _follow(sheet: Sheet, first: tuple[Piece, ...], then: tuple[Piece, ...]) -> Sheet:
    by_place = {piece.rect: piece for piece in first}
    by_number = {piece.number: piece for piece in then}

    def follow(piece: Piece) -> Piece:
        original = by_place.get(piece.rect)
        changed = by_number.get(original.number) if original else None
        if original is None or changed is None or changed is original:
            return piece
        changes = {
            name: getattr(changed, name)
            for name in INHERITED
            if getattr(piece, name) == getattr(original, name) != getattr(changed, name)
        }
        return replace(piece, **changes) if changes else piece

    pieces = tuple(map(follow, sheet.pieces))
    same = all(a is b for a, b in zip(pieces, sheet.pieces, strict=True))
    return sheet if same else replace(sheet, pieces=pieces)
