"""Letting pieces and whole sheets go, from everything that uses them."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import replace
from functools import partial

from rushweed.core.cut.cutting import without_lost_frames
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, with_level, with_sheets
from rushweed.core.project.references import Reference, renamed
from rushweed.core.project.sheet import Sheet
from rushweed.core.weave.finishing import finished
from rushweed.core.words import say


def let_go(project: Project, numbers: frozenset[int]) -> Project:
    """Forget missing pieces, and rub them out of animations, levels, hems, patches and mixes."""

    def forget(sheet: Sheet) -> Sheet:
        kept = tuple(gone for gone in sheet.missing if gone.piece.number not in numbers)
        if len(kept) == len(sheet.missing):
            return sheet
        return without_lost_frames(replace(sheet, missing=kept))

    project = with_sheets(project, tuple(sheet.name for sheet in project.sheets), forget)
    project = without_in_sets(project, numbers)
    for level in project.levels:
        if any(layer_uses(layer, numbers) for layer in level.layers):
            layers = tuple(_rubbed_out(project, level, layer, numbers) for layer in level.layers)
            project = with_level(project, level.name, partial(replace, layers=layers))
    return project


def remove_sheets(project: Project, names: Collection[str]) -> Project:
    """The project without some sheets: their pieces are rubbed out wherever they are used, sheets
    that belong to them stand alone, and a walker shown by one is a plain figure."""
    numbers = numbers_of(project, names)
    kept = tuple(sheet for sheet in project.sheets if sheet.name not in names)
    project = replace(let_go(project, numbers), sheets=kept)
    for name in names:
        project = renamed(project, Reference("sheet", name))
    return project


def numbers_of(project: Project, names: Collection[str]) -> frozenset[int]:
    """Every piece that some sheets have or had."""
    found: set[int] = set()
    for sheet in project.sheets:
        if sheet.name in names:
            found |= {piece.number for piece in (*sheet.pieces, *sheet.earlier)}
            found |= {gone.piece.number for gone in sheet.missing}
    return frozenset(found)


def uses_of(project: Project, numbers: frozenset[int]) -> list[str]:
    """What uses pieces of those numbers, in words: levels, hems, patches, mixes."""
    return [
        *(level.name for level in project.levels if _in_level(level.layers, numbers)),
        *_in_sets(project, numbers),
    ]


def layer_uses(layer: Layer, numbers: frozenset[int]) -> bool:
    """Whether pieces of those numbers stand on a layer."""
    return bool(layer.cells.used() & numbers) or any(p.piece in numbers for p in layer.props)


def _in_level(layers: Collection[Layer], numbers: frozenset[int]) -> bool:
    return any(layer_uses(layer, numbers) for layer in layers)


def _in_sets(project: Project, numbers: frozenset[int]) -> Iterator[str]:
    for hem in project.hems:
        if any(tile.piece in numbers for tile in hem.tiles):
            yield say("the hem {name}", name=hem.name)
    for patch in project.patches:
        if any(number in numbers for row in patch.rows for number, _ in row):
            yield say("the patch {name}", name=patch.name)
    for mix in project.mixes:
        if any(number in numbers for number, _ in mix.tiles):
            yield say("the mix {name}", name=mix.name)


def without_pieces(layer: Layer, numbers: frozenset[int]) -> Layer:
    """A layer with pieces rubbed out, and their props taken away."""
    cells = layer.cells
    if cells.used() & numbers:
        cells = cells.painted(dict.fromkeys(cells.places_of(numbers), (0, 0)))
    props = tuple(prop for prop in layer.props if prop.piece not in numbers)
    return replace(layer, cells=cells, props=props)


def _rubbed_out(project: Project, level: Level, layer: Layer, numbers: frozenset[int]) -> Layer:
    new = without_pieces(layer, numbers)
    return replace(new, cells=finished(project, level, layer.cells, new.cells))


def without_in_sets(project: Project, numbers: frozenset[int]) -> Project:
    """The project without pieces in its hems, patches and mixes."""
    if not any(_in_sets(project, numbers)):
        return project
    hems = (
        replace(hem, tiles=tuple(tile for tile in hem.tiles if tile.piece not in numbers))
        for hem in project.hems
    )
    patches = (
        replace(
            patch,
            rows=tuple(
                tuple((0, 0) if cell[0] in numbers else cell for cell in row) for row in patch.rows
            ),
        )
        for patch in project.patches
    )
    mixes = (
        replace(mix, tiles=tuple(pair for pair in mix.tiles if pair[0] not in numbers))
        for mix in project.mixes
    )
    return replace(
        project,
        hems=tuple(hems),
        patches=tuple(p for p in patches if any(n for row in p.rows for n, _ in row)),
        mixes=tuple(mix for mix in mixes if mix.tiles),
    )
