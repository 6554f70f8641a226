"""What the art says about the ground rules: how large its tiles are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable
from typing import Any

from rushweed.core.project.ground_rules import can_be_tile, change_rules, choose_rules, is_painted
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules
from rushweed.core.project.sheet import EvenCells, Sheet
from rushweed.core.values import Size

RESOLUTIONS = tuple(
    Size(*sides)
    for sides in (
        *((160, 144), (256, 144), (320, 180), (480, 270)),
        *((640, 360), (960, 540), (1280, 720), (1920, 1080)),
    )
)
"""Usual resolutions of games, from small to large."""
FEWEST_ACROSS, ACROSS, MOST_ACROSS = 12, 20, 40
"""Tiles that are seen side by side: at least, as a rule, and at most."""


def follow_art(project: Project, names: Collection[str]) -> Project:
    """Ground rules for the tiles of these sheets, which were cut just now: as long as nobody chose
    them and nothing is painted, they are what most tilesets are drawn for; of as many the first."""
    told = any(tile_of(sheet) for sheet in project.sheets if sheet.name in names)
    if project.rules.chosen or is_painted(project) or not told:
        return project
    sizes = tile_sizes(project.sheets)
    (first, most), *_ = sizes.most_common(1)
    now = project.rules.tile
    return with_tile(project, now if sizes[now] == most else first)


def follow_brush(project: Project, number: int) -> Project:
    """Ground rules for the first tile that somebody takes to paint with, where no tileset and
    nobody spoke before."""
    found = project.find(number)
    if project.rules.chosen or is_painted(project) or found is None:
        return project
    sheet = found[0]
    if any(tile_of(other) for other in project.sheets):
        return project
    cell = _cell_of(sheet)
    return with_tile(project, cell) if cell else project


def choose_tile(project: Project, tile: Size) -> Project:
    """The project with tiles of that size because somebody said so."""
    return choose_rules(project, **_rules_for(project, tile))


def with_tile(project: Project, tile: Size) -> Project:
    """The project with tiles of that size, one unit wide each."""
    return change_rules(project, **_rules_for(project, tile))


def _rules_for(project: Project, tile: Size) -> dict[str, Any]:
    """Rules for tiles of that size. The game's picture follows as long as nobody set it, so that
    neither a handful of tiles nor a crowd of them is seen."""
    rules: dict[str, Any] = {"tile": tile, "pixels_per_unit": tile.width}
    if project.rules.resolution in (GroundRules().resolution, resolution_for(project.rules.tile)):
        rules["resolution"] = resolution_for(tile)
    return rules


def resolution_for(tile: Size) -> Size:
    """The usual picture of a game for tiles of a size: as it is where it shows a fair number of
    them, else that of the usual ones that shows about twenty side by side."""
    usual = GroundRules().resolution
    if FEWEST_ACROSS <= usual.width / tile.width <= MOST_ACROSS:
        return usual
    return min(RESOLUTIONS, key=lambda size: abs(size.width / tile.width - ACROSS))


def tile_of(sheet: Sheet) -> Size | None:
    """How large the tiles of a sheet are; None where it is no tileset, not cut, or into cells that
    are larger than any tile."""
    return _cell_of(sheet) if sheet.kind == "tileset" and sheet.pieces else None


def _cell_of(sheet: Sheet) -> Size | None:
    if not isinstance(sheet.layout, EvenCells) or not can_be_tile(sheet.layout.cell):
        return None
    return sheet.layout.cell


def tile_words(tile: Size) -> str:
    """“32” for square tiles, “40 × 30” for others."""
    return str(tile.width) if tile.width == tile.height else str(tile)


def tile_sizes(sheets: Iterable[Sheet]) -> Counter[Size]:
    """How many of the sheets have tiles of each size, the first ones first."""
    return Counter(size for sheet in sheets if (size := tile_of(sheet)) is not None)
