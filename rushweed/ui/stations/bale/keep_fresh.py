"""Keeping a bundle fresh for a game that runs: made after every edit, served on this machine."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from PyQt6.QtWidgets import QApplication, QWidget

from rushweed.core.bale.freshening import Edition, FreshBundle
from rushweed.core.bale.serving import BundleServer
from rushweed.core.bale.templates import read_templates
from rushweed.core.project.files import TEMPLATES
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.jobs import Turn
from rushweed.ui.shell.controls import Check, Field, button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.soon import soon
from rushweed.ui.stations.bale.recipe_groups import RecipeGroup

SOON = 30
"""Milliseconds after an edit within which more edits are waited for."""


class KeepFresh(Group):
    """While it is on, every edit reaches whoever listens at its address."""

    def __init__(self, number: int, services: Services, recipes: RecipeGroup) -> None:
        super().__init__(number, say("A game that follows"))
        self._services, self._desk, self._recipes = services, services.desk, recipes
        self._fresh = FreshBundle()
        self._server: BundleServer | None = None
        self._following = Turn(self._follow)
        self._soon = soon(self, SOON, self._following.ask)
        self._desk.changed.connect(lambda before, after, live: self._hear())
        recipes.chosen.connect(lambda place: self._hear())
        self._on = Check(say("Keep it fresh"), self._turn)
        self._on.setToolTip(say("Serve this recipe’s bundle on this machine; every edit is in it"))
        self._address = Field(say("Address of the bundle"))
        self._address.setReadOnly(True)
        copy = button(say("Copy"), self._copy, "small", say("Copy the address"))
        self._told = QWidget()
        self._told.setLayout(row(self._address, copy))
        self.add(row(self._on, None))
        self.add(self._told)
        self._told.hide()

    @property
    def edition(self) -> Edition:
        """The newest edition that is served."""
        return self._fresh.edition

    def close_server(self) -> None:
        """Serve nothing any more."""
        self._soon.stop()
        if self._server is not None:
            self._server.close()
            self._server = None

    def _turn(self, on: bool) -> None:
        if not on:
            self.close_server()
            self.result.tell("")
        else:
            try:
                self._server = BundleServer(self._fresh)
            except Refusal as refusal:
                self._desk.refused.emit(str(refusal))
                self._on.show_value(False)
                return
            self._address.show_value(f"{self._server.address}bundle/")
            self._address.setCursorPosition(0)
            self._following.ask()
        self._told.setVisible(on)

    def _hear(self) -> None:
        if self._server is not None and not self._soon.isActive():
            self._soon.start()

    def _follow(self) -> None:
        """Make the newest edition in the background; edits meanwhile are followed after it."""
        if self._server is None:
            return
        project, art, recipe = self._desk.project, self._desk.art, self._recipes.recipe
        folder, fresh, number = self._desk.folder / TEMPLATES, self._fresh, self.edition.number

        def work() -> Iterator[tuple[float, str, tuple[str, bool]]]:
            try:
                edition = fresh.follow(project, art, recipe, read_templates(folder))
            except Refusal as refusal:
                yield 1.0, "", (str(refusal), True)
                return
            news = edition.number != number and edition.differences
            told = edition.differences[-1].words if news else ""
            yield 1.0, "", (told or say("The bundle is there."), False)

        self._following.start(self._services.jobs, work, self._tell, quiet=True)

    def _tell(self, told: Any) -> None:
        if self._server is not None and told is not None:
            self.result.tell(*told)

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self._address.text())
