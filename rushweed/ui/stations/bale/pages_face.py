"""Pages: as they will be written, the recipes, the files with their sizes."""

from __future__ import annotations

from PyQt6.QtWidgets import QStackedWidget

from rushweed.core.bale.bundle import MANIFEST_FILE
from rushweed.core.bale.pages import Page
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.controls import label
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.bale.bundle_groups import FilesGroup, HandOverGroup
from rushweed.ui.stations.bale.keep_fresh import KeepFresh
from rushweed.ui.stations.bale.making import BundleMaking
from rushweed.ui.stations.bale.page_canvas import PageCanvas
from rushweed.ui.stations.bale.recipe_groups import PagesGroup, PartGroup, PlacesGroup, RecipeGroup
from rushweed.ui.stations.common.invitation import Invitation


class PagesFace(Face):
    """The pages as they will be written, and a slip that says how."""

    name = say("Pages")
    table: QStackedWidget

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.making = BundleMaking(services)
        self.making.made.connect(self._show_bundle)
        self._canvas = PageCanvas(services)
        self.table = self._make_table()
        self.recipes = RecipeGroup(1, self.desk)
        self.recipes.chosen.connect(lambda _: self.refresh())
        self.slip = self._make_slip()
        self._fill = label("", "caption")
        self._page_number = Stepper(say("Page"), "", 1, 1, width=64)
        self._page_number.entered.connect(lambda _: self._show_page())
        zoom = ZoomChips(self._canvas)
        self.tools = tools_row(self._fill, self._page_number, zoom, optional=(self._fill,))

    def _make_table(self) -> QStackedWidget:
        pages = QStackedWidget()
        pages.addWidget(self._canvas)
        pages.addWidget(
            Invitation(
                say("There is nothing to pack yet."),
                say("Cut a sheet, and its pieces are laid on a page here."),
                (say("Open Cut"), lambda: self.services.open_station("Cut")),
            )
        )
        pages.addWidget(
            Invitation(
                say("There is much to pack."),
                say("Making all of its pages takes a while, and much memory."),
                (say("Make the pages"), lambda: self.making.ask(self.recipes.recipe)),
            )
        )
        return pages

    def _make_slip(self) -> SlipPage:
        """What is done again and again stands above what is chosen once."""
        self.hand_over = HandOverGroup(2, self.services, self.recipes)
        self.hand_over.written.connect(self._count)
        self.keep_fresh = KeepFresh(3, self.services, self.recipes)
        self._places = PlacesGroup(5, self.recipes)
        self._files = FilesGroup(6)
        self.part = PartGroup(7, self.recipes)
        doing = [self.recipes, self.hand_over, self.keep_fresh]
        return SlipPage([*doing, PagesGroup(4, self.recipes), self._places, self._files, self.part])

    def canvas(self) -> Canvas | None:
        return self._canvas

    def close(self) -> None:
        self.keep_fresh.close_server()

    def refresh(self) -> None:
        self.recipes.refresh()
        self._places.refresh()
        self.make_bundle()

    def make_bundle(self) -> None:
        """Make the bundle of the chosen recipe."""
        self.making.make(self.recipes.recipe)

    def manifest(self) -> bytes | None:
        """The manifest as it is written."""
        return self.making.bundle.files[MANIFEST_FILE] if self.making.bundle else None

    def _show_bundle(self) -> None:
        bundle = self.making.bundle
        empty = not any(sheet.pieces for sheet in self.project.sheets)
        self.table.setCurrentIndex(1 if empty else 2 if self.making.waits else 0)
        count = len(bundle.atlas.pages) if bundle else 1
        self._page_number.high = count
        self._page_number.show_value(min(int(self._page_number.value or 1), count))
        self._page_number.setVisible(count > 1)
        self._show_page()
        self._files.show_bundle(bundle)
        self.part.tell(bundle.over_budget(self.recipes.recipe) if bundle else [])
        self.hand_over.show_bundle(bundle, told=self.baled > 0)

    def _show_page(self) -> None:
        page = self._page()
        self._canvas.show_page(page)
        self._fill.setText(_fill_words(page) if page else "")

    def _page(self) -> Page | None:
        if self.making.bundle is None:
            return None
        return self.making.bundle.atlas.pages[int(self._page_number.value or 1) - 1]

    def _count(self, recipes: int) -> None:
        self.baled = recipes


def _fill_words(page: Page) -> str:
    width, height = page.plan.size
    share = round(page.fill * 100)
    return say("{w} × {h} px, {share} % filled", w=width, h=height, share=share)
