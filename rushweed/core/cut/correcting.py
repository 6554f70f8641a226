"""Correcting cuts by hand. Pivots and shapes stay where they are on the picture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import chain
from operator import attrgetter
from typing import Literal

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.cut.cutting import Cut, in_reading_order, new_piece, without_lost_frames
from rushweed.core.cut.loose import part_of, rows_of
from rushweed.core.cut.naming import name_pieces
from rushweed.core.pixels import box_around
from rushweed.core.project.attached import carried
from rushweed.core.project.body import Body
from rushweed.core.project.facts import Facts
from rushweed.core.project.project import Project, edited, free_name, with_sheet
from rushweed.core.project.renumbering import joined_numbers
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Rect, Refusal, Size

Way = Literal["across", "down"]
MIDDLE = 0.2
"""A piece is split no nearer to its edges than this part of its side."""


def recut(piece: Piece, rect: Rect) -> Piece:
    """The piece with another rectangle that somebody chose."""
    return replace(carried(piece, rect), by_hand=True)


def set_rect(project: Project, sheet: str, number: int, rect: Rect) -> Project:
    """Give one piece another rectangle. Raises Refusal when that has no area."""
    _check(rect)
    return _edit(project, sheet, frozenset({number}), lambda piece: recut(piece, rect))


def draw_piece(project: Project, sheet: str, rect: Rect) -> tuple[Project, int]:
    """Add a piece with that rectangle. Returns the project and the new piece's number."""
    _check(rect)
    number = project.next_number
    piece = replace(new_piece(number, Cut(rect, 0, 0)), by_hand=True)
    project = with_sheet(project, sheet, lambda s: _with(s, [*s.pieces, piece]))
    return replace(project, next_number=number + 1), number


def join(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Make one piece of several: it keeps the lowest number, and what was set on each of them.
    Animations and props go on with it."""
    old = project.sheet(sheet)
    parts = [piece for piece in old.pieces if piece.number in numbers]
    if len(parts) < 2:
        raise Refusal("Select at least two pieces of one sheet to join them.")
    whole = parts[0].rect
    for part in parts[1:]:
        whole = whole.union(part.rect)
    parts.sort(key=attrgetter("number"))
    joined = _as_one(parts, whole)
    stands = _on_picture(joined)
    moved = {}
    for part in parts:
        x, y = _on_picture(part)
        moved[part.number] = Point(stands.x - x, stands.y - y)
    kept = [piece for piece in old.pieces if piece.number not in numbers]
    project = joined_numbers(project, sheet, joined.number, moved)
    return with_sheet(project, sheet, lambda s: _with(s, [*kept, joined]))


def _on_picture(piece: Piece) -> Point:
    """Where a piece stands, in pixels of its sheet's picture."""
    return Point(piece.rect.x + piece.standing.x, piece.rect.y + piece.standing.y)


def _as_one(parts: list[Piece], whole: Rect) -> Piece:
    """One piece with all that was set on several of them; where it can have one value alone, that
    of the first that has any."""
    stands = recut(max(parts, key=attrgetter("pivot_set", "has_pivot")), whole)
    parts = [recut(part, whole) for part in parts]
    first = parts[0]
    shapes = [part.shapes for part in parts if part.shapes is not None]
    points = {point.name: point for part in reversed(parts) for point in part.points}
    return replace(
        first,
        name=next((part.name for part in parts if part.name), ""),
        pivot=stands.pivot,
        offset=stands.offset,
        pivot_set=stands.pivot_set,
        shapes=tuple(chain.from_iterable(shapes)) if shapes else None,
        facts=next((part.facts for part in parts if part.facts != Facts()), Facts()),
        body=next((part.body for part in parts if part.body != Body()), Body()),
        borders=next((part.borders for part in parts if part.borders), None),
        points=tuple(points[name] for name in sorted(points)),
        events=tuple(dict.fromkeys(chain.from_iterable(part.events for part in parts))),
    )


def split(project: Project, sheet: str, number: int, way: Way, at: int) -> Project:
    """Split a piece at a pixel of its own, into left and right (across) or top and bottom.

    The first part keeps number and name, the other is called alike. Raises Refusal when nothing
    would be left on one side.
    """
    piece = next(p for p in project.sheet(sheet).pieces if p.number == number)
    x, y, width, height = piece.rect
    side = width if way == "across" else height
    if not 0 < at < side:
        raise Refusal("Split inside the piece, at least one pixel from its edges.")
    if way == "across":
        first, second = Rect(x, y, at, height), Rect(x + at, y, width - at, height)
    else:
        first, second = Rect(x, y, width, at), Rect(x, y + at, width, height - at)
    project = set_rect(project, sheet, number, first)
    project, other = draw_piece(project, sheet, second)
    if not piece.name:
        return project
    taken = {one.name for one in project.sheet(sheet).pieces}
    return name_pieces(project, {other: free_name(piece.name, taken)})


def thinnest(mask: Mask, rect: Rect) -> tuple[Way, int]:
    """Where least of a piece is cut through: the way, and the pixel of the piece."""
    part = part_of(mask, rect)
    best: tuple[float, Way, int] = (np.inf, "across", rect.width // 2)
    ways: tuple[tuple[Way, Mask], ...] = (("across", part), ("down", part.T))
    for way, seen in ways:
        through = (seen[:, 1:] & seen[:, :-1]).sum(axis=0)
        low = max(1, int(seen.shape[1] * MIDDLE))
        inner = through[low - 1 : max(low, seen.shape[1] - low)]
        if len(inner):
            at = int(inner.argmin())
            best = min(best, (float(inner[at]) / seen.shape[0], way, low + at))
    return best[1], best[2]


def trim(project: Project, sheet: str, numbers: frozenset[int], mask: Mask) -> Project:
    """Cut empty borders off pieces; wholly empty ones stay as they are."""

    def tight(piece: Piece) -> Piece:
        drawn = box_around(part_of(mask, piece.rect))
        if drawn is None:
            return piece
        rect = drawn.moved(piece.rect.x, piece.rect.y)
        return piece if rect == piece.rect else recut(piece, rect)

    return _edit(project, sheet, numbers, tight)


def pad(project: Project, sheet: str, numbers: frozenset[int], by: int) -> Project:
    """Add a border of so many pixels on all sides, or take it away when `by` is negative."""

    def grown(piece: Piece) -> Piece:
        x, y, width, height = piece.rect
        rect = Rect(x - by, y - by, width + 2 * by, height + 2 * by)
        _check(rect)
        return recut(piece, rect)

    return _edit(project, sheet, numbers, grown) if by else project


def common_size(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Give pieces the size of the largest, each around its own middle and on its own foot."""
    parts = [piece for piece in project.sheet(sheet).pieces if piece.number in numbers]
    if not parts:
        raise Refusal("Select the pieces that should be of one size.")
    width = max(piece.rect.width for piece in parts)
    height = max(piece.rect.height for piece in parts)

    def sized(piece: Piece) -> Piece:
        left = piece.rect.x - (width - piece.rect.width) // 2
        return recut(piece, Rect(left, piece.rect.bottom - height, width, height))

    return _edit(project, sheet, numbers, sized)


def duplicate(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Cut the same rectangles once more, as new pieces with the same pivots and shapes."""
    copies, number = [], project.next_number
    for piece in project.sheet(sheet).pieces:
        if piece.number in numbers:
            name = f"{piece.name}_copy" if piece.name else ""
            copies.append(replace(piece, number=number, name=name, by_hand=True))
            number += 1
    project = with_sheet(project, sheet, lambda s: _with(s, [*s.pieces, *copies]))
    return replace(project, next_number=number) if copies else project


def split_by_cells(
    project: Project, sheet: str, numbers: frozenset[int], cell: Size, mask: Mask
) -> Project:
    """Cut pieces into cells of one size, from their upper left corners; what is left over at the
    far ends stays with the last cell. Empty cells are left out. The first part of each piece
    keeps its number."""
    if min(cell) < 1:
        raise Refusal("A cell is at least one pixel wide and high.")
    for piece in [p for p in project.sheet(sheet).pieces if p.number in numbers]:
        parts = [part for part in _cells_of(piece.rect, cell) if part_of(mask, part).any()]
        if len(parts) > 1:
            project = set_rect(project, sheet, piece.number, parts[0])
            for part in parts[1:]:
                project, _ = draw_piece(project, sheet, part)
    return project


def make_even(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Give loose pieces one common cell, around the middle of each and, row by row, on one foot
    line, so that they can be played without jumping. It is as high as the tallest row needs from
    its lowest foot to its highest top, so that nobody with raised feet loses a head. Where nobody
    said where a piece stands, it stands on its row's line."""
    parts = [piece for piece in project.sheet(sheet).pieces if piece.number in numbers]
    if len(parts) < 2:
        raise Refusal("Select at least two pieces to make them even.")
    width = max(piece.rect.width for piece in parts)
    feet: dict[Rect, int] = {}
    height = 0
    for row in rows_of([piece.rect for piece in parts]):
        foot = max(rect.bottom for rect in row)
        height = max(height, foot - min(rect.y for rect in row))
        feet |= dict.fromkeys(row, foot)

    def cell(piece: Piece) -> Piece:
        left = piece.rect.x - (width - piece.rect.width) // 2
        even = recut(piece, Rect(left, feet[piece.rect] - height, width, height))
        return even if piece.has_pivot else replace(even, pivot=even.foot)

    return _edit(project, sheet, numbers, cell)


def keep_inside(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Cut pieces at the edges of their picture; those wholly outside are left out."""
    whole = Rect(0, 0, *project.sheet(sheet).size)
    lost = frozenset(
        piece.number
        for piece in project.sheet(sheet).pieces
        if piece.number in numbers and not piece.rect.intersection(whole).area
    )
    project = leave_out(project, sheet, lost) if lost else project
    return _edit(project, sheet, numbers, lambda p: recut(p, p.rect.intersection(whole)))


def leave_out(project: Project, sheet: str, numbers: frozenset[int]) -> Project:
    """Take pieces away; a new layout does not cut them again."""

    def edit(old: Sheet) -> Sheet:
        gone = tuple(piece.rect for piece in old.pieces if piece.number in numbers)
        kept = [piece for piece in old.pieces if piece.number not in numbers]
        return replace(_with(old, kept), left_out=(*old.left_out, *gone))

    return with_sheet(project, sheet, edit)


def bring_back(project: Project, sheet: str) -> Project:
    """Forget what was left out; the next layout cuts it again."""
    return with_sheet(project, sheet, lambda s: replace(s, left_out=()))


def _edit(
    project: Project, sheet: str, numbers: frozenset[int], edit: Callable[[Piece], Piece]
) -> Project:
    def change(old: Sheet) -> Sheet:
        return replace(old, pieces=edited(old.pieces, numbers, edit))

    return with_sheet(project, sheet, change)


def _cells_of(rect: Rect, cell: Size) -> list[Rect]:
    """A rectangle in cells, row by row."""
    columns, rows = max(1, rect.width // cell.width), max(1, rect.height // cell.height)
    parts = []
    for row in range(rows):
        for column in range(columns):
            x, y = rect.x + column * cell.width, rect.y + row * cell.height
            right = rect.right if column == columns - 1 else x + cell.width
            bottom = rect.bottom if row == rows - 1 else y + cell.height
            parts.append(Rect(x, y, right - x, bottom - y))
    return parts


def _with(sheet: Sheet, pieces: list[Piece]) -> Sheet:
    return without_lost_frames(replace(sheet, pieces=tuple(in_reading_order(pieces))))


def _check(rect: Rect) -> None:
    if rect.width < 1 or rect.height < 1:
        raise Refusal("A piece is at least one pixel wide and high.")
