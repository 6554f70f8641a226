"""Sheets of a pack that are like one which was decided: what was said of it may hold for them."""

from __future__ import annotations

import re

from rushweed.core.cut.gathering import cut_as, see, waits
from rushweed.core.gather.art import Art
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture, Sheet
from rushweed.core.values import Refusal

STRETCH = 1.5
"""Kin that share the first word of their names differ in size by at most this factor."""
LOOKED_AT = 6
"""The layout has to be among so many of their likeliest readings."""


def kin_to_cut(project: Project, art: Art, name: str) -> tuple[str, ...]:
    """The sheets that wait to be cut and may be cut as a sheet is: called or sized alike, and with
    such a layout among their likeliest readings."""
    sheet = project.sheet(name)
    if sheet.layout is None:
        return ()
    return tuple(
        other.name
        for other in project.sheets
        if other.name != name
        and waits(other)
        and is_alike(sheet, other)
        and _layout_like(art, other, sheet.layout) is not None
    )


def cut_alike(project: Project, art: Art, name: str, names: tuple[str, ...]) -> Project:
    """Cut sheets as one of them is cut, each with margins and distances of its own."""
    pattern = project.sheet(name).layout
    for other in names:
        layout = _layout_like(art, project.sheet(other), pattern) if pattern else None
        if layout is not None:
            project = cut_as(project, art, other, layout)
    return project


def is_alike(one: Sheet, other: Sheet) -> bool:
    """Whether two sheets are called the same but for their ends, or are of one size."""
    if one.size == other.size or stem(one.name) == stem(other.name):
        return True
    first, second = one.name.split("_")[0], other.name.split("_")[0]
    sides = zip(one.size, other.size, strict=True)
    near = all(max(a, b) <= STRETCH * min(a, b) for a, b in sides)
    return near and first == second and first not in (one.name, other.name)


def stem(name: str) -> str:
    """A name without the number at its end; all of it, where it is a number alone."""
    return re.sub(r"[\W_]*\d+$", "", name) or name


def _layout_like(art: Art, sheet: Sheet, pattern: Layout) -> Layout | None:
    """The sheet's own likely layout of the pattern's kind, with its cell where it has cells."""
    try:
        seen = see(art, sheet)
    except Refusal:
        return None
    for reading in seen.readings[:LOOKED_AT]:
        layout = reading.layout
        if isinstance(pattern, EvenCells):
            if isinstance(layout, EvenCells) and layout.cell == pattern.cell:
                return layout
        elif type(layout) is type(pattern):
            return seen.offered(layout) if isinstance(layout, LoosePieces) else layout
    if isinstance(pattern, OnePicture):
        return pattern
    fits = isinstance(pattern, EvenCells) and not any(
        side % cell for side, cell in zip(sheet.size, pattern.cell, strict=True)
    )
    return EvenCells(pattern.cell) if fits and isinstance(pattern, EvenCells) else None
