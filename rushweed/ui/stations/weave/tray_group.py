"""The tray with the choice of its sheet."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QScrollArea

from rushweed.core.project.level import Level
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import say
from rushweed.ui.shell.controls import Choice, button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.weave.held import Held
from rushweed.ui.stations.weave.shelf import Shelf, things_to_place
from rushweed.ui.stations.weave.tray import SIZE, Tray


class TrayGroup(Group):
    """Tells `picked` with a brush. `sheet` is the name of the sheet that lies in the tray."""

    picked = pyqtSignal(object)

    def __init__(self, number: int, services: Services, held: Held) -> None:
        super().__init__(number, say("Tray"))
        self._desk, self._held = services.desk, held
        self.sheet = ""
        self._sheets: Choice[str] = Choice(say("Sheet in the tray"), 140)
        self._sheets.entered.connect(self.choose)
        self.tray = Tray(services.images)
        self.tray.picked.connect(self.picked.emit)
        self.beside_title(self._sheets)
        for words, tip, steps in (("−", say("Smaller tiles"), -1), ("+", say("Larger tiles"), 1)):
            zoom = button(words, partial(self.tray.zoom, steps), "small", tip)
            zoom.setAccessibleName(tip)
            self.beside_title(zoom)
        self._area = QScrollArea()
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setFixedWidth(SIZE)
        self._area.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self._area.setWidget(self.tray)
        self.add(row(None, self._area, None), wide=True)
        self.shelf = Shelf(services.images)
        self.shelf.picked.connect(self.picked.emit)
        self.add(row(None, self.shelf, None), wide=True)

    def begin(self, level: Level | None) -> None:
        """Lay the likeliest sheet in the tray, if none lies there: a tileset that the open level
        uses, else any tileset, else what is selected."""
        if self.sheet:
            return
        project = self._desk.project
        tilesets = [s.name for s in project.sheets if s.kind == "tileset" and s.pieces]
        used = set().union(*(layer.cells.used() for layer in level.layers)) if level else set()
        fitting = (n for n in tilesets if used & {p.number for p in project.sheet(n).pieces})
        self.sheet = next(fitting, next(iter(tilesets), self._desk.selection.sheet))

    def choose(self, name: str) -> None:
        """Lay another sheet in the tray."""
        self.sheet = name
        chosen = replace(self._desk.selection, sheets=(name,), pieces=frozenset())
        self._desk.select(chosen)
        self.refresh()

    def refresh(self) -> None:
        """Show the sheet, and which of its tiles are in hand."""
        sheet = self.shown()
        self._sheets.offer({one.name: one.name for one in self._desk.project.sheets if one.pieces})
        self._sheets.show_value(sheet.name if sheet else None, " ")
        brush = self._held.brush
        self.tray.show_sheet(sheet, frozenset(brush.numbers()) if brush else frozenset())
        self._area.setFixedHeight(min(SIZE, self.tray.height()))
        project, name = self._desk.project, self._desk.selection.level
        things = things_to_place(
            project, project.level(name) if name else None, sheet.name if sheet else ""
        )
        self.shelf.show_things(things, next(iter(brush.numbers()), 0) if brush else 0)

    def shown(self) -> Sheet | None:
        """The sheet that lies in the tray."""
        usable = [sheet for sheet in self._desk.project.sheets if sheet.pieces]
        first = usable[0] if usable else None
        return next((sheet for sheet in usable if sheet.name == self.sheet), first)
