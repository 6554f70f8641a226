"""Sheets at their own size: what has other pixels per unit than the ground rules say stands in
levels as much larger or smaller, so that a unit is a unit there, as in the line-up."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.gauge.treating import treatment_of
from rushweed.core.newest import for_newest, for_newest_parts
from rushweed.core.project.ground_rules import share_of
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Treatment
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.standing_sheet import StandingSheet, standing
from rushweed.core.values import Size

BODY = (10 / 16, 21 / 16)
"""The body of a walker without a figure, in units."""
BODY_IN_FIGURE = (10 / 19, 21 / 24)
"""How much of a figure's frame its body fills, across and down."""

Sheets = tuple[Sheet, ...]
Kept = dict[int, tuple[tuple[Treatment, ...], Sheets]]


@for_newest
def in_levels(project: Project) -> Project:
    """The project as its levels show it; the same one where all sheets have the pixels per unit of
    the ground rules. What it is already, it stays."""
    known, unit = _kept(project.sheets), project.rules.pixels_per_unit
    if unit not in known or known[unit][0] is not project.treatments:
        known[unit] = project.treatments, _standing(project)
    sheets = known[unit][1]
    return project if sheets is project.sheets else replace(project, sheets=sheets)


def _standing(project: Project) -> Sheets:
    sheets = tuple(_at_own_size(project, sheet) for sheet in project.sheets)
    same = all(new is old for new, old in zip(sheets, project.sheets, strict=True))
    return project.sheets if same else sheets


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


def walker_body(project: Project) -> Size:
    """The body of the project's walker in pixels of its levels: as somebody said, else as its
    figure or the ground rules suggest."""
    walker = project.walker
    if walker.body is not None:
        return walker.body
    sheets = in_levels(project).sheets
    figure = next((s for s in sheets if s.name == walker.sheet and s.pieces), None)
    if figure is not None:
        return share_of(figure.pieces[0].rect.size, BODY_IN_FIGURE)
    unit = project.rules.pixels_per_unit
    return share_of(Size(unit, unit), BODY)
