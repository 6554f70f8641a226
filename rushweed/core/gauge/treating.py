"""Treatments: choices that sheets share, and the points in which a sheet differs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Any

from rushweed.core.project.ground_rules import (
    LARGEST_PIXELS_PER_UNIT,
    change_rules,
    is_painted,
)
from rushweed.core.project.named import TREATMENTS
from rushweed.core.project.project import Project, free_name, with_sheets
from rushweed.core.project.rules import CRISP_PIXELS, Differences, Filter, Treatment
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import ALIKE, differing, find_treatment, treatment_of
from rushweed.core.values import Refusal
from rushweed.core.words import said

MOST_PADDING = 64
WORDS = said(
    {
        "pixels_per_unit": "pixels per unit",
        "filter": "filtering",
        "mipmaps": "mipmaps",
        "compression": "compression",
        "multiplied": "multiplied alpha",
        "padding": "padding",
        "extrude": "repeated edges",
        "sides": "sides",
    }
)
"""The points of a treatment, in plain words."""


def set_pixels_per_unit(project: Project, sheets: tuple[str, ...], number: int) -> Project:
    """Give sheets that many pixels per unit. Where all sheets have it then, and nobody chose the
    ground rules, nor painted by them, these follow: there is no rest to differ from. Raises
    Refusal for what is no sensible number."""
    project = set_point(project, sheets, "pixels_per_unit", number)
    alike = all(treatment_of(project, sheet).pixels_per_unit == number for sheet in project.sheets)
    if not alike or not project.sheets or project.rules.chosen or is_painted(project):
        return project
    return change_rules(project, pixels_per_unit=number)


def set_filter(project: Project, sheets: tuple[str, ...], choice: Filter) -> Project:
    """Have sheets drawn with nearest or linear sampling."""
    return set_point(project, sheets, "filter", choice)


def set_point(project: Project, sheets: tuple[str, ...], point: str, value: Any) -> Project:
    """Have sheets differ in one point from their treatments, or not where those say the same.

    Raises Refusal for a value that makes no sense, and leaves everything as it was.
    """
    check_point(point, value)

    def edit(sheet: Sheet) -> Sheet:
        usual = getattr(find_treatment(project, sheet.treatment), point)
        own = None if value == usual else value
        return replace(sheet, differences=_changed(sheet.differences, point, own))

    return with_sheets(project, sheets, edit)


@lru_cache(maxsize=256, typed=True)
def _changed(differences: Differences, point: str, value: Any) -> Differences:
    """The same with another value of one point; one object for all sheets that are alike."""
    return replace(differences, **{point: value})


def share_differences(project: Project, sheet: str) -> Project:
    """Make what a sheet has of its own a part of its treatment."""
    found = project.sheet(sheet)
    own = differing(found.differences)
    project = _with_treatment(project, found.treatment, lambda old: replace(old, **own))
    return with_sheets(project, (sheet,), lambda s: replace(s, differences=ALIKE))


def drop_differences(project: Project, sheets: tuple[str, ...]) -> Project:
    """Have sheets follow their treatments in every point again."""
    return with_sheets(project, sheets, lambda s: replace(s, differences=ALIKE))


def add_treatment(project: Project, wanted: str, sheets: tuple[str, ...]) -> tuple[Project, str]:
    """A new treatment with the choices of the first of these sheets, which then all share it;
    and the name it got."""
    taken = {treatment.name for treatment in project.treatments}
    name = free_name(wanted.strip() or "Treatment", taken)
    base = treatment_of(project, project.sheet(sheets[0])) if sheets else CRISP_PIXELS
    added = replace(project, treatments=(*project.treatments, replace(base, name=name)))
    return set_treatment(added, sheets, name), name


def rename_treatment(project: Project, name: str, wanted: str) -> Project:
    """Give a treatment another name. Raises Refusal for an empty one or another's."""
    return TREATMENTS.renamed(project, name, wanted)


def remove_treatment(project: Project, name: str) -> Project:
    """Take away a treatment. Sheets that shared it share the first of the others, and differ from
    it so that all of them are treated as before. Raises Refusal for the only one."""
    kept = tuple(treatment for treatment in project.treatments if treatment.name != name)
    if not kept:
        raise Refusal("A project needs a treatment. Make another one first.")
    first = kept[0]

    def edit(sheet: Sheet) -> Sheet:
        held = treatment_of(project, sheet)
        points = {point: getattr(held, point) for point in WORDS}
        own = {point: one for point, one in points.items() if one != getattr(first, point)}
        return replace(sheet, treatment=first.name, differences=Differences(**own))

    users = tuple(sheet.name for sheet in project.sheets if sheet.treatment == name)
    return replace(with_sheets(project, users, edit), treatments=kept)


def unused_treatments(project: Project) -> list[str]:
    """The names of treatments that no sheet shares, but one where else none would be left."""
    used = {sheet.treatment for sheet in project.sheets}
    unused = [one.name for one in project.treatments if one.name not in used]
    return unused if len(unused) < len(project.treatments) else unused[1:]


def set_treatment(project: Project, sheets: tuple[str, ...], name: str) -> Project:
    """Have sheets share a treatment, in every point."""
    if all(treatment.name != name for treatment in project.treatments):
        raise Refusal("There is no treatment called “{name}”.", name=name)
    return with_sheets(project, sheets, lambda s: replace(s, treatment=name, differences=ALIKE))


def differing_points(sheet: Sheet) -> list[str]:
    """The names of the points in which a sheet departs from its treatment, in plain words."""
    return [WORDS[name] for name in differing(sheet.differences)]


def check_point(point: str, value: Any) -> None:
    """Raise Refusal for a value that a point of a treatment cannot have."""
    if point == "pixels_per_unit" and not 1 <= value <= LARGEST_PIXELS_PER_UNIT:
        raise Refusal(
            "Pixels per unit is a whole number from 1 to {largest_pixels_per_unit}.",
            largest_pixels_per_unit=LARGEST_PIXELS_PER_UNIT,
        )
    if point in ("padding", "extrude") and not 0 <= value <= MOST_PADDING:
        raise Refusal(
            "Space around pieces is from 0 to {most_padding} px.", most_padding=MOST_PADDING
        )
    if point == "compression":
        if not 2 <= value.colours <= 256:
            raise Refusal("A palette has from 2 to 256 colours.")
        if not 1 <= value.quality <= 100:
            raise Refusal("Quality is from 1 to 100.")


def _with_treatment(project: Project, name: str, edit: Callable[[Treatment], Treatment]) -> Project:
    if all(treatment.name != name for treatment in project.treatments):
        raise Refusal("There is no treatment called “{name}”.", name=name)
    edited = tuple(edit(t) if t.name == name else t for t in project.treatments)
    return replace(project, treatments=edited)
