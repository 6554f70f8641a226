"""Carrying what was decided from one tileset to another that resembles it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from rushweed.core.arrays import Words
from rushweed.core.bound.resembling import Blocks, How, resembling, same_places
from rushweed.core.bound.twins import find_twins, turned_shapes
from rushweed.core.orientation import SWAPPED
from rushweed.core.project.attached import moved_form
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Circle, Shape
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.turning import turned_facts
from rushweed.core.values import Point, Size

Why = Literal[
    "same",
    "mirrored",
    "turned",
    "recoloured",
    "of one silhouette",
    "nearly the same",
    "scaled",
    "at the same place",
]
REASONS: dict[How, Why] = {
    "scaled": "scaled",
    "silhouette": "of one silhouette",
    "place": "at the same place",
}


@dataclass(frozen=True, slots=True)
class Carried:
    """What a piece gets from one of the other sheet, turned by `orientation`, and why."""

    to: int
    of: int
    orientation: int
    why: Why
    sure: bool = True


def find_carried(
    words: Words,
    sheet: Sheet,
    other_words: Words,
    other: Sheet,
    blocks: tuple[Blocks, Blocks] = ((), ()),
) -> list[Carried]:
    """What each piece of another sheet could take over from this one: from the piece it looks
    like most, once both are of one size, else from one of its silhouette or at the same place.

    Pictures are given as `likeness.shown` makes them, and by number the pieces of `blocks`, such as
    hems, that lie in each of the sheets. Only pieces with a decision give one. Sure
    is what was drawn alike; silhouettes at another size and places only let one guess.
    """
    decided = {piece.number: piece for piece in sheet.pieces if is_decided(piece)}
    twins = find_twins(words, sheet, decided, other_words, other)
    found = {
        twin.number: Carried(twin.number, twin.of, twin.orientation, twin.kind)  # type: ignore[arg-type]
        for twin in twins
    }
    left = [piece for piece in other.pieces if piece.number not in found]
    ours = list(decided.values())
    guesses = [
        *resembling(words, ours, other_words, left),
        *same_places(sheet, decided, other, *blocks),
    ]
    for one in guesses:
        why = REASONS[one.how]
        carried = Carried(one.number, one.of, one.orientation, why, one.sure)
        found.setdefault(one.number, carried)
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
    shapes = of.shapes and turned_shapes(of.shapes, size, orientation)
    turned = size if not orientation & SWAPPED else Size(size.height, size.width)
    across, down = (to.rect.size[axis] / turned[axis] for axis in (0, 1))
    facts = turned_facts(of.facts, orientation)
    return replace(
        to,
        shapes=shapes and tuple(_scaled(shape, across, down) for shape in shapes),
        facts=replace(facts, wade=round(facts.wade * down)),
        body=of.body,
        borders=to.borders if orientation or (across, down) != (1, 1) else of.borders,
    )


def _scaled(shape: Shape, across: float, down: float) -> Shape:
    """A shape that many times as wide and high, on whole and half pixels, never without area."""
    if across == down == 1:
        return shape

    def move(point: Point) -> Point:
        return Point(round(2 * point.x * across) / 2, round(2 * point.y * down) / 2)

    form = moved_form(shape.form, move)
    if isinstance(form, Circle):
        form = replace(form, radius=max(form.radius, 0.5))
    elif isinstance(form, Box):
        left, top = round(form.x), round(form.y)
        right, bottom = round(form.x + form.width), round(form.y + form.height)
        form = Box(left, top, max(right - left, 1), max(bottom - top, 1))
    return replace(shape, form=form)
