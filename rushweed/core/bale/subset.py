"""What of a project a recipe hands over, and whether that keeps to its budget."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import replace

from rushweed.core.bale.pages import Atlas
from rushweed.core.gauge.compression.texture import TextureForm, bytes_in_memory
from rushweed.core.project.figure import Figure
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, mapped, numbers_in, piece_index, used_numbers
from rushweed.core.project.rules import Recipe, Treatment
from rushweed.core.values import Refusal, Size
from rushweed.core.weave.letting_go import without_in_sets, without_pieces
from rushweed.core.words import say

KIB = 1024
PLAIN = ("PNG", "WebP")


def chosen_subset(project: Project, recipe: Recipe) -> Project:
    """The sheets and levels that a recipe names, with the sheets that those levels show; all, where
    it names none. What is left of a level shows no piece that is gone. Raises Refusal for a name
    that nothing has."""
    project = _without_gone(project)
    if not recipe.only_sheets and not recipe.only_levels:
        return project
    _refuse_unknown("sheet", recipe.only_sheets, [sheet.name for sheet in project.sheets])
    _refuse_unknown("level", recipe.only_levels, [level.name for level in project.levels])
    levels = tuple(level for level in project.levels if level.name in recipe.only_levels)
    shown = frozenset().union(*map(numbers_in, levels))
    cast = project.cast(project.walker.figure) if levels else None
    names = {*recipe.only_sheets, *(sheet.name for sheet in (cast.sheets if cast else ()))}
    names |= {sheet.name for sheet, piece in project.pieces() if piece.number in shown}
    for _ in range(2):  # another density's lies beside its sheet, and normal maps beside both
        names |= {s.name for s in project.sheets if s.belongs and s.belongs.to in names}
        names |= {s.belongs.to for s in project.sheets if s.belongs and s.name in names}
    sheets = tuple(sheet for sheet in project.sheets if sheet.name in names)
    kept = {piece.number for sheet in sheets for piece in sheet.pieces}
    return replace(
        project,
        sheets=sheets,
        levels=levels,
        hems=tuple(h for h in project.hems if all(t.piece in kept for t in h.tiles)),
        figures=_left_of(project.figures, names),
        mixes=tuple(m for m in project.mixes if all(number in kept for number, _ in m.tiles)),
    )


def _left_of(figures: Sequence[Figure], names: Collection[str]) -> tuple[Figure, ...]:
    """Figures with those of their sheets that go along."""
    left = (Figure(f.name, tuple(s for s in f.sheets if s in names)) for f in figures)
    return tuple(figure for figure in left if figure.sheets)


def _without_gone(project: Project) -> Project:
    """The project without what shows pieces that are gone: no reader of a bundle could draw it."""
    sets = {tile.piece for hem in project.hems for tile in hem.tiles}
    sets |= {number for mix in project.mixes for number, _ in mix.tiles}
    gone = (used_numbers(project) | sets) - piece_index(project).keys()
    if not gone:
        return project

    def rubbed_out(level: Level) -> Level:
        layers = tuple(without_pieces(layer, gone) for layer in level.layers)
        return replace(level, layers=layers) if gone & numbers_in(level) else level

    return without_in_sets(replace(project, levels=mapped(project.levels, rubbed_out)), gone)


def over_budget(recipe: Recipe, files: Mapping[str, bytes], atlas: Atlas) -> Iterator[str]:
    """In a sentence each, what of a bundle is more than its recipe allows."""
    size = sum(map(len, files.values())) / KIB
    if recipe.most_kib and size > recipe.most_kib:
        yield say(
            "The bundle takes {size:.0f} KiB, more than the {most_kib} it may.",
            size=size,
            most_kib=recipe.most_kib,
        )
    if recipe.most_pages and len(atlas.pages) > recipe.most_pages:
        yield say(
            "It has {count} pages, more than the {most_pages} it may.",
            count=len(atlas.pages),
            most_pages=recipe.most_pages,
        )
    memory = sum(_memory(recipe, page.treatment, page.plan.size) for page in atlas.pages) / KIB
    if recipe.most_memory and memory > recipe.most_memory:
        yield say(
            "Its pages take {memory:.0f} KiB of memory, more than {most_memory}.",
            memory=memory,
            most_memory=recipe.most_memory,
        )


def _memory(recipe: Recipe, treatment: Treatment, size: Size) -> int:
    """The bytes that a page takes in graphics memory at its largest density."""
    form = treatment.compression.form
    blocks = recipe.picture not in PLAIN and form in ("BC1", "BC3", "BC7")
    stored: TextureForm = form if blocks else "RGBA8"  # type: ignore[assignment]
    return bytes_in_memory(size, stored, treatment.mipmaps) * max(recipe.densities) ** 2


def _refuse_unknown(kind: str, wanted: tuple[str, ...], known: list[str]) -> None:
    for name in wanted:
        if name not in known:
            raise Refusal(
                "There is no {kind} “{name}” for this recipe. Name another one.",
                kind=kind,
                name=name,
            )
