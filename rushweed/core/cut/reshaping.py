"""Turning, flipping, enlarging and shrinking sheets. Only the choice is kept, never a changed
source; pieces, pivots and shapes go along."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Literal

from rushweed.core.bounded import LARGEST_SIDE
from rushweed.core.cut.cutting import count_cells, even_cuts, in_reading_order
from rushweed.core.orientation import (
    FLIPPED,
    FLIPPED_DOWN,
    SWAPPED,
    quarter,
    turned_point,
)
from rushweed.core.project.project import Project, with_sheets
from rushweed.core.project.shape import Box, Circle, Form, Polygon, Shape
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, Piece, Redrawn, Sheet
from rushweed.core.values import Point, Rect, Refusal, Size

Turn = Literal["across", "down", "quarter"]
LARGEST_PIXEL = 64
LARGEST_FACTOR = 16
TURNS: dict[Turn, int] = {"across": FLIPPED, "down": FLIPPED_DOWN, "quarter": quarter(0)}
Move = Callable[[Point], Point]


def turn_sheets(project: Project, sheets: tuple[str, ...], turn: Turn) -> Project:
    """Flip sheets across or down, or turn them by a quarter clockwise."""
    return with_sheets(project, sheets, lambda sheet: _turned(sheet, turn))


def set_enlarged(project: Project, sheets: tuple[str, ...], factor: int) -> Project:
    """Make each drawn pixel of sheets so many pixels wide and high.

    Raises Refusal where that cannot be.
    """
    if not 1 <= factor <= LARGEST_FACTOR:
        raise Refusal(f"A picture is enlarged 1 to {LARGEST_FACTOR} times.")

    def edit(sheet: Sheet) -> Sheet:
        larger = scaled(sheet, Fraction(factor, sheet.enlarged))
        result = replace(larger, enlarged=factor)
        if max(result.size) > LARGEST_SIDE:
            raise Refusal(f"“{sheet.name}” would be larger than {LARGEST_SIDE} px a side.")
        return result

    return with_sheets(project, sheets, edit)


def set_pixel(project: Project, sheets: tuple[str, ...], pixel: int) -> Project:
    """Say how many stored pixels one drawn pixel takes. Raises Refusal where that cannot be."""
    if not 1 <= pixel <= LARGEST_PIXEL:
        raise Refusal(f"One drawn pixel takes from 1 to {LARGEST_PIXEL} stored ones.")

    def edit(sheet: Sheet) -> Sheet:
        if min(sheet.stored_size) < pixel:
            raise Refusal(f"“{sheet.name}” is smaller than one drawn pixel of {pixel} px.")
        smaller = scaled(sheet, Fraction(sheet.pixel, pixel))
        return replace(smaller, pixel=pixel, decided=sheet.deciding("pixel"))

    return with_sheets(project, sheets, edit)


def bring_back(project: Project, name: str, redrawn: Redrawn | None) -> Project:
    """Bring a sheet that was enlarged badly back to the pixels it was drawn with, or take that
    back; what was cut goes along. Raises Refusal for numbered frames."""
    if len(project.sheet(name).sources) > 1:
        raise Refusal("Bring the frames back one by one, before they are joined.")

    def edit(sheet: Sheet) -> Sheet:
        changed = replace(sheet, redrawn=redrawn)
        factor = Fraction(changed.stored_size.width, sheet.stored_size.width)
        return replace(scaled(sheet, factor), redrawn=redrawn)

    return with_sheets(project, (name,), edit)


def _turned(sheet: Sheet, turn: Turn) -> Sheet:
    old = sheet.orientation
    new = quarter(old) if turn == "quarter" else old ^ TURNS[turn]
    whole, by = sheet.size, TURNS[turn]

    def turned_rect(rect: Rect) -> Rect:
        first = turned_point(Point(rect.x, rect.y), whole, by)
        return Rect.between(first, turned_point(Point(rect.right, rect.bottom), whole, by))

    def turned_piece(piece: Piece) -> Piece:
        size = piece.rect.size
        shapes = piece.shapes and tuple(
            _moved(shape, lambda point: turned_point(point, size, by), _mirrors(by))
            for shape in piece.shapes
        )
        return replace(
            piece,
            rect=turned_rect(piece.rect),
            pivot=turned_point(piece.pivot, size, by),
            offset=turned_point(piece.offset, Size(0, 0), by),
            shapes=shapes,
        )

    pieces = [turned_piece(piece) for piece in sheet.pieces]
    layout = _turned_layout(sheet.layout, whole, by)
    result = replace(
        sheet,
        orientation=new,
        layout=layout,
        left_out=tuple(map(turned_rect, sheet.left_out)),
        earlier=tuple(map(turned_piece, sheet.earlier)),
    )
    return _with_places(result, in_reading_order(pieces))


def _turned_layout(layout: Layout | None, whole: Size, by: int) -> Layout | None:
    """The layout of the turned picture: what was left over at the far end is a margin now."""
    if isinstance(layout, LoosePieces) and layout.within is not None:
        within = _turned_layout(layout.within, whole, by)
        return replace(layout, within=within) if isinstance(within, EvenCells) else layout
    if not isinstance(layout, EvenCells):
        return layout
    margin, far = layout.margin, _far_margin(layout, whole)
    cell, gap = layout.cell, layout.gap
    if by & SWAPPED:
        margin, far, cell, gap = (Size(s.height, s.width) for s in (margin, far, cell, gap))
    return EvenCells(
        cell,
        Size(
            far.width if by & FLIPPED else margin.width,
            far.height if by & FLIPPED_DOWN else margin.height,
        ),
        gap,
    )


def _far_margin(layout: EvenCells, whole: Size) -> Size:
    """What is left over to the right of and below the cells."""
    count = count_cells(layout, whole)
    return Size(
        whole.width
        - layout.margin.width
        - count.columns * (layout.cell.width + layout.gap.width)
        + layout.gap.width,
        whole.height
        - layout.margin.height
        - count.rows * (layout.cell.height + layout.gap.height)
        + layout.gap.height,
    )


def scaled(sheet: Sheet, factor: Fraction) -> Sheet:
    """The sheet's layout and pieces for a picture so many times as large."""
    if factor == 1:
        return sheet

    def times(value: float) -> int:
        return round(value * factor)

    def scaled_rect(rect: Rect) -> Rect:
        left, top = times(rect.x), times(rect.y)
        right, bottom = times(rect.right), times(rect.bottom)
        return Rect(left, top, max(1, right - left), max(1, bottom - top))

    def scaled_point(point: Point) -> Point:
        return Point(times(point.x), times(point.y))

    def scaled_piece(piece: Piece) -> Piece:
        return replace(
            piece,
            rect=scaled_rect(piece.rect),
            pivot=scaled_point(piece.pivot),
            offset=scaled_point(piece.offset),
            shapes=piece.shapes and tuple(_moved(s, scaled_point, False) for s in piece.shapes),
        )

    def scaled_cells(cells: EvenCells) -> EvenCells:
        cell, margin, gap = (
            Size(times(size.width), times(size.height))
            for size in (cells.cell, cells.margin, cells.gap)
        )
        return EvenCells(Size(max(1, cell.width), max(1, cell.height)), margin, gap)

    layout = sheet.layout
    if isinstance(layout, EvenCells):
        layout = scaled_cells(layout)
    elif isinstance(layout, LoosePieces) and layout.within is not None:
        layout = replace(layout, within=scaled_cells(layout.within))
    return replace(
        sheet,
        layout=layout,
        left_out=tuple(map(scaled_rect, sheet.left_out)),
        pieces=tuple(map(scaled_piece, sheet.pieces)),
        earlier=tuple(map(scaled_piece, sheet.earlier)),
    )


def _moved(shape: Shape, move: Move, mirrors: bool) -> Shape:
    """A shape with all its corners moved; a mirrored polygon still runs counter-clockwise."""
    form: Form
    if isinstance(shape.form, Box):
        ends = (move(shape.form.corners[0]), move(shape.form.corners[2]))
        left, right = sorted(end.x for end in ends)
        top, bottom = sorted(end.y for end in ends)
        form = Box(left, top, right - left, bottom - top)
    elif isinstance(shape.form, Circle):
        middle = move(Point(shape.form.x, shape.form.y))
        rim = move(Point(shape.form.x + shape.form.radius, shape.form.y))
        form = Circle(*middle, abs(rim.x - middle.x) + abs(rim.y - middle.y))
    else:
        rings = [tuple(map(move, ring)) for ring in shape.form.rings]
        outer, *holes = [ring[::-1] if mirrors else ring for ring in rings]
        form = Polygon(outer, tuple(holes))
    return Shape(form, shape.stops)


def _mirrors(orientation: int) -> bool:
    """Whether a turn makes left hands of right ones."""
    return orientation.bit_count() % 2 == 1


def _with_places(sheet: Sheet, pieces: list[Piece]) -> Sheet:
    """The sheet with these pieces, each in the row and column of its cell."""
    if not isinstance(sheet.layout, EvenCells):
        return replace(sheet, pieces=tuple(pieces))
    places = {cut.rect: (cut.row, cut.column) for cut in even_cuts(sheet.layout, sheet.size)}

    def placed(piece: Piece) -> Piece:
        row, column = places.get(piece.rect, (piece.row, piece.column))
        return replace(piece, row=row, column=column)

    return replace(sheet, pieces=tuple(map(placed, pieces)))
