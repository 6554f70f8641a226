"""Recipes: which one, and all that it says."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import pyqtSignal

from rushweed.core.bale.subset import chosen_subset
from rushweed.core.project.project import Project, free_name
from rushweed.core.project.rules import PictureForm, Recipe, Sides
from rushweed.core.values import Refusal
from rushweed.core.words import said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindable, Bindings
from rushweed.ui.shell.controls import Check, Chips, Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper

FORMS: dict[PictureForm, str] = {"PNG": "PNG", "WebP": "WebP", "KTX 2": "KTX 2", "DDS": "DDS"}
SIDES: dict[Sides, str] = {
    "any": "Any",
    "multiple of four": "Of four",
    "power of two": "Powers of 2",
}
AXES = {False: "y down", True: "y up"}
UNITS = {"pixels": "pixels", "units": "units"}
ROWS = {"runs": "runs", "plain": "plain", "packed": "packed"}


class RecipeGroup(Group):
    """Chooses a recipe; `chosen` carries its place among the project's."""

    chosen = pyqtSignal(int)

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Recipe"))
        self._desk = desk
        self.place = 0
        self._recipes: Choice[int] = Choice(say("Recipe to look at"), 130)
        self._recipes.entered.connect(self._pick)
        self.beside_title(self._recipes)
        self.bound = Bindings(
            desk, lambda: [self.recipe], lambda: self.recipe.name, at=lambda: self.place
        )
        name = Field(say("Name of the recipe"))
        self.bound.bind(
            name, lambda recipe: recipe.name, _renamed, say("Renamed the recipe to {value}")
        )
        new = button(say("New"), self._add, tip=say("Another recipe, beginning like this one"))
        self._remove = button(say("Remove"), self._take_away)
        self.add(row(name, new, self._remove))

    @property
    def recipe(self) -> Recipe:
        """The recipe that is looked at."""
        recipes = self._desk.project.recipes
        return recipes[min(self.place, len(recipes) - 1)] if recipes else Recipe("Game")

    def refresh(self) -> None:
        """Show the project's recipes."""
        recipes = self._desk.project.recipes
        self.place = min(self.place, max(len(recipes) - 1, 0))
        self._recipes.offer({place: recipe.name for place, recipe in enumerate(recipes)})
        self._recipes.show_value(self.place)
        self.bound.show()
        self._remove.setEnabled(len(recipes) > 1)

    def point(self, control: Bindable, point: str) -> Bindable:
        """Have a control show and set one point of the recipe."""
        return self.bound.bind(
            control,
            lambda recipe: getattr(recipe, point),
            lambda project, place, value: _changed(project, place, **{point: value}),
            say("Changed the recipe {what}"),
        )

    def change(self, **changes: object) -> None:
        """Change the recipe that is looked at."""
        words, place = say("Changed the recipe {name}", name=self.recipe.name), self.place
        self._desk.do(words, lambda p: _changed(p, place, **changes))

    def _pick(self, place: int) -> None:
        self.place = place
        self.chosen.emit(place)

    def _add(self) -> None:
        name = free_name(self.recipe.name, {one.name for one in self._desk.project.recipes})
        made = replace(self.recipe, name=name)
        self._desk.do(
            say("Added the recipe {name}", name=name),
            lambda p: replace(p, recipes=(*p.recipes, made)),
        )
        self._pick(len(self._desk.project.recipes) - 1)

    def _take_away(self) -> None:
        place = self.place
        words = say("Removed the recipe {name}", name=self.recipe.name)
        self._desk.do(
            words, lambda p: replace(p, recipes=(*p.recipes[:place], *p.recipes[place + 1 :]))
        )


def _changed(project: Project, place: int, /, **changes: object) -> Project:
    """The project with one of its recipes changed, or the usual one where it has none."""
    recipes = list(project.recipes) or [Recipe("Game")]
    place = min(place, len(recipes) - 1)
    recipes[place] = replace(recipes[place], **changes)  # type: ignore[arg-type]
    return replace(project, recipes=tuple(recipes))


def _renamed(project: Project, place: int, text: str) -> Project:
    name, others = text.strip(), [*project.recipes[:place], *project.recipes[place + 1 :]]
    if not name or any(other.name == name for other in others):
        raise Refusal("A recipe needs a name of its own. Type another one.")
    return _changed(project, place, name=name)


def _with_densities(project: Project, place: int, text: str) -> Project:
    """The project with these densities in the recipe. Raises Refusal where there are none."""
    parts = [part for part in text.replace(",", " ").split() if part.isdecimal()]
    densities = tuple(dict.fromkeys(int(part) for part in parts if 0 < int(part) <= 8))
    if not densities:
        raise Refusal("Densities are whole numbers from 1 to 8, such as 1, 2.")
    return _changed(project, place, densities=densities)


def _with_names(point: str, project: Project, place: int, text: str) -> Project:
    """The project with these sheets or levels alone in the recipe."""
    names = tuple(dict.fromkeys(part.strip() for part in text.split(",") if part.strip()))
    changed = _changed(project, place, **{point: names})
    chosen_subset(changed, changed.recipes[min(place, len(changed.recipes) - 1)])
    return changed


class PagesGroup(Group):
    """How pages are made."""

    def __init__(self, number: int, recipes: RecipeGroup) -> None:
        super().__init__(number, say("Pages"))
        point = recipes.point
        form = point(Chips(FORMS, name=say("Form of pictures")), "picture")
        largest = Stepper(say("Largest side"), say("px"), 16, 16384, 256, width=104)
        sides = point(Chips(said(SIDES), name=say("Sides of pages")), "sides")
        densities = Field(say("Densities"), say("such as 1, 2"))
        densities.setFixedWidth(84)
        recipes.bound.bind(
            densities,
            lambda recipe: ", ".join(map(str, recipe.densities)),
            _with_densities,
            say("Changed the recipe {what}"),
        )
        self.add(row(form, None))
        self.add(row(label(say("Largest side")), None, point(largest, "largest")))
        self.add(row(label(say("Sides")), None, sides))
        self.add(row(label(say("Densities")), None, densities))
        trimmed, turned = Check(say("Trim pieces")), Check(say("Turn pieces"))
        grids, apart = Check(say("Tilesets as grids")), Check(say("By treatment"))
        square, single = Check(say("Square")), Check(say("One file"))
        self.add(row(point(trimmed, "trimmed"), None, point(turned, "turned")))
        self.add(row(point(grids, "grids"), None, point(apart, "apart")))
        self.add(row(point(square, "square"), None, point(single, "single_file")))
        lasting = Check(say("Lasting names"))
        lasting.setToolTip(
            say("Each page’s content is in its name: a game that reads while you build finds all")
        )
        apart = Check(say("Levels apart"))
        apart.setToolTip(say("Each level in a file of its own, for games that load one at a time"))
        self.add(row(point(lasting, "lasting"), None, point(apart, "levels_apart")))
        chunk = Stepper(say("Cells a side of chunks"), say("cells"), 0, 4096, 16, width=104)
        chunk.setToolTip(
            say("Cells in squares, a file each, for worlds that are streamed; 0: none")
        )
        self.add(row(label(say("Chunks of levels")), None, point(chunk, "chunk")))
        outlines = Check(say("Outlines of levels"))
        outlines.setToolTip(say("Off for games that go by the shapes of tiles alone"))
        self.add(row(point(outlines, "outlines"), None))


class PartGroup(Group):
    """What of the project goes in, and how large that may become."""

    def __init__(self, number: int, recipes: RecipeGroup) -> None:
        super().__init__(number, say("Part and budget"))
        self._recipes = recipes
        self._add_names(say("Only sheets"), "only_sheets")
        self._add_names(say("Only levels"), "only_levels")
        for title, unit, point in (
            (say("At most on disk"), say("KiB"), "most_kib"),
            (say("At most in memory"), say("KiB"), "most_memory"),
            (say("At most pages"), "", "most_pages"),
        ):
            stepper = Stepper(title, unit, 0, 2**20, width=104)
            self.add(row(label(title), None, recipes.point(stepper, point)))
        self.aside.setText(say("0 is no budget"))

    def _add_names(self, title: str, point: str) -> None:
        recipes = self._recipes
        field = recipes.bound.bind(
            Field(title, say("all; or names, with commas")),
            lambda recipe: ", ".join(getattr(recipe, point)),
            partial(_with_names, point),
            say("Changed the recipe {what}"),
        )
        self.add(row(label(title), field))

    def tell(self, over: list[str]) -> None:
        """Say what is more than the recipe allows."""
        self.result.tell(" ".join(over), bool(over))


class PlacesGroup(Group):
    """How places and shapes are told."""

    def __init__(self, number: int, recipes: RecipeGroup) -> None:
        super().__init__(number, say("Places in the game"))
        self._recipes = recipes
        point = recipes.point
        axis = point(Chips(said(AXES), name=say("Axis")), "y_up")
        units = point(Chips(said(UNITS), name=say("Measured in")), "units")
        rows = point(Chips(said(ROWS), name=say("Rows of cells")), "rows")
        convex = point(Stepper(say("Corners of convex parts"), "", 0, 64, width=76), "convex")
        self.add(row(axis, None, units))
        self.add(row(label(say("Rows of cells as")), None, rows))
        self.add(row(label(say("Convex parts of at most")), None, convex))

    def refresh(self) -> None:
        """Say what the recipe leaves out."""
        told = say("No convex parts are written.")
        self.result.tell("" if self._recipes.recipe.convex else told)
