"""Adding and changing levels and their layers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level, bounds
from rushweed.core.project.named import LEVELS
from rushweed.core.project.project import Project, free_name, with_level
from rushweed.core.project.rules import View
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.finishing import finished_along
from rushweed.core.weave.painting import cropped, spread


def add_level(
    project: Project, name: str = "Level", view: View | None = None
) -> tuple[Project, str]:
    """A new, empty level with one layer, seen as levels begin where no `view` is told; the first
    one says how they begin. Returns the project and the level's name."""
    name = free_name(name, {level.name for level in project.levels})
    level = Level(name, (Layer("Ground"),), view=view or project.rules.view)
    if not project.levels and level.view != project.rules.view:
        project = replace(project, rules=replace(project.rules, view=level.view))
    return replace(project, levels=(*project.levels, level)), name


def rename_level(project: Project, name: str, new: str) -> Project:
    """Give a level another name. Raises Refusal for a name that is empty or taken."""
    return LEVELS.renamed(project, name, new)


def remove_level(project: Project, name: str) -> Project:
    """The project without a level."""
    return LEVELS.without(project, name)


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


def painted_layer(level: Level, index: int) -> Layer:
    """The layer of a level that is painted on. Raises Refusal when it is locked or gone."""
    if index >= len(level.layers):
        raise Refusal("The layer is not there any more. Choose another one.")
    layer = level.layers[index]
    if layer.locked:
        raise Refusal("The layer “{name}” is locked. Unlock it to paint on it.", name=layer.name)
    return layer


def set_cells(project: Project, level: str, index: int, cells: Cells) -> Project:
    """Give a layer its painted cells. Raises Refusal when it is locked or gone."""
    layer = painted_layer(project.level(level), index)
    if cells is layer.cells:
        return project
    return with_layer(project, level, index, lambda old: replace(old, cells=cells))


def set_start(project: Project, level: str, start: Point) -> Project:
    """Say where the walker's feet begin, in pixels of the level."""
    return with_level(project, level, lambda old: replace(old, start=start))


def main_layer(level: Level) -> int:
    """The layer one most likely wants to paint on: the one with the most tiles, not locked."""
    layers = enumerate(level.layers)
    return max(layers, key=lambda pair: (not pair[1].locked, pair[1].cells.count()))[0]


def lies_behind_ground(level: Level, index: int) -> bool:
    """Whether what is put in front of the layer at `index` lies behind the ground of a level that
    is seen from the side."""
    ground = ground_layer(level)
    return level.view == "side" and ground is not None and index < ground


def ground_layer(level: Level) -> int | None:
    """The layer with the most tiles that stop walkers; None where no such layer has any."""
    tiles = {at: one.cells.count() for at, one in enumerate(level.layers) if one.stops}
    ground = max(tiles, key=lambda at: tiles[at], default=None)
    return ground if ground is not None and tiles[ground] else None


# -- layers ----------------------------------------------------------------------------


def add_layer(project: Project, level: str, index: int, name: str = "Layer") -> Project:
    """Put an empty layer in front of the one at `index`. Behind the ground it stops nobody: a wall
    of a room walls nobody in, until that is said."""

    def edit(old: Level) -> Level:
        solid = not lies_behind_ground(old, index)
        layer = Layer(free_name(name, {one.name for one in old.layers}), solid=solid)
        return replace(old, layers=(*old.layers[: index + 1], layer, *old.layers[index + 1 :]))

    return with_level(project, level, edit)


def remove_layer(project: Project, level: str, index: int) -> Project:
    """Take a layer away. Raises Refusal for the last one."""

    def edit(old: Level) -> Level:
        if len(old.layers) == 1:
            raise Refusal("A level needs at least one layer. Add another one first.")
        return replace(old, layers=(*old.layers[:index], *old.layers[index + 1 :]))

    return with_level(project, level, edit)


def move_layer(project: Project, level: str, index: int, to: int) -> Project:
    """Put a layer at another place in the order."""

    def edit(old: Level) -> Level:
        layers = list(old.layers)
        layer = layers.pop(index)
        layers.insert(min(max(to, 0), len(layers)), layer)
        return old if tuple(layers) == old.layers else replace(old, layers=tuple(layers))

    return with_level(project, level, edit)


def change_layer(project: Project, level: str, index: int, **changes: object) -> Project:
    """Set a layer's name, opacity, tint, parallax factor, group, or whether it is seen or locked.
    Raises Refusal for a name that is empty or taken."""
    name = changes.get("name")
    if name is not None:
        others = {one.name for i, one in enumerate(project.level(level).layers) if i != index}
        if not str(name).strip():
            raise Refusal("A layer needs a name. Type one.")
        if name in others:
            raise Refusal(
                "There is a layer called “{name}” already. Choose another name.", name=name
            )
    return with_layer(project, level, index, lambda old: replace(old, **changes))  # type: ignore[arg-type]


# -- the whole level ------------------------------------------------------------------------


def spread_level(project: Project, level: str, at: int, count: int, rows: bool) -> Project:
    """Put empty rows (or columns) into all layers that move with the level, before row (or
    column) `at`; take that many away from there for a negative count. Props, marks and the start
    behind them go along."""
    tile = project.rules.tile
    size = tile.height if rows else tile.width

    def shifted_place(x: float, y: float) -> Point:
        place = y if rows else x
        if place < at * size:
            return Point(x, y)
        place = max(place + count * size, at * size)
        return Point(x, place) if rows else Point(place, y)

    def edit_layer(layer: Layer) -> Layer:
        if layer.parallax != 1:
            return layer
        moved = (shifted_place(prop.x, prop.y) for prop in layer.props)
        pairs = zip(layer.props, moved, strict=True)
        props = tuple(replace(prop, x=place.x, y=place.y) for prop, place in pairs)
        return replace(layer, cells=spread(layer.cells, at, count, rows), props=props)

    def edit(old: Level) -> Level:
        start = shifted_place(*old.start) if old.start else None
        marks = tuple(
            replace(mark, x=place.x, y=place.y)
            for mark in old.marks
            for place in (shifted_place(mark.x, mark.y),)
        )
        layers = tuple(map(edit_layer, old.layers))
        wide = replace(old, layers=layers, start=start, marks=marks)
        ends = (_band(bounds(wide), place, rows) for place in (at - 1, at + max(count, 0)))
        return _seamed(project, wide, tuple(ends))

    return with_level(project, level, edit)


def crop_level(project: Project, level: str, area: Rect) -> Project:
    """Keep only the cells, and the props that stand, inside of an area of cells. Raises Refusal
    for an area of none."""
    if not area.area:
        raise Refusal("Select an area of the level first, then cut it to size.")
    width, height = project.rules.tile
    inside = Rect(area.x * width, area.y * height, area.width * width, area.height * height)

    def edit_layer(layer: Layer) -> Layer:
        if layer.parallax != 1:
            return layer
        props = tuple(p for p in layer.props if inside.contains(int(p.x // 1), int(p.y // 1)))
        return replace(layer, cells=cropped(layer.cells, area), props=props)

    def edit(old: Level) -> Level:
        small = replace(old, layers=tuple(map(edit_layer, old.layers)))
        rows = (_band(area, row, True) for row in (area.y, area.bottom - 1))
        columns = (_band(area, column, False) for column in (area.x, area.right - 1))
        return _seamed(project, small, (*rows, *columns))

    return with_level(project, level, edit)


def _band(area: Rect, place: int, rows: bool) -> Rect:
    """One row of an area, or one column."""
    if rows:
        return Rect(area.x, place, area.width, 1)
    return Rect(place, area.y, 1, area.height)


def _seamed(project: Project, level: Level, seams: tuple[Rect, ...]) -> Level:
    """A level whose layers were cut or joined along some rows and columns, with hems finished
    there."""

    def edit_layer(layer: Layer) -> Layer:
        if layer.parallax != 1:
            return layer
        return replace(layer, cells=finished_along(project, level, layer.cells, seams))

    return replace(level, layers=tuple(map(edit_layer, level.layers)))
