"""What refers to something by its name: the one list of such fields.

Renaming and taking away follow it, findings look through it for what is not there any more, and a
test compares it with all fields that hold a text.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import fields, replace
from functools import partial
from typing import Literal, NamedTuple

from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.figure import Figure
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, mapped
from rushweed.core.project.rules import Recipe, States, Walker
from rushweed.core.project.sheet import Sheet

Kind = Literal["sheet", "level", "animation", "treatment", "hem"]


class Reference(NamedTuple):
    """A name that something is referred to by; an animation's with the name of its sheet."""

    kind: Kind
    name: str
    sheet: str = ""


FIELDS: dict[tuple[type, str], Kind] = {
    (Sheet, "treatment"): "treatment",
    (Prop, "animation"): "animation",
    (Hem, "meets"): "hem",
    (Walker, "figure"): "sheet",
    (Figure, "sheets"): "sheet",
    **{(States, field.name): "animation" for field in fields(States)},
    (Recipe, "only_sheets"): "sheet",
    (Recipe, "only_levels"): "level",
}
"""The fields that hold names of other things. A walker's may be that of a figure of several sheets,
which goes once none of these is left. What a sheet belongs to is held by its `belongs`."""
Follow = Callable[[Reference], Sequence[str]]
"""What a reference becomes: no name where it is dropped, or one; in a list it may be several."""


def followed(project: Project, follow: Follow) -> Project:
    """The project with every reference as `follow` says; what it changes nothing of is the same
    object."""
    edit_level = partial(_level, follow, _sheet_of(project))
    figures = mapped(project.figures, partial(_figure, follow))
    if not all(figure.sheets for figure in figures):  # nothing shows it any more
        figures = tuple(figure for figure in figures if figure.sheets)
    return replace(
        project,
        walker=_walker(follow, project, {figure.name for figure in figures}),
        figures=figures,
        recipes=mapped(project.recipes, partial(_recipe, follow)),
        sheets=mapped(project.sheets, partial(_sheet, follow)),
        hems=mapped(project.hems, partial(_hem, follow)),
        levels=mapped(project.levels, edit_level),
    )


def _sheet_of(project: Project) -> dict[int, str]:
    """The sheet of each piece, of those too that may come back to it."""
    found: dict[int, str] = {}
    for sheet in project.sheets:
        waiting = (*sheet.earlier, *(missing.piece for missing in sheet.missing))
        found |= {piece.number: sheet.name for piece in waiting}
    return found | {piece.number: sheet.name for sheet, piece in project.pieces()}


def renamed(project: Project, old: Reference, *new: str) -> Project:
    """The project with all that refers to something by its old name referring to it by the new one;
    without any, to nothing; with several, to each of them where that can be."""
    return followed(project, lambda one: new if one == old else (one.name,))


def without_gone_animations(before: Project, after: Project) -> Project:
    """The later of two versions, in which what referred to animations that went since refers to
    nothing. Who renames one has followed it already."""
    if before.sheets is after.sheets:
        return after
    old = {sheet.name: sheet for sheet in before.sheets}
    for sheet in after.sheets:
        was = old.get(sheet.name, sheet)
        if was.animations is not sheet.animations:
            here = {animation.name for animation in sheet.animations}
            for gone in {animation.name for animation in was.animations} - here:
                after = renamed(after, Reference("animation", gone, sheet.name))
    return after


def lost_references(project: Project) -> Iterator[Reference]:
    """Every reference to what is not there, each once."""
    known: set[Reference] = {Reference("hem", hem.name) for hem in project.hems}
    known |= {Reference("level", level.name) for level in project.levels}
    known |= {Reference("treatment", one.name) for one in project.treatments}
    for sheet in project.sheets:
        known.add(Reference("sheet", sheet.name))
        known |= {Reference("animation", one.name, sheet.name) for one in sheet.animations}
    shown_in = {sheet: figure.name for figure in project.figures for sheet in figure.sheets}
    found: dict[tuple[Kind, str, str], Reference] = {}

    def look(reference: Reference) -> Sequence[str]:
        if reference not in known:
            kind, name, sheet = reference
            found.setdefault((kind, name, shown_in.get(sheet, sheet)), reference)
        return (reference.name,)

    followed(project, look)
    yield from found.values()


def _one(follow: Follow, kind: Kind, name: str, sheet: str = "") -> str:
    """A name that one thing is referred to by; an empty one refers to nothing."""
    return next(iter(follow(Reference(kind, name, sheet))), "") if name else ""


def _many(follow: Follow, kind: Kind, names: tuple[str, ...]) -> tuple[str, ...]:
    new = (name for old in names for name in follow(Reference(kind, old)))
    return tuple(dict.fromkeys(new))


def _walker(follow: Follow, project: Project, left: Collection[str]) -> Walker:
    """The walker with its figure, if that is one of those left, and the animations of its states,
    which may be called otherwise in a figure of several sheets than on their own."""
    walker = project.walker
    if not walker.figure:
        return walker
    cast = project.cast(walker.figure)

    def state(name: str) -> str:
        """An animation's new name; of one that is not there any more, on any of the sheets."""
        sheets = [sheet.name for sheet in cast.sheets] if cast else [walker.figure]
        origin = cast.origins.get(name) if cast else None
        for sheet, own in [origin] if origin else [(sheet, name) for sheet in sheets]:
            new = _one(follow, "animation", own, sheet)
            if new != own:
                return new
        return name

    names = {field.name: state(getattr(walker.states, field.name)) for field in fields(States)}
    states = replace(walker.states, **names)
    if any(one.name == walker.figure for one in project.figures):
        figure = walker.figure if walker.figure in left else ""
    else:
        figure = _one(follow, "sheet", walker.figure)
    same = states == walker.states and figure == walker.figure
    return walker if same else replace(walker, figure=figure, states=states)


def _figure(follow: Follow, figure: Figure) -> Figure:
    sheets = _many(follow, "sheet", figure.sheets)
    return figure if sheets == figure.sheets else replace(figure, sheets=sheets)


def _recipe(follow: Follow, recipe: Recipe) -> Recipe:
    sheets = _many(follow, "sheet", recipe.only_sheets)
    levels = _many(follow, "level", recipe.only_levels)
    same = (sheets, levels) == (recipe.only_sheets, recipe.only_levels)
    return recipe if same else replace(recipe, only_sheets=sheets, only_levels=levels)


def _sheet(follow: Follow, sheet: Sheet) -> Sheet:
    treatment = _one(follow, "treatment", sheet.treatment)
    if treatment != sheet.treatment:
        sheet = replace(sheet, treatment=treatment)
    if sheet.belongs is None:
        return sheet
    to = _one(follow, "sheet", sheet.belongs.to)
    if not to:
        return replace(sheet, belongs=None, recoloured=None)
    return (
        sheet if to == sheet.belongs.to else replace(sheet, belongs=replace(sheet.belongs, to=to))
    )


def _hem(follow: Follow, hem: Hem) -> Hem:
    meets = _many(follow, "hem", hem.meets)
    return hem if meets == hem.meets else replace(hem, meets=meets)


def _level(follow: Follow, sheet_of: dict[int, str], level: Level) -> Level:
    def prop(old: Prop) -> Prop:
        if not old.animation or old.piece not in sheet_of:
            return old  # of a piece that was let go; it comes back with it
        name = _one(follow, "animation", old.animation, sheet_of[old.piece])
        return old if name == old.animation else replace(old, animation=name)

    def layer(old: Layer) -> Layer:
        props = mapped(old.props, prop)
        return old if props is old.props else replace(old, props=props)

    layers = mapped(level.layers, layer)
    return level if layers is level.layers else replace(level, layers=layers)
