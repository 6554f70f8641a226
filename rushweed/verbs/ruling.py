"""`rules`: the ground rules of a project, shown and changed."""

from __future__ import annotations

import json
import re
from enum import StrEnum
from typing import Annotated, Any

import typer

from rushweed.core.gauge import consequences
from rushweed.core.project import files
from rushweed.core.project.ground_rules import choose_rules, rename_project
from rushweed.core.project.lock import ProjectLock
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules
from rushweed.core.values import Colour, Refusal, Size
from rushweed.core.words import say
from rushweed.verbs.shared import AsJson, ProjectFolder

SIZE = re.compile(r"^(\d+)(?: ?[x×] ?(\d+))?$")


class ViewName(StrEnum):
    """How new levels are seen."""

    side = "side"
    above = "above"


class Growth(StrEnum):
    """Which way y grows."""

    up = "up"
    down = "down"


PixelsPerUnit = Annotated[
    int | None, typer.Option("--pixels-per-unit", help="How many pixels make one unit.")
]
Tile = Annotated[str | None, typer.Option("--tile", help="Such as 32, or 40x30.")]
View = Annotated[ViewName | None, typer.Option("--view", help="How new levels are seen.")]
YGrows = Annotated[Growth | None, typer.Option("--y", help="Which way y grows.")]
Resolution = Annotated[
    str | None, typer.Option("--resolution", help="The game's picture, such as 1280x720.")
]
Background = Annotated[str | None, typer.Option("--background", help="A colour, such as #232035.")]


def show_rules(
    project: ProjectFolder,
    name: Annotated[str | None, typer.Option("--name", help="The project's name.")] = None,
    pixels_per_unit: PixelsPerUnit = None,
    tile: Tile = None,
    view: View = None,
    y: YGrows = None,
    resolution: Resolution = None,
    background: Background = None,
    as_json: AsJson = False,
) -> None:
    """Show a project's ground rules, after changing those that are given."""

    def ruled(loaded: Project) -> Project:
        changed = with_rules(loaded, pixels_per_unit, tile, view, y, resolution, background)
        return changed if name is None else rename_project(changed, name)

    loaded = files.load(project)
    changed = ruled(loaded)
    if changed is not loaded:
        lock = ProjectLock(project)
        try:
            changed = ruled(files.load(project))
            files.save(changed, project)
        finally:
            lock.release()
    if as_json:
        print(json.dumps(_as_told(changed), ensure_ascii=False))
    else:
        _print(changed)


def with_rules(
    project: Project,
    pixels_per_unit: int | None,
    tile: str | None,
    view: ViewName | None,
    y: Growth | None,
    resolution: str | None,
    background: str | None,
) -> Project:
    """The project with those ground rules that are given. Tiles of a new size are one unit wide,
    unless it is said otherwise. Raises Refusal for what makes no sense."""
    changes: dict[str, Any] = {}
    if tile is not None:
        changes["tile"] = size_of(tile, "--tile")
        changes["pixels_per_unit"] = changes["tile"].width
    if pixels_per_unit is not None:
        changes["pixels_per_unit"] = pixels_per_unit
    if view is not None:
        changes["view"] = "side" if view is ViewName.side else "top-down"
    if y is not None:
        changes["y_up"] = y is Growth.up
    if resolution is not None:
        changes["resolution"] = size_of(resolution, "--resolution")
    if background is not None:
        try:
            changes["background"] = Colour.parse(background)
        except ValueError as problem:
            raise Refusal(str(problem)) from problem
    return choose_rules(project, **changes) if changes else project


def size_of(text: str, option: str) -> Size:
    """A size such as “32” or “40x30”. Raises Refusal for anything else."""
    found = SIZE.match(text.strip())
    if found is None:
        raise Refusal(
            "{option} wants a size such as 32 or 40x30, not “{text}”.", option=option, text=text
        )
    width = int(found[1])
    return Size(width, int(found[2] or width))


def _as_told(project: Project) -> dict[str, Any]:
    rules: GroundRules = project.rules
    return {
        "name": project.name,
        "pixels_per_unit": rules.pixels_per_unit,
        "tile": list(rules.tile),
        "view": "side" if rules.view == "side" else "above",
        "y": "up" if rules.y_up else "down",
        "resolution": list(rules.resolution),
        "background": rules.background.hex,
        "chosen": rules.chosen,
    }


def _print(project: Project) -> None:
    rules = project.rules
    print(
        say(
            "{name}: {pixels_per_unit} px per unit, tiles of {tile} px",
            name=project.name,
            pixels_per_unit=rules.pixels_per_unit,
            tile=rules.tile,
        )
    )
    for sentence in (
        consequences.of_scale(project),
        consequences.of_tile(project),
        consequences.of_resolution(project),
        consequences.of_view(project),
        consequences.of_y(project),
    ):
        print(f"  {sentence}")
    said = consequences.of_art(project)
    if said is not None:
        print(f"  {said[1]}")
