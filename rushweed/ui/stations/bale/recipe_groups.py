"""Recipes: which one, and all that it says."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import pyqtSignal

from rushweed.core.project.project import Project, free_name
from rushweed.core.project.rules import PictureForm, Recipe, Sides
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Check, Chips, Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.text import tr

FORMS: tuple[PictureForm, ...] = ("PNG", "WebP", "KTX 2", "DDS")
SIDES: dict[str, Sides] = {
    "Any": "any",
    "Of four": "multiple of four",
    "Powers of 2": "power of two",
}


class RecipeGroup(Group):
    """Chooses a recipe; `chosen` carries its place among the project's."""

    chosen = pyqtSignal(int)

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, tr("Recipe"))
        self._desk = desk
        self.place = 0
        self._recipes = Choice(tr("Recipe to look at"), 130)
        self._recipes.picked.connect(self._pick)
        self.beside_title(self._recipes)
        self._name = Field(tr("Name of the recipe"))
        self._name.finished.connect(self._rename)
        new = button(tr("New"), self._add, tip=tr("Another recipe, beginning like this one"))
        self._remove = button(tr("Remove"), self._take_away)
        self.add(row(self._name, new, self._remove))

    @property
    def recipe(self) -> Recipe:
        """The recipe that is looked at."""
        recipes = self._desk.project.recipes
        return recipes[min(self.place, len(recipes) - 1)] if recipes else Recipe("Game")

    def refresh(self) -> None:
        """Show the project's recipes."""
        recipes = self._desk.project.recipes
        self.place = min(self.place, max(len(recipes) - 1, 0))
        self._recipes.show_choices([recipe.name for recipe in recipes], self.recipe.name)
        self._name.show_text(self.recipe.name)
        self._remove.setEnabled(len(recipes) > 1)

    def change(self, words: str = "", **changes: object) -> None:
        """Change the recipe that is looked at."""
        old, place = self.recipe, self.place
        new = replace(old, **changes)  # type: ignore[arg-type]
        told = words or tr("Changed the recipe {name}").format(name=old.name)

        def edit(project: Project) -> Project:
            recipes = list(project.recipes) or [old]
            recipes[min(place, len(recipes) - 1)] = new
            return replace(project, recipes=tuple(recipes))

        self._desk.do(told, edit)

    def _pick(self, name: str) -> None:
        names = [recipe.name for recipe in self._desk.project.recipes]
        if name in names:
            self.place = names.index(name)
            self.chosen.emit(self.place)

    def _rename(self, text: str) -> None:
        name, taken = text.strip(), {one.name for one in self._desk.project.recipes}
        if not name or (name in taken and name != self.recipe.name):
            self._desk.refused.emit(tr("A recipe needs a name of its own. Type another one."))
            self.refresh()
            return
        self.change(tr("Renamed the recipe to {name}").format(name=name), name=name)

    def _add(self) -> None:
        name = free_name(self.recipe.name, {one.name for one in self._desk.project.recipes})
        made = replace(self.recipe, name=name)
        self._desk.do(
            tr("Added the recipe {name}").format(name=name),
            lambda p: replace(p, recipes=(*p.recipes, made)),
        )
        self._pick(name)

    def _take_away(self) -> None:
        place = self.place
        words = tr("Removed the recipe {name}").format(name=self.recipe.name)
        self._desk.do(
            words, lambda p: replace(p, recipes=(*p.recipes[:place], *p.recipes[place + 1 :]))
        )


class PagesGroup(Group):
    """How pages are made."""

    def __init__(self, number: int, recipes: RecipeGroup) -> None:
        super().__init__(number, tr("Pages"))
        self._recipes = recipes
        change = recipes.change
        self._form = Chips(FORMS, name=tr("Form of pictures"))
        self._form.chosen.connect(lambda text: change(picture=text))
        self._largest = Stepper(tr("Largest side"), tr("px"), 16, 16384, 256, width=104)
        self._largest.stepped.connect(lambda value: change(largest=int(value)))
        self._densities = Field(tr("Densities"), tr("such as 1, 2"))
        self._densities.setFixedWidth(84)
        self._densities.finished.connect(self._set_densities)
        self._sides = Chips(list(SIDES), name=tr("Sides of pages"))
        self._sides.chosen.connect(lambda text: change(sides=SIDES[text]))
        self._checks: dict[str, Check] = {}
        names = {
            "square": tr("Square"),
            "turned": tr("Turn pieces"),
            "trimmed": tr("Trim pieces"),
            "grids": tr("Tilesets as grids"),
            "apart": tr("By treatment"),
            "single_file": tr("One file"),
        }
        for point, name in names.items():
            self._checks[point] = Check(name, partial(self._set_check, point))
        checks = self._checks
        self.add(row(self._form, None))
        self.add(row(label(tr("Largest side")), None, self._largest))
        self.add(row(label(tr("Sides")), None, self._sides))
        self.add(row(label(tr("Densities")), None, self._densities))
        self.add(row(checks["trimmed"], None, checks["turned"]))
        self.add(row(checks["grids"], None, checks["apart"]))
        self.add(row(checks["square"], None, checks["single_file"]))

    def refresh(self) -> None:
        """Show the recipe."""
        recipe = self._recipes.recipe
        self._form.show_choice(recipe.picture)
        self._largest.show_value(recipe.largest)
        self._densities.show_text(", ".join(map(str, recipe.densities)))
        self._sides.show_choice(next(name for name, side in SIDES.items() if side == recipe.sides))
        for point, check in self._checks.items():
            check.setChecked(getattr(recipe, point))

    def _set_check(self, point: str, on: bool) -> None:
        self._recipes.change("", **{point: on})

    def _set_densities(self, text: str) -> None:
        parts = [part for part in text.replace(",", " ").split() if part.isdecimal()]
        densities = tuple(dict.fromkeys(int(part) for part in parts if 0 < int(part) <= 8))
        if densities:
            self._recipes.change(densities=densities)
        self.refresh()


class PlacesGroup(Group):
    """How places and shapes are told."""

    def __init__(self, number: int, recipes: RecipeGroup) -> None:
        super().__init__(number, tr("Places in the game"))
        self._recipes = recipes
        change = recipes.change
        self._axis = Chips((tr("y down"), tr("y up")), name=tr("Axis"))
        self._axis.chosen.connect(lambda text: change(y_up=text == "y up"))
        self._units = Chips((tr("pixels"), tr("units")), name=tr("Measured in"))
        self._units.chosen.connect(lambda text: change(units=text))
        self._row_form = Chips((tr("runs"), tr("plain")), name=tr("Rows of cells"))
        self._row_form.chosen.connect(lambda text: change(rows=text))
        self._convex = Stepper(tr("Corners of convex parts"), "", 0, 64, width=76)
        self._convex.stepped.connect(lambda value: change(convex=int(value)))
        self.add(row(self._axis, 6, self._units, None))
        self.add(row(label(tr("Rows of cells as")), None, self._row_form))
        self.add(row(label(tr("Convex parts of at most")), None, self._convex))

    def refresh(self) -> None:
        """Show the recipe."""
        recipe = self._recipes.recipe
        self._axis.show_choice("y up" if recipe.y_up else "y down")
        self._units.show_choice(recipe.units)
        self._row_form.show_choice(recipe.rows)
        self._convex.show_value(recipe.convex)
        self.result.tell("" if recipe.convex else tr("No convex parts are written."))
