"""Shapes for a whole sheet at once, as a person would give them: boxes to full tiles, outlines to
slopes and odd edges, nothing to what stands free."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Mask, Reals
from rushweed.core.bound.fitting import fit_outlines, masks_of
from rushweed.core.bound.shaping import full_box
from rushweed.core.cut.loose import part_of
from rushweed.core.project.facts import USUAL, Facts
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Size

FULL = 0.97
"""A tile of which so much is drawn is full."""
MET, TOUCHED = 0.8, 0.3
"""A side of which so much is drawn goes on in the next tile; one of less is only touched."""
ROW = 0.6
"""A row or column of which so much is drawn belongs to the body; less is a fringe of tufts."""
LIKE_BOX = 0.92
"""What fills its box so well is given the box."""
LEAST = 0.12
"""Less than this is dirt, not ground."""
BULKY = 0.45
"""What stands free and fills so much of its tile may be meant to be solid."""
HUNG, FRINGE, MOSTLY = 0.85, 2, 0.7
"""A ledge whose body is drawn so much, from so few pixels below its top, and is most of it."""
PLAIN = 5
"""An outline with so few corners is meant as it is: a ceiling that slopes, not a ledge."""
MOST_CORNERS = 12
"""An outline with more corners is of leaves or of reeds."""
CLOSE = 1.0
"""Outlines may be so many pixels from what is drawn."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """Shapes and facts for a piece. Where they are not `sure`, the others may be meant as well."""

    shapes: tuple[Shape, ...]
    sure: bool = True
    other: tuple[Shape, ...] = ()
    facts: Facts = USUAL
    other_facts: Facts = USUAL

    @property
    def turned(self) -> Proposal:
        """The other way."""
        return Proposal(self.other, self.sure, self.shapes, self.other_facts, self.facts)


class Sides(NamedTuple):
    """How much of each side of a tile is drawn, from 0 to 1."""

    left: float
    right: float
    top: float
    bottom: float


def propose_shapes(
    mask: Mask,
    pieces: Sequence[Piece],
    tiles: bool = True,
    wanted: Collection[int] | None = None,
) -> dict[int, Proposal]:
    """Shapes for the pieces of a sheet, by number; `mask`, of shape (height, width), says what is
    drawn of it. Where no piece shows anything behind it, nothing tells ground from what is only
    seen, and every box is unsure. What are no `tiles` but things of many sizes is left without, or
    has its outline. With `wanted` only these are looked at closely."""
    every = masks_of(mask, pieces)
    masks = every if wanted is None else {n: one for n, one in every.items() if n in wanted}
    outlines = fit_outlines(masks, CLOSE, "nearest").shapes
    if not tiles:
        return {n: Proposal((), sure=False, other=outlines[n]) for n in masks}
    free = _standing_free(mask, pieces)
    opaque = all(drawn.mean() >= FULL for drawn in every.values())
    proposals = {}
    for number, drawn in masks.items():
        one = _propose(drawn, outlines[number])
        if number in free and one.shapes:
            one = Proposal((), sure=False, other=one.shapes)
        proposals[number] = replace(one, sure=False) if opaque else one
    return proposals


def give_proposed(project: Project, proposals: Mapping[int, Proposal]) -> Project:
    """Give pieces the shapes and facts that were proposed for them; other facts stay."""

    def edit(piece: Piece) -> Piece:
        one = proposals[piece.number]
        facts = _in_place_of(one.other_facts, one.facts, piece.facts)
        return replace(piece, shapes=one.shapes, facts=facts)

    return with_pieces(project, frozenset(proposals), edit)


def _in_place_of(other: Facts, proposed: Facts, facts: Facts) -> Facts:
    """Facts with those that are proposed, where they are usual or as the other way has them."""

    def value(name: str) -> object:
        told = getattr(facts, name)
        free = told in (getattr(USUAL, name), getattr(other, name))
        return getattr(proposed, name) if free else told

    return Facts(**{field.name: value(field.name) for field in fields(Facts)})  # type: ignore[arg-type]


def _propose(mask: Mask, outline: tuple[Shape, ...]) -> Proposal:
    whole = (Shape(full_box(Size(mask.shape[1], mask.shape[0]))),)
    share = float(mask.mean())
    if share >= FULL:
        return Proposal(whole)
    if share < LEAST and not _spans(mask):
        return Proposal(())
    body, sides = _body(mask), _sides(mask)
    found = _shapes(mask, body, outline)
    if sum(len(shape.form.corners) for shape in found) > MOST_CORNERS:
        return Proposal((), sure=False, other=found)
    met = sum(side >= MET for side in sides)
    beside = sorted((sides.left, sides.right))
    rises = sides.bottom >= MET and beside[1] >= TOUCHED
    if met >= 2 or rises or (met == 1 and beside[0] >= TOUCHED) or _in_corner(mask, body):
        return Proposal(found)
    if beside[0] >= TOUCHED and _spans(mask):
        return Proposal(found, sure=False)
    bulky = share >= BULKY and _fills(mask, body) >= LIKE_BOX
    if bulky or max(beside[1], sides.top) >= MET:
        return Proposal(found, sure=False)
    if met or share >= BULKY:
        return Proposal((), sure=False, other=found)
    return Proposal(())


def _in_corner(mask: Mask, body: Box) -> bool:
    """Whether what is drawn is a box that lies in a corner of the tile, or against more sides."""
    height, width = mask.shape
    across = body.x == 0 or body.x + body.width == width
    down = body.y == 0 or body.y + body.height == height
    return across and down and _fills(mask, body) >= LIKE_BOX


def _standing_free(mask: Mask, pieces: Sequence[Piece]) -> set[int]:
    """The pieces of things that are larger than one piece and keep to no grid, such as trees: at
    most one side of what hangs together lies on an edge of the pieces."""
    from scipy import ndimage

    labels, _ = ndimage.label(mask, np.ones((3, 3)))
    across = {x for piece in pieces for x in (piece.rect.x, piece.rect.right)}
    down = {y for piece in pieces for y in (piece.rect.y, piece.rect.bottom)}
    usual = max((piece.rect.size for piece in pieces), default=Size(1, 1))
    loose = set()
    for label, (rows, columns) in enumerate(ndimage.find_objects(labels), 1):
        ends = [int(columns.start) in across, int(columns.stop) in across]
        ends += [int(rows.start) in down, int(rows.stop) in down]
        tall, wide = rows.stop - rows.start, columns.stop - columns.start
        if sum(ends) <= 1 and (wide > usual.width or tall > usual.height):
            loose.add(label)
    found = set()
    for piece in pieces:
        inside = part_of(labels, piece.rect)
        counts = np.bincount(inside[inside > 0].ravel())
        if len(counts) and int(counts.argmax()) in loose:
            found.add(piece.number)
    return found


def _sides(mask: Mask) -> Sides:
    rims = (mask[:, 0], mask[:, -1], mask[0], mask[-1])
    return Sides(*(float(rim.mean()) for rim in rims))


def _spans(mask: Mask) -> bool:
    """Whether rows go from side to side: a floor, a bridge, a ledge."""
    return bool((mask.mean(axis=1) >= FULL).any())


def _body(mask: Mask) -> Box:
    """The rows that are drawn nearly as much as the fullest one is, and so the columns of these."""
    top, bottom = _most_drawn(mask.mean(axis=1))
    left, right = _most_drawn(mask[top:bottom].mean(axis=0))
    return Box(left, top, right - left, bottom - top)


def _most_drawn(shares: Reals) -> tuple[int, int]:
    """Where what is drawn enough begins and ends."""
    places = np.flatnonzero(shares >= ROW * shares.max())
    return int(places[0]), int(places[-1]) + 1


def _fills(mask: Mask, body: Box) -> float:
    """How much of a box is drawn, less what is drawn outside of it, as a share of all that is."""
    inside = _part(mask, body)
    drawn = int(mask.sum())
    return float(inside.mean() - (drawn - int(inside.sum())) / max(drawn, 1))


def _part(mask: Mask, body: Box) -> Mask:
    return mask[int(body.y) : int(body.y + body.height), int(body.x) : int(body.x + body.width)]


def _shapes(mask: Mask, body: Box, outline: tuple[Shape, ...]) -> tuple[Shape, ...]:
    """The box, where the tile is one but for a fringe, or a ledge with something hanging below;
    else the outline of what is drawn."""
    hangs = _spans(mask) and body.y <= FRINGE and _part(mask, body).mean() >= HUNG
    hangs &= sum(len(shape.form.corners) for shape in outline) > PLAIN
    hangs &= _part(mask, body).sum() >= MOSTLY * mask.sum()
    if hangs or _fills(mask, body) >= LIKE_BOX:
        return (Shape(body),)
    return outline
