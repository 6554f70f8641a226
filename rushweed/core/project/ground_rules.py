"""Changing the ground rules, and what goes along with them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rushweed.core.project.figure import cast_of
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules, Walker
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Refusal, Size

LARGEST_TILE = 1024
LARGEST_PIXELS_PER_UNIT = 4096
LARGEST_RESOLUTION = 4096
BODY = (10 / 16, 21 / 16)
"""The body of a walker without a figure, in units."""
BODY_IN_FIGURE = (10 / 19, 21 / 24)
"""How much of a figure's frame its body fills, across and down."""


def change_rules(project: Project, **changes: Any) -> Project:
    """The project with some of its ground rules changed, by the names of their fields.

    With another number of pixels per unit, treatments and sheets that had the old one go along,
    and the walker keeps its size in units. Places in levels stay where they are in pixels, but
    where the tile changes too they keep their place in units. Cells keep their tiles. Raises
    Refusal for a value that makes no sense.
    """
    old = project.rules
    new = replace(old, **changes)
    check_rules(new)
    if new == old:
        return project
    project = replace(project, rules=new)
    if new.pixels_per_unit == old.pixels_per_unit:
        return project
    project = _with_new_scale(project, old.pixels_per_unit, new.pixels_per_unit)
    if new.tile != old.tile:
        project = _with_places(project, new.pixels_per_unit / old.pixels_per_unit)
    return project


def choose_rules(project: Project, **changes: Any) -> Project:
    """Change ground rules because somebody said so: the art does not change them any more."""
    said = {"tile", "pixels_per_unit"} & changes.keys()
    return change_rules(project, **changes, **({"chosen": True} if said else {}))


def can_be_tile(size: Size) -> bool:
    """Whether cells of levels may be as large as that."""
    return min(size) >= 1 and max(size) <= LARGEST_TILE


def check_rules(rules: GroundRules) -> None:
    """Raise Refusal, with one sentence, for ground rules that cannot be."""
    if not 1 <= rules.pixels_per_unit <= LARGEST_PIXELS_PER_UNIT:
        raise Refusal(
            "Pixels per unit is a whole number from 1 to {largest_pixels_per_unit}.",
            largest_pixels_per_unit=LARGEST_PIXELS_PER_UNIT,
        )
    if not can_be_tile(rules.tile):
        raise Refusal(
            "A tile is from 1 to {largest_tile} px wide and high.", largest_tile=LARGEST_TILE
        )
    if min(rules.resolution) < 16 or max(rules.resolution) > LARGEST_RESOLUTION:
        raise Refusal(
            "The game's picture is from 16 to {largest_resolution} px wide and high.",
            largest_resolution=LARGEST_RESOLUTION,
        )


def rename_project(project: Project, name: str) -> Project:
    """Give the project another name. Raises Refusal for none."""
    if not name.strip():
        raise Refusal("A project needs a name. Type one.")
    return replace(project, name=name.strip())


def walker_body(project: Project) -> Size:
    """The body of the project's walker in pixels of its levels: as somebody said, else as its
    figure or the ground rules suggest."""
    walker = project.walker
    if walker.body is not None:
        return walker.body
    figure = cast_of(in_levels(project).sheets, project.figures, walker.figure)
    if figure is not None and figure.pieces:
        frame = figure.pieces[0]
        width, height = frame.rect.size
        stands = round(frame.pivot.y)  # what is below its feet is none of it
        tall = stands if 0 < stands < height else height
        return _part_of(Size(width, tall), BODY_IN_FIGURE)
    unit = project.rules.pixels_per_unit
    return _part_of(Size(unit, unit), BODY)


def _part_of(size: Size, shares: tuple[float, float]) -> Size:
    width, height = (max(1, round(side * share)) for side, share in zip(size, shares, strict=True))
    return Size(width, height)


def is_painted(project: Project) -> bool:
    """Whether anything was painted or placed in any level."""
    return any(
        layer.cells.chunks or layer.props for level in project.levels for layer in level.layers
    )


def _with_new_scale(project: Project, old: int, new: int) -> Project:
    treatments = tuple(
        replace(treatment, pixels_per_unit=new) if treatment.pixels_per_unit == old else treatment
        for treatment in project.treatments
    )

    def follow(sheet: Sheet) -> Sheet:
        if sheet.differences.pixels_per_unit != old:
            return sheet
        return replace(sheet, differences=replace(sheet.differences, pixels_per_unit=new))

    walker: Walker = project.walker
    if walker.body is not None:
        walker = replace(walker, body=_part_of(walker.body, (new / old, new / old)))
    return replace(
        project,
        treatments=treatments,
        sheets=tuple(map(follow, project.sheets)),
        walker=walker,
    )


def _with_places(project: Project, factor: float) -> Project:
    """All levels with the places of props, marks and start so many times as far from the origin."""

    def edit_layer(layer: Layer) -> Layer:
        props = tuple(replace(p, x=p.x * factor, y=p.y * factor) for p in layer.props)
        return replace(layer, props=props) if props else layer

    def edit(level: Level) -> Level:
        start = level.start and Point(level.start.x * factor, level.start.y * factor)
        return replace(
            level,
            layers=tuple(map(edit_layer, level.layers)),
            marks=tuple(replace(m, x=m.x * factor, y=m.y * factor) for m in level.marks),
            start=start,
        )

    return replace(project, levels=tuple(map(edit, project.levels)))
