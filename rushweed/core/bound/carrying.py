"""Carrying what was decided from one tileset to another that resembles it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from rushweed.core.bound.twins import find_twins, turned_shapes
from rushweed.core.cut.likeness import Words
from rushweed.core.orientation import turned_point
from rushweed.core.project.facts import SIDES, Facts, Side
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Size

MIDDLES: dict[Side, Point] = {
    "left": Point(0, 1),
    "right": Point(2, 1),
    "above": Point(1, 0),
    "below": Point(1, 2),
}


@dataclass(frozen=True, slots=True)
class Carried:
    """What a piece gets from one of the other sheet, turned by `orientation`, and why."""

    to: int
    of: int
    orientation: int
    why: Literal[
        "same",
        "mirrored",
        "turned",
        "recoloured",
        "of one silhouette",
        "nearly the same",
        "at the same place",
    ]


def find_carried(words: Words, sheet: Sheet, other_words: Words, other: Sheet) -> list[Carried]:
    """What each piece of another sheet could take over from this one: from the piece it looks
    like most, else from the one at the same place of a sheet cut alike.

    Pictures are given as `likeness.shown` makes them. Only pieces with a decision give one.
    """
    decided = {piece.number: piece for piece in sheet.pieces if is_decided(piece)}
    twins = find_twins(words, sheet, decided, other_words, other)
    found = {
        twin.number: Carried(twin.number, twin.of, twin.orientation, twin.kind)  # type: ignore[arg-type]
        for twin in twins
    }
    if sheet.size == other.size and sheet.layout == other.layout:
        by_place = {piece.rect: number for number, piece in decided.items()}
        for piece in other.pieces:
            if piece.number not in found and piece.rect in by_place:
                found[piece.number] = Carried(
                    piece.number, by_place[piece.rect], 0, "at the same place"
                )
    return [found[piece.number] for piece in other.pieces if piece.number in found]


def is_decided(piece: Piece) -> bool:
    """Whether somebody said what of a piece is solid, or gave it a fact."""
    return piece.shapes is not None or piece.facts != Facts()


def carry(project: Project, carried: Iterable[Carried]) -> Project:
    """Give pieces the shapes, facts, body and borders of those they resemble, turned alike."""
    pairs = {one.to: one for one in carried}

    def edit(piece: Piece) -> Piece:
        one = pairs[piece.number]
        found = project.find(one.of)
        return carried_over(found[1], piece, one.orientation) if found else piece

    return with_pieces(project, frozenset(pairs), edit)


def carried_over(of: Piece, to: Piece, orientation: int) -> Piece:
    """A piece with what was decided about another, turned and flipped."""
    size = of.rect.size
    return replace(
        to,
        shapes=of.shapes and turned_shapes(of.shapes, size, orientation),
        facts=turned_facts(of.facts, orientation),
        body=of.body,
        borders=to.borders if orientation else of.borders,
    )


def turned_facts(facts: Facts, orientation: int) -> Facts:
    """Facts whose sides are turned and flipped."""
    sides = {turned_side(side, orientation) for side in facts.entry}
    return replace(facts, entry=tuple(side for side in SIDES if side in sides))


def turned_side(side: Side, orientation: int) -> Side:
    """The side that one comes to be when its tile is turned and flipped."""
    place = turned_point(MIDDLES[side], Size(2, 2), orientation)
    return next(name for name, middle in MIDDLES.items() if middle == place)
