"""Painting: the open level, the tray, and all that is done with them."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QStackedWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.level import bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.listed import LEVEL, PROPS
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.rack_of_levels import begin_level
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.invitation import Invitation
from rushweed.ui.stations.weave.level_hand import LevelHand
from rushweed.ui.stations.weave.level_slip import LevelSlip
from rushweed.ui.stations.weave.level_view import LevelView


class LevelFace(Face):
    """Paints the active layer of the open level."""

    name = say("Level")
    slip: LevelSlip

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._canvas = Canvas(self._paint)
        self.hand = LevelHand(services, self._canvas)
        self.view = LevelView(services, self._canvas)
        self._pages = self._make_pages()
        self.table = BarredTable(self.hand.chips, self._pages)
        self.slip = LevelSlip(services, self.hand, self._canvas)
        self.tools = tools_row(self.view.plays, self.view.grid, ZoomChips(self._canvas), spacing=14)
        self._canvas.tool = self.hand.press
        self._canvas.setCursor(Qt.CursorShape.CrossCursor)
        self._canvas.hovered.connect(self._hover)
        self._canvas.view_changed.connect(lambda view: self._tell(self._canvas.pointer))
        self.hand.strokes.on_done = self._show_stroke
        self._drawn_on: set[str] = set()
        self.desk.done.connect(self._note_drawn)
        self.hand.picking.on_rule = self._show_anew

    def _make_pages(self) -> QStackedWidget:
        pages = QStackedWidget()
        pages.addWidget(self._canvas)
        pages.addWidget(
            Invitation(
                say("There is no level yet."),
                say("A level has no edges: it grows wherever you paint."),
                (say("Begin a level"), lambda: begin_level(self.desk)),
                (say("Begin one seen from above"), lambda: begin_level(self.desk, "top-down")),
            )
        )
        return pages

    def select_all(self) -> bool:
        level, hand = self.hand.level(), self.hand
        if level is not None and hand.held.tool == "Props":
            hand.things.choose(range(len(level.layers[self.selection.layer].props)))
        elif level is not None and hand.held.tool == "Select":
            hand.parts.area = bounds(level)
            self._canvas.update()
        return level is not None and hand.held.tool in ("Props", "Select")

    def paste(self) -> bool:
        level, things = self.hand.level(), self.hand.things
        can = level is not None and things.can_paste()
        if can and level is not None:
            self.hand.take("Props")
            things.paste(level)
        return can

    def canvas(self) -> Canvas:
        return self._canvas

    def key_place(self) -> str:
        return PROPS if self.hand.held.tool == "Props" and self.hand.things.chosen else LEVEL

    def enter(self) -> None:
        self.slip.tray.begin(self.hand.level())
        self.refresh()

    def leave(self) -> None:
        self.hand.things.leave_path()
        self._take_ground()

    def _note_drawn(self, before: Project, after: Project) -> None:
        known = {id(level) for level in before.levels}
        self._drawn_on |= {level.name for level in after.levels if id(level) not in known}

    def _take_ground(self) -> None:
        """What was drawn carries and stops from now on, as its art says."""
        drawn, self._drawn_on = self._drawn_on, set()
        held = [level.name for level in self.project.levels if level.name in drawn]
        self.services.proposals.take_ground(*held)

    def refresh(self) -> None:
        level = self.hand.level()
        self._pages.setCurrentIndex(0 if level else 1)
        if level is not None:
            self.view.show(level)
        self.hand.things.keep_fitting(level)
        self.slip.show_tray()
        self._show_level()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets or len(before.levels) != len(after.levels):
            self.refresh()
        elif before.levels is not after.levels and not live:
            self.hand.things.keep_fitting(self.hand.level())
            self._show_level()
        elif before.levels is after.levels:
            self.slip.show_level()
            self._canvas.update()

    def _show_stroke(self) -> None:
        """A stroke has ended."""
        if self.hand.level() is not None:
            self._show_level()

    def _show_level(self) -> None:
        level = self.hand.level()
        if level is not None:
            self.view.reach(level)
        self.slip.show_level()
        self.slip.map.refresh()
        self._canvas.update()

    def _show_anew(self) -> None:
        """Cells are of another size now."""
        self.view.forget()
        self.refresh()

    def _hover(self, place: Point | None) -> None:
        if self.hand.ghost.hover(place):
            self._tell(place)

    def _tell(self, place: Point | None) -> None:
        level = self.hand.level()
        over = ""
        if level is not None and level.layers:
            layer = level.layers[self.selection.layer]
            over = layer.name
            if place is not None:
                column, row = self.hand.strokes.cell(place)
                over += say("   cell {column}, {row}", column=column, row=row)
                found = self.project.find(layer.cells.at(column, row)[0])
                over += f"   {shown_name(*found)}" if found else ""
        if self._canvas.isVisible():
            self.services.status(over, self._canvas.zoom_words)

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        level = self.hand.level()
        if level is not None:
            self.view.paint(painter, level, self.hand, self.slip.map)
