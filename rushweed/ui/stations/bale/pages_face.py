"""Pages: as they will be written, the recipes, the files with their sizes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen
from PyQt6.QtWidgets import QStackedWidget, QWidget

from rushweed.core.bale.building import Built, build_each
from rushweed.core.bale.bundle import MANIFEST_FILE, Bundle, make_bundle
from rushweed.core.bale.pages import Page
from rushweed.core.bale.templates import read_templates
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.units import figure
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_tag
from rushweed.ui.canvas.tools import Pointer
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bale.keep_fresh import KeepFresh
from rushweed.ui.stations.bale.recipe_groups import PagesGroup, PartGroup, PlacesGroup, RecipeGroup
from rushweed.ui.stations.common.invitation import Invitation

QUICK = 2_000_000
"""Bundles of fewer pixels than this, in forms that are quickly made, are made at once."""
MOST_FILES = 12


class PagesFace(Face):
    """The pages as they will be written, and a slip that says how."""

    name = say("Pages")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.bundle: Bundle | None = None
        self._made_from: tuple[Project, Recipe, dict[str, str]] | None = None
        self.recipes = RecipeGroup(1, self.desk)
        self.recipes.chosen.connect(lambda _: self.refresh())
        self.table = self._make_table()
        self.slip = self._make_slip()
        self._fill = label("", "caption")
        self._page_number = Stepper(say("Page"), "", 1, 1, width=64)
        self._page_number.entered.connect(lambda _: self._show_page())
        zoom = ZoomChips(self._canvas)
        self.tools = tools_row(self._fill, self._page_number, zoom, optional=(self._fill,))

    def _make_table(self) -> QWidget:
        self._image = QImage()
        self._hovered = 0
        self._canvas = Canvas(self._paint)
        self._canvas.hovered.connect(self._hover)
        self._canvas.tool = self._press
        self._pages = QStackedWidget()
        self._pages.addWidget(self._canvas)
        self._pages.addWidget(
            Invitation(
                say("There is nothing to pack yet."),
                say("Cut a sheet, and its pieces are laid on a page here."),
                say("Open Cut"),
                lambda: self.services.open_station("Cut"),
            )
        )
        return self._pages

    def _make_slip(self) -> QWidget:
        self._places = PlacesGroup(3, self.recipes)
        self._part = PartGroup(7, self.recipes)
        groups = [self.recipes, PagesGroup(2, self.recipes), self._places]
        self._keep_fresh = KeepFresh(6, self.services, self.recipes)
        further = [self._make_files(), self._make_write(), self._keep_fresh, self._part]
        return SlipPage([*groups, *further])

    def canvas(self) -> Canvas | None:
        return self._canvas

    def close(self) -> None:
        self._keep_fresh.close_server()

    def refresh(self) -> None:
        self.recipes.refresh()
        self._places.refresh()
        self.make_bundle()

    # -- the slip ------------------------------------------------------------------

    def _make_files(self) -> Group:
        group = self._files_group = Group(4, say("Files"))
        self._files = label("", "caption")
        group.add(self._files)
        return group

    def _make_write(self) -> Group:
        group = self._write_group = Group(5, say("Hand it over"))
        self._write = button(say("Write the bundle …"), self._ask_and_write, "main")
        every = button(
            say("All recipes …"), self._ask_and_write_all, tip=say("Each into a folder of its own")
        )
        group.add(row(self._write, every, None))
        return group

    def _show_files(self) -> None:
        bundle = self.bundle
        self._part.tell(bundle.over_budget(self.recipes.recipe) if bundle else [])
        self._write.setEnabled(bundle is not None)
        if bundle is None:
            self._files.setText("")
            self._files_group.result.tell("")
            self._fill.setText("")
            return
        lines = [
            f"{name}    {figure(len(data) / 1024, 1)} KiB" for name, data in bundle.files.items()
        ]
        if len(lines) > MOST_FILES:
            lines[MOST_FILES:] = [say("and {n} more", n=len(lines) - MOST_FILES)]
        self._files.setText("\n".join(lines))
        total = sum(map(len, bundle.files.values())) / 1024
        self._files_group.result.tell(
            say(
                "{files}, {size} KiB. {pages}.",
                files=counted(len(bundle.files), "file", "files"),
                size=figure(total, 1),
                pages=counted(len(bundle.atlas.pages), "page", "pages"),
            )
        )
        missing = [s.name for s in self.project.sheets if not s.licence.identifier]
        if missing:
            text = say("{what} without a licence.", what=counted(len(missing), "sheet", "sheets"))
            self._write_group.result.tell(text, warns=True)
        elif self.baled == 0:
            self._write_group.result.tell("")

    # -- making it --------------------------------------------------------------------

    def make_bundle(self) -> None:
        """Make the bundle of the recipe; a large one while the window goes on."""
        project, recipe, art = self.project, self.recipes.recipe, self.desk.art
        try:
            own = read_templates(self.desk.folder / TEMPLATES)
            if self._made_from == (project, recipe, own):
                self._show_bundle()
                return
            self._made_from = (project, recipe, own)
            self.bundle = None
            if self._is_quick(recipe):
                self.bundle = make_bundle(project, art, recipe, own)
        except Refusal as refusal:
            if any(sheet.pieces for sheet in project.sheets):
                self.desk.refused.emit(str(refusal))
            self._show_bundle()
            return
        self._show_bundle()
        if self.bundle is None:
            self._make_slowly(project, recipe, own)

    def _make_slowly(self, project: Project, recipe: Recipe, own: dict[str, str]) -> None:
        art = self.desk.art

        def work() -> Iterator[tuple[float, str, Bundle | str | None]]:
            yield 0.0, say("Making the pages"), None
            try:
                yield 1.0, say("Making the pages"), make_bundle(project, art, recipe, own)
            except Refusal as refusal:
                yield 1.0, say("Making the pages"), str(refusal)

        def done(result: Bundle | str | None) -> None:
            if isinstance(result, str):
                self.desk.refused.emit(result)
            elif result is not None and self._made_from == (project, recipe, own):
                self.bundle = result
                self._show_bundle()

        self.services.jobs.start(work, done)

    def _is_quick(self, recipe: Recipe) -> bool:
        pixels = sum(s.size.width * s.size.height for s in self.project.sheets if s.pieces)
        pixels *= max((density**2 for density in recipe.densities), default=1)
        quick = recipe.picture in ("PNG", "WebP") and pixels <= QUICK
        return quick and not recipe.templates

    def _show_bundle(self) -> None:
        empty = not any(sheet.pieces for sheet in self.project.sheets)
        self._pages.setCurrentIndex(1 if empty else 0)
        count = len(self.bundle.atlas.pages) if self.bundle else 1
        self._page_number.high = count
        self._page_number.show_value(min(int(self._page_number.value or 1), count))
        self._page_number.setVisible(count > 1)
        self._show_page()
        self._show_files()

    def _page(self) -> Page | None:
        if self.bundle is None:
            return None
        return self.bundle.atlas.pages[int(self._page_number.value or 1) - 1]

    def _show_page(self) -> None:
        page = self._page()
        self._image = QImage()
        if page is not None:
            size = page.plan.size
            self._image = to_image(page.picture)
            self._canvas.show_content(Rect(0, 0, *size))
            self._fill.setText(
                say(
                    "{w} × {h} px, {share} % filled",
                    w=size.width,
                    h=size.height,
                    share=round(page.fill * 100),
                )
            )
        self._canvas.update()

    def manifest(self) -> bytes | None:
        """The manifest as it is written."""
        return self.bundle.files[MANIFEST_FILE] if self.bundle else None

    # -- acts -------------------------------------------------------------------------

    def _ask_and_write(self) -> None:
        folder = self.services.dialogs.ask_bundle_folder()
        if folder is not None:
            self.write(folder, (self.recipes.recipe.name,))

    def _ask_and_write_all(self) -> None:
        folder = self.services.dialogs.ask_bundle_folder()
        if folder is not None:
            self.write(folder, ())

    def write(self, folder: Path, names: tuple[str, ...]) -> None:
        """Write the bundles of the named recipes, or of all, just as a build does."""
        project, art, place = self.project, self.desk.art, self.desk.folder
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

        self.services.jobs.start(work, partial(self._tell_written, folder))

    def _tell_written(self, folder: Path, built: list[Built] | str) -> None:
        if isinstance(built, str):
            self.desk.refused.emit(built)
            return
        self.baled = len(built)
        what = counted(len(built), "recipe", "recipes")
        words = say("Wrote {what} to {folder}.") if any(b.written for b in built) else ""
        words = words or say("{what} in {folder} were up to date.")
        self._write_group.result.tell(words.format(what=what, folder=folder.name))

    def _press(self, press: Pointer) -> None:
        number = self._piece_at(press.place)
        if number:
            found = self.project.find(number)
            if found is not None:
                self.desk.select(
                    replace(self.selection, sheets=(found[0].name,), pieces=frozenset({number}))
                )

    def _piece_at(self, place: Point) -> int:
        page = self._page()
        places = page.places.items() if page else ()
        return next((number for number, rect in places if rect.contains(*place)), 0)

    def _hover(self, place: Point | None) -> None:
        number = self._piece_at(place) if place is not None else 0
        if number != self._hovered:
            self._hovered = number
            self._canvas.update()
        found = self.project.find(number)
        name = shown_name(*found) if found else ""
        self.services.status(name, zoom_words(self._canvas.view.scale))

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        page = self._page()
        if page is None:
            return
        whole = canvas.to_screen(canvas.content)
        draw_checker(painter, whole.intersected(QRectF(canvas.rect())))
        painter.drawImage(whole, self._image, QRectF(self._image.rect()))
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole.adjusted(-0.5, -0.5, 0.5, 0.5))
        places = page.places
        shown = [number for number in self.selection.pieces if number in places][:60]
        for number in shown:
            draw_brackets(painter, canvas.to_screen(places[number]), 9)
        if self._hovered in places:
            rect = canvas.to_screen(places[self._hovered])
            painter.setPen(QPen(MARKS.tide, 1))
            painter.drawRect(rect)
            found = self.project.find(self._hovered)
            if found is not None:
                draw_tag(painter, rect.left(), rect.top() - 20, shown_name(*found))
