"""Cutting a sheet into pieces, and cutting it anew without losing what was decided."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Indices, Mask
from rushweed.core.bulk import in_bulk
from rushweed.core.cut.loose import loose_pieces, reading_order
from rushweed.core.cut.near import Near
from rushweed.core.cut.places import SAME_ENOUGH, match_places, sameness
from rushweed.core.project.attached import carried
from rushweed.core.project.project import Project, used_numbers, with_sheet
from rushweed.core.project.sheet import Animation, EvenCells, Layout, LoosePieces, Piece, Sheet
from rushweed.core.values import Point, Rect, Refusal, Size

NOWHERE = Size(0, 0)
"""How far the pixels of a picture went that is the same."""


class Cut(NamedTuple):
    """A rectangle to be cut, with its row and column of cells."""

    rect: Rect
    row: int
    column: int


class Count(NamedTuple):
    """How many columns and rows of cells fit a picture."""

    columns: int
    rows: int


def count_cells(layout: EvenCells, size: Size) -> Count:
    """How many whole cells fit a picture of that size."""
    across = size.width - layout.margin.width + layout.gap.width
    down = size.height - layout.margin.height + layout.gap.height
    return Count(
        max(0, across // (layout.cell.width + layout.gap.width)),
        max(0, down // (layout.cell.height + layout.gap.height)),
    )


def even_cuts(layout: EvenCells, size: Size) -> list[Cut]:
    """Every whole cell, row by row, empty ones too."""
    columns, rows = count_cells(layout, size)
    return _cuts_at(layout, np.argwhere(np.ones((rows, columns), bool)))


def _cuts_at(layout: EvenCells, cells: Indices) -> list[Cut]:
    """The cuts of cells that are given by row and column, of shape (count, 2)."""
    step_x, step_y = layout.cell.width + layout.gap.width, layout.cell.height + layout.gap.height
    left, top = layout.margin
    return [
        Cut(Rect(left + column * step_x, top + row * step_y, *layout.cell), row, column)
        for row, column in cells.tolist()
    ]


def cuts_for(layout: Layout, mask: Mask) -> list[Cut]:
    """The cuts a layout makes in a picture; cells with nothing in them are left out."""
    size = Size(mask.shape[1], mask.shape[0])
    if isinstance(layout, EvenCells):
        check_cells(layout, size)
        return _cuts_at(layout, np.argwhere(_held(layout, mask)))
    if isinstance(layout, LoosePieces):
        found = loose_pieces(mask, layout)
        return [Cut(rect, 0, column) for column, rect in enumerate(found)]
    return [Cut(Rect(0, 0, *size), 0, 0)]


def _held(layout: EvenCells, mask: Mask) -> Mask:
    """Which cells hold something, of shape (rows, columns)."""
    count = count_cells(layout, Size(mask.shape[1], mask.shape[0]))
    (width, height), (left, top) = layout.cell, layout.margin
    starts = left + np.arange(count.columns) * (width + layout.gap.width)
    held = np.zeros((count.rows, count.columns), bool)
    for row in range(count.rows):
        y = top + row * (height + layout.gap.height)
        drawn = np.concatenate([[0], np.cumsum(mask[y : y + height].any(axis=0))])
        held[row] = drawn[starts + width] > drawn[starts]
    return held


def check_cells(layout: EvenCells, size: Size) -> None:
    """Raise Refusal, with one sentence, for cells that cannot be."""
    if min(layout.cell) < 1:
        raise Refusal("A cell is at least 1 px wide and high.")
    if min(layout.margin) < 0 or min(layout.gap) < 0:
        raise Refusal("Margin and gap cannot be less than 0 px.")
    if min(count_cells(layout, size)) < 1:
        raise Refusal(
            "Not one cell of {cell} px fits a picture of {size} px.", cell=layout.cell, size=size
        )


def cut(project: Project, name: str, layout: Layout, mask: Mask) -> Project:
    """Cut a sheet; pieces that stay where they were keep number, name, pivot and shapes.

    What was corrected by hand stays as it is, and what was left out stays out.
    """
    return _cut(project, name, layout, cuts_for(layout, mask), mask)


def cut_at(project: Project, name: str, rects: Sequence[Rect], mask: Mask) -> Project:
    """Cut a sheet into just these rectangles, side by side in one row; otherwise as `cut` does."""
    cuts = [Cut(rect, 0, column) for column, rect in enumerate(rects)]
    return _cut(project, name, LoosePieces(), cuts, mask)


@in_bulk()
def _cut(project: Project, name: str, layout: Layout, wanted: list[Cut], mask: Mask) -> Project:
    sheet = project.sheet(name)
    kept = [piece for piece in sheet.pieces if piece.by_hand]
    near_gone, near_kept = Near(sheet.left_out), Near([piece.rect for piece in kept])

    def is_free(rect: Rect) -> bool:
        gone = (sheet.left_out[index] for index in near_gone.to(rect))
        by_hand = (kept[index].rect for index in near_kept.to(rect))
        return not covered(rect, by_hand) and not any(
            sameness(other, rect) > SAME_ENOUGH for other in gone
        )

    cuts = [place for place in wanted if is_free(place.rect)]
    before = tuple(piece for piece in sheet.pieces if not piece.by_hand)
    following = _following(before, cuts, sheet.earlier, mask)
    number = project.next_number
    pieces = []
    for place, old in zip(cuts, following, strict=True):
        if old is None:
            pieces.append(new_piece(number, place))
            number += 1
        else:
            pieces.append(cut_anew(old, place))

    pieces = in_reading_order([*pieces, *kept]) if kept else pieces
    earlier = _left_behind(project, sheet, {piece.number for piece in pieces})

    def edit(old: Sheet) -> Sheet:
        cut = replace(old, layout=layout, pieces=tuple(pieces), earlier=earlier)
        return without_lost_frames(cut)

    project = with_sheet(project, name, edit)
    return project if number == project.next_number else replace(project, next_number=number)


def new_piece(number: int, place: Cut) -> Piece:
    """A piece about which nothing was decided yet, standing on the middle of its foot."""
    foot = Point(place.rect.width // 2, place.rect.height)
    return Piece(number, place.rect, foot, row=place.row, column=place.column)


def cut_anew(piece: Piece, place: Cut, drift: Size = NOWHERE) -> Piece:
    """The piece in a rectangle that a layout cuts, of the same picture or of one on which its
    pixels lie so far to the right and down: what was set on it stays on them. Where nobody said
    where it stands, it stands on its new foot."""

    def move(point: Point) -> Point:
        return Point(point.x + drift.width, point.y + drift.height)

    cut = replace(carried(piece, place.rect, move), row=place.row, column=place.column)
    return cut if piece.has_pivot else replace(cut, pivot=cut.foot)


def _left_behind(project: Project, sheet: Sheet, cut: set[int]) -> tuple[Piece, ...]:
    """The pieces of this layout and of earlier ones that are not cut now, but are used in a level
    or were given something: they are known again when they come back where they were."""
    gone = [piece for piece in (*sheet.pieces, *sheet.earlier) if piece.number not in cut]
    used = used_numbers(project) if gone else frozenset()
    kept = {piece.rect: piece for piece in reversed(gone) if piece.number in used or _speaks(piece)}
    return tuple(reversed(kept.values()))


def _speaks(piece: Piece) -> bool:
    """Whether anything was decided about a piece."""
    bare = new_piece(piece.number, Cut(piece.rect, piece.row, piece.column))
    return piece != bare


def _following(
    pieces: tuple[Piece, ...], cuts: list[Cut], earlier: tuple[Piece, ...], mask: Mask
) -> list[Piece | None]:
    """For each cut the old piece that it goes on with, each old piece once. Of earlier layouts
    only those go on that are cut just where they were."""
    by_rect = {piece.rect: piece for piece in (*earlier, *pieces)}
    result = [by_rect.pop(place.rect, None) for place in cuts]
    left = [piece for piece in pieces if piece.rect in by_rect]
    open_cuts = [index for index, old in enumerate(result) if old is None]
    pairs = match_places(
        [piece.rect for piece in left], [cuts[index].rect for index in open_cuts], mask
    )
    for old, new in pairs:
        result[open_cuts[new]] = left[old]
    return result


def in_reading_order(pieces: Sequence[Piece]) -> list[Piece]:
    """Pieces by rows from the top, each from the left."""
    places: dict[Rect, list[Piece]] = {}
    for piece in pieces:
        places.setdefault(piece.rect, []).append(piece)
    order = reading_order(list(places))
    return [piece for rect in order for piece in places[rect]]


def covered(rect: Rect, others: Iterable[Rect]) -> bool:
    """Whether more than half of a rectangle lies under others, all together."""
    return 2 * sum(other.intersection(rect).area for other in others) > rect.area


def without_lost_frames(sheet: Sheet) -> Sheet:
    """The sheet with its animations rid of pieces that are gone; missing ones may come back."""
    numbers = {piece.number for piece in sheet.pieces}
    numbers |= {missing.piece.number for missing in sheet.missing}
    if all(frame in numbers for animation in sheet.animations for frame in animation.frames):
        return sheet
    kept = (_with_frames(animation, numbers) for animation in sheet.animations)
    return replace(sheet, animations=tuple(animation for animation in kept if animation.frames))


def _with_frames(animation: Animation, numbers: set[int]) -> Animation:
    """The animation with only those of its frames."""
    places = [place for place, frame in enumerate(animation.frames) if frame in numbers]
    return replace(
        animation,
        frames=tuple(animation.frames[place] for place in places),
        holds=tuple(animation.holds[place] for place in places) if animation.holds else (),
    )
