"""Treatments: choices that sheets share, and the points in which a sheet differs."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rushweed.core.project.project import Project, with_sheets
from rushweed.core.project.rules import CRISP_PIXELS, Filter, Treatment
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal

LARGEST_PIXELS_PER_UNIT = 4096


def treatment_of(project: Project, sheet: Sheet) -> Treatment:
    """The choices that hold for a sheet: its treatment's, save where it differs."""
    shared = next((t for t in project.treatments if t.name == sheet.treatment), CRISP_PIXELS)
    own = sheet.differences
    return replace(
        shared,
        pixels_per_unit=own.pixels_per_unit or shared.pixels_per_unit,
        filter=own.filter or shared.filter,
    )


def set_pixels_per_unit(project: Project, sheets: tuple[str, ...], number: int) -> Project:
    """Give sheets that many pixels per unit. Raises Refusal for what is no sensible number."""
    if not 1 <= number <= LARGEST_PIXELS_PER_UNIT:
        raise Refusal(f"Pixels per unit is a whole number from 1 to {LARGEST_PIXELS_PER_UNIT}.")
    return _differ(project, sheets, "pixels_per_unit", number)


def set_filter(project: Project, sheets: tuple[str, ...], choice: Filter) -> Project:
    """Have sheets drawn with nearest or linear sampling."""
    return _differ(project, sheets, "filter", choice)


def set_treatment(project: Project, sheets: tuple[str, ...], name: str) -> Project:
    """Have sheets share a treatment, in every point."""
    if all(treatment.name != name for treatment in project.treatments):
        raise Refusal(f"There is no treatment called “{name}”.")
    return with_sheets(
        project, sheets, lambda s: replace(s, treatment=name, differences=type(s.differences)())
    )


def differing_points(sheet: Sheet) -> list[str]:
    """The names of the points in which a sheet departs from its treatment, in plain words."""
    points = {
        "pixels per unit": sheet.differences.pixels_per_unit,
        "filtering": sheet.differences.filter,
    }
    return [name for name, value in points.items() if value is not None]


def _differ(project: Project, sheets: tuple[str, ...], field: str, value: Any) -> Project:
    shared = {treatment.name: treatment for treatment in project.treatments}

    def edit(sheet: Sheet) -> Sheet:
        usual = getattr(shared.get(sheet.treatment, CRISP_PIXELS), field)
        own = None if value == usual else value
        return replace(sheet, differences=replace(sheet.differences, **{field: own}))

    return with_sheets(project, sheets, edit)
