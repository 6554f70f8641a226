"""What one number, one cell, or a picture's name says about all the others."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Literal

from rushweed.core.cut.seeing.divisions import LARGEST, SMALLEST
from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Rect, Size

SLIP, LEAST_SLIP = 0.1, 2
"""A hand that drags over a cell is off by this share of its sides, or by so many pixels."""
SIZE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?[x×] ?(\d{1,4})(?!\d)", re.IGNORECASE)
SIDE_IN_NAME = re.compile(r"(?<!\d)(\d{1,4}) ?px(?![a-z])", re.IGNORECASE)
Field = Literal["cell", "margin", "gap"]


def sizes_in(name: str) -> frozenset[Size]:
    """The sizes a picture's name speaks of, such as `fen_16x24` or `crab 32px`."""
    found = {Size(int(width), int(height)) for width, height in SIZE_IN_NAME.findall(name)}
    found |= {Size(int(side), int(side)) for side in SIDE_IN_NAME.findall(name)}
    return frozenset(size for size in found if min(size) >= SMALLEST and max(size) <= LARGEST)


def with_number(layout: EvenCells, field: Field, axis: int, value: int) -> EvenCells:
    """Cells with one of their numbers changed; `axis` is 0 across and 1 down."""
    old: Size = getattr(layout, field)
    size = Size(value, old.height) if axis == 0 else Size(old.width, value)
    changed: dict[str, Any] = {field: size}
    return replace(layout, **changed)


def likeliest_with(
    readings: Sequence[Reading], size: Size, field: Field, axis: int, value: int
) -> EvenCells:
    """The likeliest cells of a picture of which one number is known. Where nothing that was seen
    has that number, cells are square if that divides the picture, else as high or wide as the
    likeliest ones."""
    grids = [one.layout for one in readings if isinstance(one.layout, EvenCells)]
    for layout in grids:
        if getattr(layout, field)[axis] == value:
            return layout
    if field == "cell" and value > 0 and size[1 - axis] % value == 0:
        return EvenCells(Size(value, value))
    usual = EvenCells(Size(min(16, size.width), min(16, size.height)))
    return with_number(grids[0] if grids else usual, field, axis, value)


def cells_around(readings: Sequence[Reading], size: Size, rect: Rect) -> EvenCells:
    """The likeliest cells of a picture of which one was shown, about as exactly as a hand drags:
    those of a reading that has a cell just there, else cells of that very size and place."""
    for reading in readings:
        layout = reading.layout
        if isinstance(layout, EvenCells) and _has_cell(layout, rect):
            return layout
    cell = rect.size
    margin = Size(rect.x % cell.width, rect.y % cell.height)
    return EvenCells(cell, margin)


def _has_cell(layout: EvenCells, rect: Rect) -> bool:
    """Whether one of the cells has about this place and size."""
    for side in (0, 1):
        start, length = (rect.x, rect.y)[side], rect.size[side]
        slip = max(LEAST_SLIP, round(length * SLIP))
        step = layout.cell[side] + layout.gap[side]
        apart = (start - layout.margin[side] + step // 2) % step - step // 2
        if abs(length - layout.cell[side]) > slip or abs(apart) > slip:
            return False
    return True
