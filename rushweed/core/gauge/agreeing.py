"""Bringing sheets to one pixel size."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.gauge.units import figure, units
from rushweed.core.project.ground_rules import LARGEST_PIXELS_PER_UNIT
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Refusal
from rushweed.core.words import say


@dataclass(frozen=True, slots=True)
class Agreement:
    """What a sheet would change to: its pixels per unit, and how much larger it then stands."""

    sheet: str
    own: int
    wanted: int

    @property
    def factor(self) -> float:
        return self.own / self.wanted

    @property
    def words(self) -> str:
        """“crab: 8 to 16 px per unit, half as large”."""
        size = {2.0: say("twice as large"), 0.5: say("half as large")}.get(
            self.factor, say("{figure} × as large", figure=figure(self.factor))
        )
        return say(
            "{sheet}: {own} to {wanted} px per unit, {size}",
            sheet=self.sheet,
            own=self.own,
            wanted=self.wanted,
            size=size,
        )


def pixel_sizes(project: Project) -> dict[int, tuple[str, ...]]:
    """The sheets by their pixels per unit, the number that most share first. Sheets that are not
    cut yet do not count."""
    found: dict[int, tuple[str, ...]] = {}
    for sheet in project.sheets:
        if sheet.pieces:
            number = treatment_of(project, sheet).pixels_per_unit
            found[number] = (*found.get(number, ()), sheet.name)
    return dict(sorted(found.items(), key=lambda item: -len(item[1])))


def agreements(project: Project, sheets: list[Sheet]) -> list[Agreement]:
    """What would bring these sheets to the pixel size of the ground rules."""
    usual = project.rules.pixels_per_unit
    found = [(sheet.name, treatment_of(project, sheet).pixels_per_unit) for sheet in sheets]
    return [Agreement(name, own, usual) for name, own in found if own != usual]


def make_agree(project: Project, found: list[Agreement]) -> Project:
    """Give the sheets the pixel sizes that were proposed."""
    for agreement in found:
        project = set_pixels_per_unit(project, (agreement.sheet,), agreement.wanted)
    return project


def standing_height(project: Project, sheet: Sheet) -> float | None:
    """How many units high the first piece of a sheet stands; None without one."""
    if not sheet.pieces:
        return None
    return sheet.pieces[0].rect.height / treatment_of(project, sheet).pixels_per_unit


def set_standing_height(project: Project, sheets: tuple[str, ...], units: float) -> Project:
    """Give each sheet the whole number of pixels per unit at which its first piece comes nearest
    to that many units. Raises Refusal for no height."""
    if units <= 0:
        raise Refusal("A height is more than 0 units.")
    for name in sheets:
        sheet = project.sheet(name)
        if sheet.pieces:
            number = round(sheet.pieces[0].rect.height / units)
            number = min(max(number, 1), LARGEST_PIXELS_PER_UNIT)
            project = set_pixels_per_unit(project, (name,), number)
    return project


def height_sentence(project: Project, sheets: list[Sheet]) -> str:
    """“keeper stands 1.88 units high, 21 % of the game's picture.” for the first piece of the first
    sheet that is no tileset; else nothing."""
    for sheet in sheets:
        if sheet.pieces and sheet.kind != "tileset":
            number = treatment_of(project, sheet).pixels_per_unit
            high = sheet.pieces[0].rect.height / number
            seen = project.rules.resolution.height / project.rules.pixels_per_unit
            return say(
                "{name} stands {units} high, {share} % of the game's picture.",
                name=sheet.name,
                units=units(high),
                share=round(100 * high / seen),
            )
    return ""
