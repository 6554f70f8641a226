"""Bale: export."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen
from PyQt6.QtWidgets import QStackedWidget, QWidget

from rushweed.core.bale.bundle import Bundle, make_bundle
from rushweed.core.bale.writing import write_bundle
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.units import figure
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Point, Rect, Refusal
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_brackets, draw_checker, draw_tag
from rushweed.ui.canvas.tools import Pointer
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Chips, button, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.invitation import Invitation
from rushweed.ui.text import counted, tr

AXES = {"y down": False, "y up": True}


class Bale(Station):
    """The page as it will be written, the recipe, and the files with their sizes."""

    faces = ("Pages",)

    def __init__(self, services: Services) -> None:
        super().__init__(services)

    def make_table(self, face: int) -> QWidget:
        self._bundle: Bundle | None = None
        self._made_from: Project | None = None
        self._image = QImage()
        self._hovered = 0
        self._canvas = Canvas(self._paint)
        self._canvas.hovered.connect(self._hover)
        self._canvas.tool = self._press
        self._pages = QStackedWidget()
        self._pages.addWidget(self._canvas)
        self._pages.addWidget(
            Invitation(
                tr("There is nothing to pack yet."),
                tr("Cut a sheet, and its pieces are laid on a page here."),
                tr("Open Cut"),
                lambda: self.services.open_station(1),
            )
        )
        return self._pages

    def make_tools(self, face: int) -> QWidget:
        self._fill = label("", "caption")
        return tools_row(self._fill, ZoomChips(self._canvas, (1, 2, 4)))

    def make_slip(self, face: int) -> QWidget:
        return SlipPage([self._make_recipe(), self._make_files(), self._make_write()])

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._make_bundle()
        self._pages.setCurrentIndex(0 if self._bundle else 1)
        recipe = self._recipe()
        self._recipe_group.aside.setText(recipe.name)
        self._axis.show_choice(next(name for name, up in AXES.items() if up == recipe.y_up))
        self._show_files()

    def change(self, before: Project, after: Project) -> None:
        self.refresh()

    # -- the slip ------------------------------------------------------------------

    def _make_recipe(self) -> Group:
        group = self._recipe_group = Group(1, tr("Recipe"))
        self._axis = Chips(list(AXES), name=tr("Axis"))
        self._axis.chosen.connect(lambda name: self._set(y_up=AXES[name]))
        group.add(row(label(tr("Places in the game")), None, self._axis))
        return group

    def _make_files(self) -> Group:
        group = self._files_group = Group(2, tr("Files"))
        self._files = label("", "caption")
        group.add(self._files)
        return group

    def _make_write(self) -> Group:
        group = self._write_group = Group(3, tr("Hand it over"))
        self._write = button(tr("Write the bundle …"), self._ask_and_write, "main")
        group.add(row(self._write, None))
        return group

    def _show_files(self) -> None:
        bundle = self._bundle
        self._write.setEnabled(bundle is not None)
        if bundle is None:
            self._files.setText("")
            self._files_group.result.tell("")
            self._fill.setText("")
            return
        lines = [
            f"{name}    {figure(len(data) / 1024, 1)} KiB" for name, data in bundle.files.items()
        ]
        self._files.setText("\n".join(lines))
        total = sum(map(len, bundle.files.values())) / 1024
        height, width = bundle.page.picture.shape[:2]
        self._files_group.result.tell(
            tr("{files}, {size} KiB. One page of {w} × {h} px.").format(
                files=counted(len(bundle.files), "file", "files"),
                size=figure(total, 1),
                w=width,
                h=height,
            )
        )
        self._fill.setText(
            tr("{share} % of the page is filled").format(share=round(bundle.page.fill * 100))
        )
        missing = [s.name for s in self.project.sheets if not s.licence.identifier]
        if missing:
            text = tr("{what} without a licence.").format(
                what=counted(len(missing), "sheet", "sheets")
            )
            self._write_group.result.tell(text, warns=True)
        elif self.baled == 0:
            self._write_group.result.tell("")

    # -- acts -------------------------------------------------------------------------

    def _recipe(self) -> Recipe:
        return self.project.recipes[0] if self.project.recipes else Recipe("Game")

    def _set(self, **changes) -> None:  # type: ignore[no-untyped-def]
        old = self._recipe()
        new = replace(old, **changes)
        words = tr("Changed the recipe {name}").format(name=old.name)
        self.desk.do(words, lambda p: replace(p, recipes=(new, *p.recipes[1:])))

    def _make_bundle(self) -> None:
        if self._made_from is self.project:
            return
        self._made_from = self.project
        try:
            self._bundle = make_bundle(self.project, self.desk.art, self._recipe())
        except Refusal as refusal:
            if self.project.sheets and any(s.pieces for s in self.project.sheets):
                self.desk.refused.emit(str(refusal))
            self._bundle = None
            return
        picture = self._bundle.page.picture
        self._image = to_image(picture)
        self._canvas.show_content(Rect(0, 0, picture.shape[1], picture.shape[0]))

    def _ask_and_write(self) -> None:
        folder = self.services.dialogs.ask_bundle_folder()
        if folder is not None:
            self.write(folder)

    def write(self, folder: Path) -> None:
        """Write the bundle into a folder."""
        if self._bundle is None:
            return
        try:
            write_bundle(self._bundle, folder)
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            return
        self.baled = 1
        self._write_group.result.tell(tr("Written to {folder}.").format(folder=folder.name))

    def _press(self, press: Pointer) -> None:
        number = self._piece_at(press.place)
        if number:
            found = self.project.find(number)
            if found is not None:
                self.desk.select(
                    replace(self.selection, sheets=(found[0].name,), pieces=frozenset({number}))
                )

    def _piece_at(self, place: Point) -> int:
        if self._bundle is None:
            return 0
        places = self._bundle.page.places.items()
        return next((number for number, rect in places if rect.contains(*place)), 0)

    def _hover(self, place: Point | None) -> None:
        number = self._piece_at(place) if place is not None else 0
        if number != self._hovered:
            self._hovered = number
            self._canvas.update()
        found = self.project.find(number)
        name = shown_name(*found) if found else ""
        self.services.status(name, f"×{self._canvas.view.scale:g}")

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        if self._bundle is None:
            return
        whole = canvas.to_screen(canvas.content)
        draw_checker(painter, whole.intersected(QRectF(canvas.rect())))
        canvas.draw_image(painter, self._image)
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole.adjusted(-0.5, -0.5, 0.5, 0.5))
        places = self._bundle.page.places
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
