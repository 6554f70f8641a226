"""The bundle of the chosen recipe, made anew when something of it changed."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.bale.bundle import Bundle, make_bundle
from rushweed.core.bale.templates import read_templates
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.shell.services import Services

QUICK = 2_000_000
"""Bundles of fewer pixels than this, in forms that are quickly made, are made at once."""
Of = tuple[Project, Recipe, dict[str, str]]


class BundleMaking(QObject):
    """`bundle` is the one that was made last, None while there is none; `made` tells of another."""

    made = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services, self._desk = services, services.desk
        self._of: Of | None = None
        self.bundle: Bundle | None = None

    def make(self, recipe: Recipe) -> None:
        """Make the bundle of a recipe; a large one while the window goes on."""
        project = self._desk.project
        try:
            of = (project, recipe, read_templates(self._desk.folder / TEMPLATES))
            if self._of != of:
                self._of, self.bundle = of, None
                if _is_quick(project, recipe):
                    self.bundle = make_bundle(project, self._desk.art, *of[1:])
                else:
                    self._make_slowly(of)
        except Refusal as refusal:
            if any(sheet.pieces for sheet in project.sheets):
                self._desk.refused.emit(str(refusal))
        self.made.emit()

    def _make_slowly(self, of: Of) -> None:
        art = self._desk.art
        project, recipe, own = of

        def work() -> Iterator[tuple[float, str, Bundle | str | None]]:
            yield 0.0, say("Making the pages"), None
            try:
                yield 1.0, say("Making the pages"), make_bundle(project, art, recipe, own)
            except Refusal as refusal:
                yield 1.0, say("Making the pages"), str(refusal)

        def done(result: Bundle | str | None) -> None:
            if isinstance(result, str):
                self._desk.refused.emit(result)
            elif result is not None and self._of == of:
                self.bundle = result
                self.made.emit()

        self._services.jobs.start(work, done)


def _is_quick(project: Project, recipe: Recipe) -> bool:
    pixels = sum(s.size.width * s.size.height for s in project.sheets if s.pieces)
    pixels *= max((density**2 for density in recipe.densities), default=1)
    return recipe.picture in ("PNG", "WebP") and pixels <= QUICK and not recipe.templates
