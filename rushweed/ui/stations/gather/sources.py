"""Sources: cards of all gathered pictures, and what was decided about each."""

from __future__ import annotations

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtWidgets import (
    QFrame,
    QScrollArea,
    QStackedWidget,
    QWidget,
)

from rushweed.core.project.project import Project
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.commands.listed import GATHER
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.controls import button, label, tell_shortly
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import SelectionHead, SlipPage
from rushweed.ui.soon import soon
from rushweed.ui.stations.gather.cards import Cards
from rushweed.ui.stations.gather.first_page import first_page
from rushweed.ui.stations.gather.source_groups import KeyGroup, KindGroup, LicenceGroup, SizeGroup


class SourcesFace(Face):
    """Cards of all gathered pictures; the slip says what the selected ones are."""

    name = say("Sources")
    keys = GATHER

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._scrolled_to: tuple[str, ...] = ()
        self.table = self._make_table()
        gather = button(say("Open pictures"), self._ask, tip=say("Gather pictures  Ctrl+G"))
        gather.setIcon(icon("open", "ink"))
        self._scale = label("", "caption")
        self.tools = tools_row(self._scale, gather)
        self._head = SelectionHead()
        self.kind = KindGroup(1, services)
        self.licence = LicenceGroup(2, services)
        self.key = KeyGroup(3, services, self._cards.pick_colour)
        self.size = SizeGroup(4, services)
        services.commands.bind("gather.next", self.kind.go_to_next)
        services.commands.bind_stepped("gather.reading", self.kind.take_reading)
        services.commands.bind("gather.none", self.kind.cut_by_hand)
        services.commands.bind("gather.likeliest", self.kind.take_likeliest)
        self.slip = SlipPage([self.kind, self.licence, self.key, self.size], self._head)

    def canvas(self) -> Canvas | None:
        return None

    def key_table(self) -> QWidget:
        return self._cards

    def enter(self) -> None:
        super().enter()
        self._cards.setFocus()

    def select_all(self) -> bool:
        self.desk.select(self.selection.of_all_sheets(self.project))
        return True

    def refresh(self) -> None:
        self._pages.setCurrentIndex(1 if self.project.sheets else 0)
        self._cards.refresh()
        scale = zoom_words(self._cards.shown_times)
        told = say("All at {scale}, true to each other", scale=scale)
        if smaller := self._cards.smaller:
            told = say("At {scale}, {n} smaller", scale=scale, n=smaller)
        tell_shortly(self._scale, told)
        self._show_sheets()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets or before.figures is not after.figures:
            self.refresh()

    def _make_table(self) -> QWidget:
        self._cards = Cards(
            self.desk,
            self.services.images,
            self.services.sight,
            lambda name: self.kind.accept([name]),
            lambda name, reading: self.kind.take(name, reading),
        )
        area = self._area = QScrollArea()
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self._cards)
        self._scrolls = soon(area, 0, self._scroll_to_selected)  # and not once it is gone
        self._pages = QStackedWidget()
        self._pages.addWidget(first_page(self.services, self._ask))
        self._pages.addWidget(area)
        return self._pages

    def _show_sheets(self) -> None:
        sheets = self.selection.chosen(self.project)
        names = self.selection.sheets
        if len(names) == 1 and names != self._scrolled_to:
            self._scrolls.start()
        self._scrolled_to = names
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        for group in (self.kind, self.key, self.size, self.licence):
            group.setEnabled(bool(sheets))
            group.show_sheets(sheets)

    def _scroll_to_selected(self) -> None:
        """Bring the one selected card into view, all of it where there is room, else its foot,
        where it asks."""
        names = self.selection.sheets
        place = self._cards.rect_of(names[0]) if len(names) == 1 else QRect()
        if place.isValid():
            seen = self._area.viewport()
            assert seen is not None
            place.setTop(max(place.top(), place.bottom() - seen.height() + 24))
            self._area.ensureVisible(0, place.center().y(), 0, place.height() // 2 + 12)

    def _ask(self) -> None:
        self.services.gather(self.services.dialogs.ask_pictures())
