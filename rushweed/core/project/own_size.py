"""Sheets at their own size: what has other pixels per unit than the ground rules say stands in
levels as much larger or smaller, so that a unit is a unit there, as in the line-up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from functools import partial

from rushweed.core.newest import for_newest, for_newest_parts
from rushweed.core.project.attached import carried
from rushweed.core.project.project import Project, mapped
from rushweed.core.project.rules import Treatment
from rushweed.core.project.sheet import Borders, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Size

LONGEST = 8192
"""Pixels that a piece, or a prop, is wide or high at most in a level."""
Sheets = tuple[Sheet, ...]
Kept = dict[int, tuple[tuple[Treatment, ...], Sheets]]


@dataclass(frozen=True, slots=True)
class StandingSheet(Sheet):
    """A sheet `drawn` with `own` pixels per unit, in levels with `unit` of them. Its pieces have
    the sizes they stand there with, and begin at 0, 0; where they lie on the picture, by number,
    is in `rects`."""

    drawn: Sheet = field(default=Sheet("", ()), compare=False)
    own: int = 1
    unit: int = 1
    rects: Mapping[int, Rect] = field(default_factory=dict, compare=False)


@for_newest
def in_levels(project: Project) -> Project:
    """The project as its levels show it; the same one where all sheets have the pixels per unit of
    the ground rules. What it is already, it stays."""
    known, unit = _kept(project.sheets), project.rules.pixels_per_unit
    if unit not in known or known[unit][0] is not project.treatments:
        known[unit] = project.treatments, mapped(project.sheets, partial(_at_own_size, project))
    sheets = known[unit][1]
    return project if sheets is project.sheets else replace(project, sheets=sheets)


def _at_own_size(project: Project, sheet: Sheet) -> Sheet:
    if isinstance(sheet, StandingSheet):
        return sheet
    own, unit = treatment_of(project, sheet).pixels_per_unit, project.rules.pixels_per_unit
    if own == unit:
        return sheet
    known = _of_sheet(project.treatments, sheet)
    if unit not in known:
        known[unit] = standing(sheet, own, unit)
    return known[unit]


@for_newest
def _kept(sheets: Sheets) -> Kept:
    return {}


@for_newest_parts
def _of_sheet(treatments: tuple[Treatment, ...], sheet: Sheet) -> dict[int, StandingSheet]:
    return {}


def standing(sheet: Sheet, own: int, unit: int) -> StandingSheet:
    """A sheet of `own` pixels per unit as levels of `unit` pixels per unit show it."""
    same = {one.name: getattr(sheet, one.name) for one in fields(Sheet)}
    pieces = tuple(_sized(piece, own, unit) for piece in sheet.pieces)
    rects = {piece.number: piece.rect for piece in sheet.pieces}
    return StandingSheet(**{**same, "pieces": pieces}, drawn=sheet, own=own, unit=unit, rects=rects)


def standing_size(size: Size, own: int, unit: int) -> Size:
    """How large a piece of that size stands in a level: halves are rounded up, and nothing is
    narrower than a pixel."""
    width, height = (min(max(1, (2 * side * unit + own) // (2 * own)), LONGEST) for side in size)
    return Size(width, height)


def _sized(piece: Piece, own: int, unit: int) -> Piece:
    size = standing_size(piece.rect.size, own, unit)
    here = replace(piece, rect=Rect(0, 0, *piece.rect.size))
    here = replace(here, pivot=piece.standing, offset=Point(0, 0))

    def move(point: Point) -> Point:
        x, y = point.x * size.width / here.rect.width, point.y * size.height / here.rect.height
        return Point(x, y)

    there = carried(here, Rect(0, 0, *size), move)
    return replace(there, borders=piece.borders and _sized_borders(piece, size))


def _sized_borders(piece: Piece, size: Size) -> Borders:
    """The borders of a piece that is drawn in another size; a pixel is left between them."""
    old, (width, height) = piece.borders or Borders(), piece.rect.size
    left, right = _sized_ends(old.left, old.right, width, size.width)
    top, bottom = _sized_ends(old.top, old.bottom, height, size.height)
    return replace(old, left=left, top=top, right=right, bottom=bottom)


def _sized_ends(first: int, last: int, side: int, wanted: int) -> tuple[int, int]:
    first, last = ((2 * end * wanted + side) // (2 * side) for end in (first, last))
    first = min(first, wanted - 1)
    return first, min(last, wanted - first - 1)
