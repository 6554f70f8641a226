"""Cutting a sheet into pieces, and cutting it anew without losing what was decided."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from rushweed.core.bulk import in_bulk
from rushweed.core.cut.loose import Mask, loose_pieces, reading_order
from rushweed.core.cut.near import Near
from rushweed.core.project.project import Project, used_numbers, with_sheet
from rushweed.core.project.sheet import Animation, EvenCells, Layout, LoosePieces, Piece, Sheet
from rushweed.core.values import Point, Rect, Refusal, Size

SAME_ENOUGH = 0.5
"""An old and a new cut are the same piece when they share this part of their union."""


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


def _cuts_at(layout: EvenCells, cells: npt.NDArray[np.intp]) -> list[Cut]:
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
    return _cut(project, name, layout, cuts_for(layout, mask))


def cut_at(project: Project, name: str, rects: Sequence[Rect]) -> Project:
    """Cut a sheet into just these rectangles, side by side in one row; otherwise as `cut` does."""
    cuts = [Cut(rect, 0, column) for column, rect in enumerate(rects)]
    return _cut(project, name, LoosePieces(), cuts)


@in_bulk()
def _cut(project: Project, name: str, layout: Layout, wanted: list[Cut]) -> Project:
    sheet = project.sheet(name)
    kept = [piece for piece in sheet.pieces if piece.by_hand]
    near_gone, near_kept = Near(sheet.left_out), Near([piece.rect for piece in kept])

    def is_free(rect: Rect) -> bool:
        gone = (sheet.left_out[index] for index in near_gone.to(rect))
        hand = (kept[index].rect for index in near_kept.to(rect))
        return not (
            any(sameness(other, rect) > SAME_ENOUGH for other in gone)
            or any(covers(other, rect) for other in hand)
        )

    cuts = [place for place in wanted if is_free(place.rect)]
    following = _match(tuple(p for p in sheet.pieces if not p.by_hand), cuts, sheet.earlier)
    number = project.next_number
    pieces = []
    for place, old in zip(cuts, following, strict=True):
        if old is None:
            pieces.append(new_piece(number, place))
            number += 1
        else:
            pieces.append(replace(old, rect=place.rect, row=place.row, column=place.column))

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


def _match(
    pieces: tuple[Piece, ...], cuts: list[Cut], earlier: tuple[Piece, ...]
) -> list[Piece | None]:
    """For each cut the old piece that it goes on with, each old piece once. Of earlier layouts
    only those go on that are cut just where they were."""
    by_rect = {piece.rect: piece for piece in (*earlier, *pieces)}
    result = [by_rect.pop(place.rect, None) for place in cuts]
    left = [piece for piece in pieces if piece.rect in by_rect]
    near, taken = Near([piece.rect for piece in left]), set[int]()
    for index, place in enumerate(cuts):
        if result[index] is None:
            same = {n: sameness(left[n].rect, place.rect) for n in near.to(place.rect)}
            best = max((n for n in same if n not in taken), key=lambda n: same[n], default=None)
            if best is not None and same[best] > SAME_ENOUGH:
                result[index] = left[best]
                taken.add(best)
    return result


def in_reading_order(pieces: Sequence[Piece]) -> list[Piece]:
    """Pieces by rows from the top, each from the left."""
    places: dict[Rect, list[Piece]] = {}
    for piece in pieces:
        places.setdefault(piece.rect, []).append(piece)
    order = reading_order(list(places))
    return [piece for rect in order for piece in places[rect]]


def covers(one: Rect, other: Rect) -> bool:
    """Whether more than half of the other rectangle lies under the first."""
    return one.intersection(other).area * 2 > other.area


def sameness(one: Rect, other: Rect) -> float:
    """The part of their union that two rectangles share, from 0 to 1."""
    shared = one.intersection(other).area
    return shared / (one.area + other.area - shared) if shared else 0.0


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
