"""Carrying what was decided from one tileset to another that resembles it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from rushweed.core.arrays import Words
from rushweed.core.bound.resembling import Blocks, How, resembling, same_places
from rushweed.core.bound.twins import find_twins, turned_shapes
from rushweed.core.cut.likeness import part
from rushweed.core.orientation import SWAPPED
from rushweed.core.project.attached import moved_form
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, free_name, with_pieces, with_sheet
from rushweed.core.project.shape import Box, Circle, Shape
from rushweed.core.project.sheet import Animation, Piece, Sheet
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


def find_block(words: Words, sheet: Sheet, new: Collection[int]) -> list[Carried]:
    """What pieces that are new on a sheet could take over from those of it about which something
    was decided, where they are drawn alike; `words` is its picture, as `likeness.shown` makes it.
    """
    before = [piece for piece in sheet.pieces if piece.number not in new and is_decided(piece)]
    after = [piece for piece in sheet.pieces if piece.number in new and not is_decided(piece)]
    known, fresh = (replace(sheet, pieces=tuple(some)) for some in (before, after))
    found = find_carried(words, known, words, fresh)
    found = [one for one in found if one.why != REASONS["place"]]
    return [_in_block(one, found, known, fresh, words) for one in found]


def _in_block(
    one: Carried, found: Sequence[Carried], known: Sheet, fresh: Sheet, words: Words
) -> Carried:
    """What a piece takes over from the one at its own place of the block that most of those found
    lie in, where these two are of one silhouette."""
    places = {p.number: (p.column, p.row) for p in (*known.pieces, *fresh.pieces)}

    def way(other: Carried) -> tuple[int, int]:
        (column, row), (to_column, to_row) = places[other.of], places[other.to]
        return to_column - column, to_row - row

    across, down = Counter(map(way, found)).most_common(1)[0][0]
    column, row = places[one.to]
    at = (column - across, row - down)
    there = next((p for p in known.pieces if (p.column, p.row) == at), None)
    here = next(p for p in fresh.pieces if p.number == one.to)
    if there is None or there.rect.size != here.rect.size:
        return one
    masks = (part(words, there.rect) > 0, part(words, here.rect) > 0)
    return replace(one, of=there.number, orientation=0) if (masks[0] == masks[1]).all() else one


def is_decided(piece: Piece) -> bool:
    """Whether somebody said what of a piece is solid, or gave it a fact."""
    return piece.shapes is not None or piece.facts != Facts()


def carry(project: Project, carried: Iterable[Carried]) -> Project:
    """Give pieces the shapes, facts, body and borders of those they resemble, turned alike; of
    what is carried whole, the animations and hems as well."""
    pairs = {one.to: one for one in carried}
    project = _with_sets(project, {one.of: one.to for one in pairs.values() if not one.orientation})

    def edit(piece: Piece) -> Piece:
        one = pairs[piece.number]
        found = project.find(one.of)
        return carried_over(found[1], piece, one.orientation) if found else piece

    return with_pieces(project, frozenset(pairs), edit)


def _with_sets(project: Project, taker: Mapping[int, int]) -> Project:
    """The project with the animations and hems of which each piece has one that takes after it,
    once more with these, where they have none."""
    homes = {piece.number: sheet.name for sheet, piece in project.pieces()}
    found: dict[str, list[Animation]] = {}
    for sheet in project.sheets:
        for animation in sheet.animations:
            frames = tuple(taker[frame] for frame in animation.frames if frame in taker)
            home = {homes.get(frame, "") for frame in frames}
            if frames and len(frames) == len(animation.frames) and len(home) == 1:
                found.setdefault(home.pop(), []).append(replace(animation, frames=frames))
    for name, animations in found.items():
        project = with_sheet(project, name, partial(_with_animations, animations=animations))
    hems, taken = list(project.hems), {hem.name for hem in project.hems}
    for hem in project.hems:
        if hem.tiles and all(tile.piece in taker for tile in hem.tiles):
            tiles = tuple(replace(tile, piece=taker[tile.piece]) for tile in hem.tiles)
            if all(other.tiles != tiles for other in hems):
                hems.append(replace(hem, name=free_name(hem.name, taken), tiles=tiles))
                taken.add(hems[-1].name)
    return project if len(hems) == len(project.hems) else replace(project, hems=tuple(hems))


def _with_animations(sheet: Sheet, animations: Sequence[Animation]) -> Sheet:
    known = list(sheet.animations)
    for one in animations:
        if all(other.frames != one.frames for other in known):
            name = free_name(one.name, {other.name for other in known})
            known.append(replace(one, name=name))
    return replace(sheet, animations=tuple(known))


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
