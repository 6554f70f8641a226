"""The bundle of the chosen recipe, made anew when something of it changed."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from rushweed.core.bale.bundle import Bundle, make_bundle
from rushweed.core.bale.pages import Page
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.bale.templates import read_templates
from rushweed.core.gather.art import Art
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.jobs import Job
from rushweed.ui.shell.services import Services

UNASKED = 128_000_000
"""Bundles of more pixels take much time and memory: they are made when somebody asks."""
UNSEEN = 2_000_000
"""Bundles of no more pixels than this are made before anybody would read that it goes on."""
Of = tuple[Project, Recipe, dict[str, str]]


def page_image(art: Art, page: Page) -> QImage:
    """A page for the screen, kept as long as there is room."""
    return art.memory.get(("image", page), lambda: to_image(page.picture))


class BundleMaking(QObject):
    """`bundle` is the one that was made last, None as long as there is none; `made` tells of
    another."""

    made = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services, self._desk = services, services.desk
        self._of: Of | None = None
        self.bundle: Bundle | None = None
        self._job: Job | None = None
        self._asked = False
        self.waits = False
        """Whether it waits to be asked."""

    def make(self, recipe: Recipe) -> None:
        """Make the bundle of a recipe, and the pictures of its pages, while the window goes on."""
        project = self._desk.project
        try:
            of = (project, recipe, read_templates(self._desk.folder / TEMPLATES))
        except Refusal as refusal:
            self._refuse(project, str(refusal))
            return
        if self._of != of:
            self._of = of
            self.waits = not self._asked and _pixels(project, recipe) > UNASKED
            if self.waits:
                self.bundle = None
            else:
                self._begin(of)
        self.made.emit()

    def ask(self, recipe: Recipe) -> None:
        """Make the bundle however large it is, from now on."""
        self._asked, self._of = True, None
        self.make(recipe)

    def _begin(self, of: Of) -> None:
        art = self._desk.art
        project, recipe, own = of
        words, ended = say("Making the pages"), False

        def work() -> Iterator[tuple[float, str, Bundle | None]]:
            yield 0.0, words, None
            bundle = make_bundle(project, art, recipe, own)
            yield 0.8, words, None
            _ = [page.fill for page in bundle.atlas.pages]  # looked up once, and kept
            page_image(art, bundle.atlas.pages[0])
            yield 1.0, words, bundle

        def show(bundle: Bundle | None, waits: bool = False) -> None:
            nonlocal ended
            ended = True
            if self._of == of:
                self.bundle, self.waits = bundle, waits
                self.made.emit()

        def refuse(sentence: str) -> None:
            self._refuse(project, sentence)
            show(None)

        def stopped() -> None:
            if not ended:
                show(None, waits=True)

        if self._job is not None:
            self._job.stop()
        quiet = _pixels(project, recipe) <= UNSEEN
        jobs = self._services.jobs
        self._job = jobs.start(work, show, refuse, quiet=quiet, ended=stopped)

    def _refuse(self, project: Project, sentence: str) -> None:
        if any(sheet.pieces for sheet in project.sheets):
            self._desk.refused.emit(sentence)


def _pixels(project: Project, recipe: Recipe) -> int:
    """About how many pixels the pages of a recipe have."""
    sheets = chosen_subset(project, recipe).sheets
    drawn = sum(sheet.size.area for sheet in sheets if sheet.pieces)
    return drawn * max((density**2 for density in recipe.densities), default=1)
