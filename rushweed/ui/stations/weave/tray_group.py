"""The tray: the sheet that one paints with, and the shelf of single pictures beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.cut.rules_from_art import tile_of
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.weave.painting import single
from rushweed.core.words import say
from rushweed.ui.canvas.even import draw_fitted
from rushweed.ui.canvas.marks import draw_brackets, draw_checker
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.shell.controls import Choice, button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.weave.held import Held
from rushweed.ui.stations.weave.tray import SIZE, Tray

SIDE, GAP, MOST = 32, 4, 8

Thing = tuple[Sheet, Piece]


class Shelf(QWidget):
    """Tells `picked` with a brush of one piece."""

    picked = pyqtSignal(object)

    def __init__(self, images: Images) -> None:
        super().__init__()
        self._images = images
        self._things: Sequence[Thing] = ()
        self._held = 0
        self.setFixedSize(SIZE, SIDE + 4)
        self.setMouseTracking(True)
        self.setAccessibleName(say("Things to place"))

    def show_things(self, things: Sequence[Thing], held: int) -> None:
        """Show some pieces, with brackets around the one in hand."""
        self._things, self._held = things, held
        self.setVisible(bool(things))
        self.update()

    def place_of(self, number: int) -> QRectF:
        """Where a piece lies on the shelf."""
        return self._place([piece.number for _, piece in self._things].index(number))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        thing = self._at(event)
        if thing is not None:
            self.picked.emit(single(thing[1].number))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        thing = self._at(event)
        self.setToolTip(f"{thing[0].name}: {shown_name(*thing)}" if thing else "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        for index, (sheet, piece) in enumerate(self._things):
            place = self._place(index)
            draw_checker(painter, place)
            image = self._images.piece(sheet, piece)
            draw_fitted(painter, place, image)
            if piece.number == self._held:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                draw_brackets(painter, place, 7)
        painter.end()

    def _place(self, index: int) -> QRectF:
        return QRectF(2 + index * (SIDE + GAP), 2, SIDE, SIDE)

    def _at(self, event: QMouseEvent) -> Thing | None:
        index = int((event.position().x() - 2) // (SIDE + GAP))
        return self._things[index] if 0 <= index < len(self._things) else None


def things_to_place(project: Project, level: Level | None, in_tray: str) -> list[Thing]:
    """The first piece of each sheet that is no tileset and does not lie in the tray; what stands in
    the level already comes first."""
    used = {prop.piece for layer in (level.layers if level else ()) for prop in layer.props}
    found = [
        (sheet, sheet.pieces[0])
        for sheet in project.sheets
        if sheet.pieces and sheet.kind != "tileset" and sheet.name != in_tray
    ]
    found.sort(key=lambda thing: all(piece.number not in used for piece in thing[0].pieces))
    return found[:MOST]


class TrayGroup(Group):
    """Tells `picked` with a brush; what stands on the `shelf` tells it itself. `sheet` is the name
    of the sheet that lies in the tray."""

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
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setFixedWidth(SIZE)
        self._area.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self._area.setWidget(self.tray)
        self.add(row(None, self._area, None), wide=True)
        self.shelf = Shelf(services.images)
        self.add(row(None, self.shelf, None), wide=True)

    def begin(self, level: Level | None) -> None:
        """Lay the likeliest sheet in the tray, if none lies there: a tileset that the open level
        uses, else one of tiles as large as cells, else any tileset, else what is selected."""
        if self.sheet:
            return
        project = self._desk.project
        tile = project.rules.tile
        found = [sheet for sheet in project.sheets if sheet.kind == "tileset" and sheet.pieces]
        tilesets = [s.name for s in sorted(found, key=lambda sheet: tile_of(sheet) != tile)]
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
