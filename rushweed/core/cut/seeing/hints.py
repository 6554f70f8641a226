"""What one number that somebody gives says about the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Literal

from rushweed.core.cut.seeing.readings import Reading
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Size

Field = Literal["cell", "margin", "gap"]


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
