"""Gather: sources and licences."""

from __future__ import annotations

from PyQt6.QtCore import QRect, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QFrame,
    QPlainTextEdit,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rushweed.core.project.project import Project
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.view import zoom_words
from rushweed.ui.commands.listed import GATHER
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import font
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.controls import button, label, tell_shortly
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.station import Services, Station
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.invitation import Invitation
from rushweed.ui.stations.gather.cards import Cards
from rushweed.ui.stations.gather.changes import Changes
from rushweed.ui.stations.gather.source_groups import KeyGroup, KindGroup, LicenceGroup, SizeGroup


class Gather(Station):
    """Cards of all gathered pictures, and the credits they ask for."""

    faces = (say("Sources"), say("Credits"), say("Changes"))

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._changes = Changes(services)
        self._scrolled_to: tuple[str, ...] = ()
        services.outside.found.connect(lambda changes: self._refresh_changes())

    def make_table(self, face: int) -> QWidget:
        if face == 2:
            return self._changes.canvas
        return self._make_sources() if face == 0 else self._make_credits()

    def make_tools(self, face: int) -> QWidget | None:
        if face == 2:
            return tools_row(ZoomChips(self._changes.canvas))
        if face == 1:
            return None
        gather = button(say("Open pictures"), self._ask, tip=say("Gather pictures  Ctrl+G"))
        gather.setIcon(icon("open", "ink"))
        self._scale = label("", "caption")
        return tools_row(self._scale, gather)

    def make_slip(self, face: int) -> QWidget:
        if face == 2:
            return self._changes.make_slip()
        if face == 1:
            return SlipPage([self._make_about_credits()])
        self._head = SelectionHead()
        self.kind = KindGroup(1, self.services)
        self.key = KeyGroup(2, self.services, self._cards.pick_colour)
        self.size = SizeGroup(3, self.services)
        self.licence = LicenceGroup(4, self.services)
        self.services.commands.bind("gather.next", self.kind.go_to_next)
        return SlipPage([self.kind, self.key, self.size, self.licence], self._head)

    def key_place(self) -> str:
        return GATHER if self.face == 0 else ""

    def canvas(self) -> Canvas | None:
        return self._changes.canvas if self.face == 2 else None

    def refresh(self) -> None:
        if self.face == 2:
            self._changes.refresh()
            return
        if self.face == 1:
            from rushweed.core.bale.credits import credits_text

            self._credits.setPlainText(credits_text(self.project))
            self._show_missing()
            return
        self._pages.setCurrentIndex(1 if self.project.sheets else 0)
        self._cards.refresh()
        told = say("All at {scale}, true to each other", scale=zoom_words(self._cards.scale))
        tell_shortly(self._scale, told)
        self._show_sheets()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _refresh_changes(self) -> None:
        if self.face == 2:
            self._changes.refresh()

    # -- faces ------------------------------------------------------------------

    def _make_sources(self) -> QWidget:
        self._cards = Cards(
            self.desk,
            self.services.images,
            lambda name: self.kind.accept([name]),
            lambda name, reading: self.kind.take(name, reading),
        )
        area = self._area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self._cards)
        self._pages = QStackedWidget()
        self._pages.addWidget(
            Invitation(
                say("Drop pictures here, or open them."),
                say("Sprite sheets, tilesets, folders of numbered frames: each becomes a sheet."),
                say("Open pictures"),
                self._ask,
            )
        )
        self._pages.addWidget(area)
        return self._pages

    def _make_credits(self) -> QWidget:
        self._credits = QPlainTextEdit()
        self._credits.setReadOnly(True)
        self._credits.setFont(font())
        self._credits.setAccessibleName(say("Credits"))
        holder = _Well()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(24, 20, 24, 20)
        layout.addWidget(self._credits)
        return holder

    def _make_about_credits(self) -> Group:
        group = Group(1, say("Credits"))
        note = label(say("Written beside every bundle\nas credits.txt."), "caption")
        note.setWordWrap(True)
        group.add(note)
        self._missing = group.result
        return group

    def _show_missing(self) -> None:
        without = [sheet.name for sheet in self.project.sheets if not sheet.licence.identifier]
        if without:
            names = ", ".join(without[:3]) + (" …" if len(without) > 3 else "")
            self._missing.tell(say("No licence yet: {names}.", names=names), warns=True)
        else:
            self._missing.tell(say("Every sheet has its licence.") if self.project.sheets else "")

    def _show_sheets(self) -> None:
        sheets = self.selection.chosen(self.project)
        names = self.selection.sheets
        if len(names) == 1 and names != self._scrolled_to:
            QTimer.singleShot(0, self._scroll_to_selected)
        self._scrolled_to = names
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        for group in (self.kind, self.key, self.size, self.licence):
            group.setEnabled(bool(sheets))
            group.show_sheets(sheets)

    def _scroll_to_selected(self) -> None:
        """Bring the one selected card into view, all of it where there is room."""
        names = self.selection.sheets
        place = self._cards.rect_of(names[0]) if len(names) == 1 else QRect()
        if place.isValid():
            reach = min(place.height() // 2 + 12, self._area.height() // 2)
            self._area.ensureVisible(0, place.center().y(), 0, reach)

    def _ask(self) -> None:
        self.services.gather(self.services.dialogs.ask_pictures())


class _Well(QWidget):
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        painter.end()
