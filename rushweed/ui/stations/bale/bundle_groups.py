"""The files of a bundle with their sizes, and handing it over."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal

from rushweed.core.bale.building import Built, build_each
from rushweed.core.bale.bundle import Bundle
from rushweed.core.gauge.units import figure
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.bale.recipe_groups import RecipeGroup

MOST_FILES = 12


class FilesGroup(Group):
    """The files, each with its size, and how much they are together."""

    def __init__(self, number: int) -> None:
        super().__init__(number, say("Files"))
        self._files = label("", "caption")
        self.add(self._files)

    def show_bundle(self, bundle: Bundle | None) -> None:
        """Show the files of a bundle, or none."""
        if bundle is None:
            self._files.setText("")
            self.result.tell("")
            return
        lines = [
            f"{name}    {figure(len(data) / 1024, 1)} KiB" for name, data in bundle.files.items()
        ]
        if len(lines) > MOST_FILES:
            lines[MOST_FILES:] = [say("and {n} more", n=len(lines) - MOST_FILES)]
        self._files.setText("\n".join(lines))
        total = sum(map(len, bundle.files.values())) / 1024
        self.result.tell(
            say(
                "{files}, {size} KiB. {pages}.",
                files=counted(len(bundle.files), "file", "files"),
                size=figure(total, 1),
                pages=counted(len(bundle.atlas.pages), "page", "pages"),
            )
        )


class HandOverGroup(Group):
    """Writes bundles into a folder; `written` tells how many recipes were."""

    written = pyqtSignal(int)

    def __init__(self, number: int, services: Services, recipes: RecipeGroup) -> None:
        super().__init__(number, say("Hand it over"))
        self._services, self._desk, self._recipes = services, services.desk, recipes
        self._write = button(say("Write the bundle …"), self._ask_and_write, "main")
        every = button(
            say("All recipes …"), self._ask_and_write_all, tip=say("Each into a folder of its own")
        )
        self.add(row(self._write, every, None))

    def show_bundle(self, bundle: Bundle | None, told: bool) -> None:
        """Offer to write a bundle; say what lacks a licence, or what was `told` before."""
        self._write.setEnabled(bundle is not None)
        missing = [s.name for s in self._desk.project.sheets if not s.licence.identifier]
        if bundle is not None and missing:
            text = say("{what} without a licence.", what=counted(len(missing), "sheet", "sheets"))
            self.result.tell(text, warns=True)
        elif bundle is not None and not told:
            self.result.tell("")

    def write(self, folder: Path, names: tuple[str, ...]) -> None:
        """Write the bundles of the named recipes, or of all, just as a build does."""
        project, art, place = self._desk.project, self._desk.art, self._desk.folder
        count = len(names) or len(project.recipes)

        def work() -> Iterator[tuple[float, str, list[Built] | str]]:
            built: list[Built] = []
            yield 0.0, say("Writing bundles"), built
            try:
                for one in build_each(project, place, folder, names, art=art):
                    built.append(one)
                    words = say("Wrote {name}", name=one.recipe)
                    yield len(built) / count, words, built
            except Refusal as refusal:
                yield 1.0, "", str(refusal)

        self._services.jobs.start(work, partial(self._tell, folder))

    def _ask_and_write(self) -> None:
        folder = self._services.dialogs.ask_bundle_folder()
        if folder is not None:
            self.write(folder, (self._recipes.recipe.name,))

    def _ask_and_write_all(self) -> None:
        folder = self._services.dialogs.ask_bundle_folder()
        if folder is not None:
            self.write(folder, ())

    def _tell(self, folder: Path, built: list[Built] | str) -> None:
        if isinstance(built, str):
            self._desk.refused.emit(built)
            return
        self.written.emit(len(built))
        what = counted(len(built), "recipe", "recipes")
        words = say("Wrote {what} to {folder}.") if any(b.written for b in built) else ""
        words = words or say("{what} in {folder} were up to date.")
        self.result.tell(words.format(what=what, folder=folder.name))
