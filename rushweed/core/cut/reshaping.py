"""Turning, flipping, enlarging and shrinking sheets. Only the choice is kept, never a changed
source; pieces, pivots and shapes go along."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from typing import Literal

from rushweed.core.cut.cutting import count_cells, even_cuts, in_reading_order
from rushweed.core.orientation import (
    FLIPPED,
    FLIPPED_DOWN,
    SWAPPED,
    quarter,
    turned_point,
)
from rushweed.core.project.attached import carried, taken_along
from rushweed.core.project.project import Project, with_sheets
from rushweed.core.project.sheet import (
    EvenCells,
    Fitted,
    FitWay,
    Layout,
    LoosePieces,
    Piece,
    Redrawn,
    Sheet,
    frames_share,
)
from rushweed.core.value_ranges import LARGEST_SIDE
from rushweed.core.values import Point, Rect, Refusal, Size

Turn = Literal["across", "down", "quarter"]
LARGEST_PIXEL = 64
LARGEST_FACTOR = 16
TURNS: dict[Turn, int] = {"across": FLIPPED, "down": FLIPPED_DOWN, "quarter": quarter(0)}


def turn_sheets(project: Project, sheets: tuple[str, ...], turn: Turn) -> Project:
    """Flip sheets across or down, or turn them by a quarter clockwise."""
    return with_sheets(project, sheets, lambda sheet: _turned(sheet, turn))


def set_enlarged(project: Project, sheets: tuple[str, ...], factor: int) -> Project:
    """Make each drawn pixel of sheets so many pixels wide and high.

    Raises Refusal where that cannot be.
    """
    if not 1 <= factor <= LARGEST_FACTOR:
        raise Refusal(
            "A picture is enlarged 1 to {largest_factor} times.", largest_factor=LARGEST_FACTOR
        )

    def edit(sheet: Sheet) -> Sheet:
        sheet = unfitted(sheet)
        larger = scaled(sheet, Fraction(factor, sheet.enlarged))
        result = replace(larger, enlarged=factor)
        if max(result.size) > LARGEST_SIDE:
            raise Refusal(
                "“{name}” would be larger than {largest_side} px a side.",
                name=sheet.name,
                largest_side=LARGEST_SIDE,
            )
        return result

    return with_sheets(project, sheets, edit)


def set_pixel(project: Project, sheets: tuple[str, ...], pixel: int) -> Project:
    """Say how many stored pixels one drawn pixel takes. Raises Refusal where that cannot be."""
    if not 1 <= pixel <= LARGEST_PIXEL:
        raise Refusal(
            "One drawn pixel takes from 1 to {largest_pixel} stored ones.",
            largest_pixel=LARGEST_PIXEL,
        )

    def edit(sheet: Sheet) -> Sheet:
        if min(sheet.stored_size) < pixel:
            raise Refusal(
                "“{name}” is smaller than one drawn pixel of {pixel} px.",
                name=sheet.name,
                pixel=pixel,
            )
        sheet = unfitted(sheet)
        smaller = scaled(sheet, Fraction(sheet.pixel, pixel))
        return replace(smaller, pixel=pixel, decided=sheet.deciding("pixel"))

    return with_sheets(project, sheets, edit)


def bring_back(project: Project, name: str, redrawn: Redrawn | None) -> Project:
    """Bring a sheet that was enlarged badly back to the pixels it was drawn with, or take that
    back; what was cut goes along. Raises Refusal for numbered frames that cannot share it."""
    if redrawn is not None and not frames_share(project.sheet(name), redrawn):
        raise Refusal("These frames differ in size. Bring each back before they are joined.")

    def edit(sheet: Sheet) -> Sheet:
        sheet = unfitted(sheet)
        if sheet.redrawn is not None:
            sheet = _gathered(sheet, sheet.redrawn)
        if redrawn is None:
            return sheet
        if redrawn.factor:
            across, down = (cut // sheet.pixel for cut in redrawn.cut)
            sheet = scaled(_shifted(sheet, across, down), Fraction(1, redrawn.factor))
            return replace(sheet, redrawn=redrawn)
        factor = Fraction(redrawn.size.width, sheet.stored_size.width)
        return replace(scaled(sheet, factor), redrawn=redrawn)

    return with_sheets(project, (name,), edit)


def _gathered(sheet: Sheet, back: Redrawn) -> Sheet:
    """A sheet that was brought back, as its picture was gathered."""
    plain = replace(sheet, redrawn=None)
    if not back.factor:
        factor = Fraction(plain.stored_size.width, sheet.stored_size.width)
        return replace(scaled(sheet, factor), redrawn=None)
    large = replace(scaled(sheet, Fraction(back.factor)), redrawn=None)
    return _shifted(large, *(-(cut // sheet.pixel) for cut in back.cut))


def _shifted(sheet: Sheet, across: int, down: int) -> Sheet:
    """The sheet's pieces moved; even cells begin so much later, where they can."""
    layout = sheet.layout
    if isinstance(layout, EvenCells):
        margin = Size(max(layout.margin.width + across, 0), max(layout.margin.height + down, 0))
        layout = replace(layout, margin=margin)
    return replace(
        sheet,
        layout=layout,
        left_out=tuple(rect.moved(across, down) for rect in sheet.left_out),
        pieces=taken_along(sheet.pieces, across, down),
        earlier=taken_along(sheet.earlier, across, down),
    )


def unit_of(sheet: Sheet) -> Size:
    """What is made to fit of a sheet: one of its even cells, else the whole picture, as large as it
    is shown now."""
    return sheet.layout.cell if isinstance(sheet.layout, EvenCells) else sheet.size


def fit_sheets(
    project: Project, sheets: tuple[str, ...], shown: Size, way: FitWay = "nearest"
) -> Project:
    """Show the cells of sheets, or whole pictures, in another size: by a whole factor where there
    is one, else `way`. The sources stay as they are. Raises Refusal where that cannot be."""
    return with_sheets(project, sheets, lambda sheet: _fitted(sheet, shown, way))


def unfitted(sheet: Sheet) -> Sheet:
    """A sheet as large as it is drawn, with all that was cut."""
    if sheet.fitted is None:
        return sheet
    drawn, shown = sheet.fitted.drawn, sheet.fitted.shown
    across, down = Fraction(drawn.width, shown.width), Fraction(drawn.height, shown.height)
    return replace(scaled(sheet, across, down), fitted=None)


def _fitted(sheet: Sheet, shown: Size, way: FitWay) -> Sheet:
    sheet = unfitted(sheet)
    drawn = unit_of(sheet)
    if min(shown) < 1:
        raise Refusal("A cell is at least 1 px wide and high. Type a larger size.")
    across, down = Fraction(shown.width, drawn.width), Fraction(shown.height, drawn.height)
    plain = replace(sheet, fitted=Fitted(drawn, shown, way))
    if max(plain.size) > LARGEST_SIDE:
        raise Refusal(
            "“{name}” would be larger than {largest_side} px a side.",
            name=sheet.name,
            largest_side=LARGEST_SIDE,
        )
    if isinstance(sheet.layout, EvenCells):
        _check_cells(sheet.name, sheet.layout, across, down)
    result = scaled(sheet, across, down)
    factor = sheet.enlarged * across
    if across == down and factor.denominator == 1 and factor <= LARGEST_FACTOR:
        return replace(result, enlarged=int(factor))
    return replace(result, fitted=plain.fitted)


def _check_cells(name: str, cells: EvenCells, across: Fraction, down: Fraction) -> None:
    for what, size in (("margin", cells.margin), ("gap", cells.gap)):
        if (size.width * across).denominator > 1 or (size.height * down).denominator > 1:
            raise Refusal(
                "The {what} of {size} px in “{name}” does not come out whole at that size. "
                "Choose a multiple, or save the picture without it.",
                what=what,
                size=size,
                name=name,
            )


def _turned(sheet: Sheet, turn: Turn) -> Sheet:
    old = sheet.orientation
    new = quarter(old) if turn == "quarter" else old ^ TURNS[turn]
    whole, by = sheet.size, TURNS[turn]

    def move(point: Point) -> Point:
        return turned_point(point, whole, by)

    def turned_rect(rect: Rect) -> Rect:
        return Rect.between(move(Point(rect.x, rect.y)), move(Point(rect.right, rect.bottom)))

    def turned_piece(piece: Piece) -> Piece:
        return carried(piece, turned_rect(piece.rect), move, by)

    pieces = [turned_piece(piece) for piece in sheet.pieces]
    layout = _turned_layout(sheet.layout, whole, by)
    fit = sheet.fitted
    if fit is not None and by & SWAPPED:
        fit = replace(fit, drawn=_swapped(fit.drawn), shown=_swapped(fit.shown))
    result = replace(
        sheet,
        orientation=new,
        fitted=fit,
        layout=layout,
        left_out=tuple(map(turned_rect, sheet.left_out)),
        earlier=tuple(map(turned_piece, sheet.earlier)),
    )
    return _with_places(result, in_reading_order(pieces))


def _swapped(size: Size) -> Size:
    return Size(size.height, size.width)


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
        margin, far, cell, gap = map(_swapped, (margin, far, cell, gap))
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


def scaled(sheet: Sheet, across: Fraction, down: Fraction | None = None) -> Sheet:
    """The sheet's layout and pieces for a picture so many times as wide and high."""
    high = across if down is None else down
    if across == high == 1:
        return sheet

    def scaled_rect(rect: Rect) -> Rect:
        left, right = nearest(rect.x * across), nearest(rect.right * across)
        top, bottom = nearest(rect.y * high), nearest(rect.bottom * high)
        return Rect(left, top, max(1, right - left), max(1, bottom - top))

    def move(point: Point) -> Point:
        return Point(_times(point.x, across), _times(point.y, high))

    def scaled_piece(piece: Piece) -> Piece:
        return carried(piece, scaled_rect(piece.rect), move)

    def scaled_cells(cells: EvenCells) -> EvenCells:
        cell, margin, gap = (
            Size(round(size.width * across), round(size.height * high))
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


def nearest(value: Fraction) -> int:
    """The nearest whole number, halves up, so that no edge goes another way than its neighbour."""
    return math.floor(value + Fraction(1, 2))


def _times(value: float, factor: Fraction) -> float:
    """A place so many times as far, on a whole pixel, or in the middle of one as it may have been
    before."""
    halves = 2 * Fraction(value) * factor
    return int(halves) / 2 if halves.denominator == 1 else nearest(halves / 2)


def _with_places(sheet: Sheet, pieces: list[Piece]) -> Sheet:
    """The sheet with these pieces, each in the row and column of its cell."""
    if not isinstance(sheet.layout, EvenCells):
        return replace(sheet, pieces=tuple(pieces))
    places = {cut.rect: (cut.row, cut.column) for cut in even_cuts(sheet.layout, sheet.size)}

    def placed(piece: Piece) -> Piece:
        row, column = places.get(piece.rect, (piece.row, piece.column))
        return replace(piece, row=row, column=column)

    return replace(sheet, pieces=tuple(map(placed, pieces)))
