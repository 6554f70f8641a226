"""The treatment of a sheet: what it shares with others, save where it differs."""

from __future__ import annotations

from dataclasses import fields, replace
from functools import lru_cache
from typing import Any

from rushweed.core.newest import for_newest_parts
from rushweed.core.project.project import Project
from rushweed.core.project.rules import CRISP_PIXELS, Differences, Treatment
from rushweed.core.project.sheet import Sheet

ALIKE = Differences()


def treatment_of(project: Project, sheet: Sheet) -> Treatment:
    """The choices that hold for a sheet: its treatment's, save where it differs."""
    return holding(project.treatments, sheet)


@for_newest_parts
def holding(treatments: tuple[Treatment, ...], sheet: Sheet) -> Treatment:
    """Which of some treatments holds for a sheet, with what differs in it."""
    shared = _named(treatments, sheet.treatment)
    return shared if sheet.differences == ALIKE else _differing(shared, sheet.differences)


@lru_cache(maxsize=256)
def _differing(shared: Treatment, differences: Differences) -> Treatment:
    return replace(shared, **differing(differences))


def differing(differences: Differences) -> dict[str, Any]:
    """The points in which a sheet differs, by their names."""
    told = {one.name: getattr(differences, one.name) for one in fields(Differences)}
    return {name: value for name, value in told.items() if value is not None}


def find_treatment(project: Project, name: str) -> Treatment:
    """The treatment of that name; *Crisp pixels* for one that is gone."""
    return _named(project.treatments, name)


def _named(treatments: tuple[Treatment, ...], name: str) -> Treatment:
    return next((t for t in treatments if t.name == name), CRISP_PIXELS)
