"""Adding and changing levels and their layers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from rushweed.core.cut.cutting import without_lost_frames
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, free_name, with_level, with_sheets
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Rect, Refusal


def add_level(project: Project, name: str = "Level") -> tuple[Project, str]:
    """A new, empty level with one layer. Returns the project and the level's name."""
    name = free_name(name, {level.name for level in project.levels})
    level = Level(name, (Layer("Ground"),), view=project.rules.view)
    return replace(project, levels=(*project.levels, level)), name


def with_layer(project: Project, level: str, index: int, edit: Callable[[Layer], Layer]) -> Project:
    """The project with one layer of a level edited; layers count from the back."""

    def edit_level(old: Level) -> Level:
        new = edit(old.layers[index])
        if new is old.layers[index]:
            return old
        return replace(old, layers=(*old.layers[:index], new, *old.layers[index + 1 :]))

    return with_level(project, level, edit_level)


def show_layer(project: Project, level: str, index: int, visible: bool) -> Project:
    """Show or hide a layer."""
    return with_layer(project, level, index, lambda layer: replace(layer, visible=visible))


def set_cells(project: Project, level: str, index: int, cells: Cells) -> Project:
    """Give a layer its painted cells. Raises Refusal when the layer is locked."""
    layer = project.level(level).layers[index]
    if layer.locked:
        raise Refusal(f"The layer “{layer.name}” is locked. Unlock it to paint on it.")
    if cells is layer.cells:
        return project
    return with_layer(project, level, index, lambda old: replace(old, cells=cells))


def set_start(project: Project, level: str, start: Point) -> Project:
    """Say where the walker's feet begin, in pixels of the level."""
    return with_level(project, level, lambda old: replace(old, start=start))


def let_go(project: Project, numbers: frozenset[int]) -> Project:
    """Forget missing pieces, and rub them out of animations and levels."""

    def forget(sheet: Sheet) -> Sheet:
        kept = tuple(gone for gone in sheet.missing if gone.piece.number not in numbers)
        if len(kept) == len(sheet.missing):
            return sheet
        return without_lost_frames(replace(sheet, missing=kept))

    def rub_out(layer: Layer) -> Layer:
        cells = layer.cells
        if cells.used() & numbers:
            cells = cells.painted(dict.fromkeys(cells.places_of(numbers), (0, 0)))
        props = tuple(prop for prop in layer.props if prop.piece not in numbers)
        return replace(layer, cells=cells, props=props)

    project = with_sheets(project, tuple(sheet.name for sheet in project.sheets), forget)
    for level in project.levels:
        if any(layer_uses(layer, numbers) for layer in level.layers):
            layers = tuple(rub_out(layer) for layer in level.layers)
            project = with_level(project, level.name, partial(replace, layers=layers))
    return project


def layer_uses(layer: Layer, numbers: frozenset[int]) -> bool:
    """Whether pieces of those numbers stand on a layer."""
    return bool(layer.cells.used() & numbers) or any(p.piece in numbers for p in layer.props)


def main_layer(level: Level) -> int:
    """The layer one most likely wants to paint on: the one with the most tiles, not locked."""
    layers = enumerate(level.layers)
    return max(layers, key=lambda pair: (not pair[1].locked, pair[1].cells.count()))[0]


def bounds(level: Level) -> Rect:
    """The smallest rectangle of cells around all that is painted in a level."""
    area = Rect(0, 0, 0, 0)
    for layer in level.layers:
        area = area.union(layer.cells.bounds())
    return area
