"""Hems: taken to draw with, made of tiles, their marks put right."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from operator import attrgetter

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.gather.art import picture_key
from rushweed.core.project.drawing_sets import Hem, HemTile, HemWay
from rushweed.core.project.project import Project, free_name
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.weave.finding_hems import find_hems, is_new
from rushweed.core.weave.hems import propose_hem, with_hem, with_tiles, without_hem, without_tile
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.shell.binding import Bindings
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.weave.held import Held

WAYS: dict[HemWay, str] = {"all around": "All around", "sides": "Sides", "corners": "Corners"}
REST = 0.3
"""Seconds in which the station is painted before tilesets are looked through."""
WAY_TIPS = (
    "By all eight neighbours",
    "By the four sides alone",
    "By the area at the four corners of each tile",
)
TILE, COLUMNS = 44, 5


class HemGroup(Group):
    """Hems: taken to draw with, made of the brush's tiles, their marks put right."""

    taken = pyqtSignal(str)

    def __init__(self, number: int, services: Services, held: Held) -> None:
        super().__init__(number, say("Hem"))
        self._desk, self._jobs, self._held = services.desk, services.jobs, held
        self._found: dict[object, list[tuple[int, ...]]] = {}
        self._looked_at: object = None
        self._hems: Choice[str] = Choice(say("Hem to draw with"), 140)
        self._hems.entered.connect(self._take)
        self.beside_title(self._hems)
        make = button(
            say("Make one of the brush"),
            self._make,
            tip=say("Its tiles finish the edges of an area; marks are proposed from the pixels"),
        )
        self._take_found = button(say("Take what was found"), self._make_found)
        self._add = button(
            "",
            self._add_tiles,
            tip=say("Take tiles in the tray, anywhere, then add them to the hem"),
        )
        self._last = ""
        self._remove = button(say("Take away"), self._take_away, "small")
        tips = [say(tip) for tip in WAY_TIPS]
        way = Chips(said(WAYS), tips=tips, name=say("Chosen by"))
        goes_on = Check(say("Goes on past the end"))
        self._meets: Choice[str] = Choice(say("Hem that it joins"), 110)
        self._bound = Bindings(
            self._desk, self._in_hand, lambda: self._held.hem, at=lambda: self._held.hem
        )
        for control, point in ((way, "way"), (goes_on, "goes_on")):
            self._bound.bind(control, attrgetter(point), _edit_of(point), say("Changed {what}"))
        self._bound.bind(
            self._meets,
            lambda hem: next(iter(hem.meets), ""),
            lambda project, hem, name: _changed(project, hem, meets=(name,) if name else ()),
            say("Changed {what}"),
        )
        self.marks = HemMarks(services.desk, services.images)
        self.marks.marked.connect(self._mark)
        self.marks.removed.connect(self._remove_tile)
        self._parts = [way, goes_on, self._meets, self.marks, self._remove]
        self._joins = label(say("Joins"))
        self._parts.append(self._joins)
        self.add(row(self._take_found, None))
        self.add(row(make, None, self._remove))
        self.add(row(self._add, None))
        self.add(self.marks)
        self.add(row(way, None))
        self.add(row(goes_on, None))
        self.add(row(self._joins, self._meets, None))

    def refresh(self, lacking: int = 0) -> None:
        """Show the hem in hand."""
        hems = self._desk.project.hems
        hem = self._hem()
        if hem is None and self._held.hem:
            self._held.hem = ""
        self._hems.offer({"": say("none")} | {one.name: one.name for one in hems})
        self._hems.show_value(hem.name if hem else "")
        for part in self._parts:
            part.setVisible(hem is not None)
        self.marks.show_hem(hem)
        offered = self._offered() if hem is None else ()
        self._take_found.setVisible(bool(offered))
        self._show_add()
        if hem is None:
            told = say("This tileset has what looks like a hem of {n}.", n=len(offered))
            self.result.tell(told if offered else "")
            return
        others = {one.name: one.name for one in hems if one.name != hem.name}
        self._meets.offer({"": say("none")} | others)
        self._bound.show()
        what = counted(len(hem.tiles), "tile", "tiles")
        told = say("{what}; click a part to mark it, a tile with the second button to drop it.")
        told = told.format(what=what)
        if lacking:
            spots = counted(lacking, "spot", "spots")
            told = say("No tile for {spots}: the nearest stands there.", spots=spots)
        self.result.tell(told, warns=lacking > 0)

    def _hem(self) -> Hem | None:
        return self._named(self._held.hem)

    def _take(self, name: str) -> None:
        self._held.hem = name
        self._last = name or self._last
        self.refresh()
        self.taken.emit(self._held.hem)

    def look_at(self, sheet: Sheet | None) -> None:
        """Look in the background whether hems lie in a tileset, once for each picture and cut."""
        if sheet is None or sheet.kind != "tileset":
            self._looked_at = None
            return
        key = (picture_key(sheet), tuple(piece.rect for piece in sheet.pieces))
        self._looked_at = key
        if key in self._found:
            return
        self._found[key] = []
        art = self._desk.art

        def work() -> Iterator[tuple[float, str, list[tuple[int, ...]]]]:
            hems: list[tuple[int, ...]] = []
            time.sleep(REST)
            for found in find_hems(sheet, art.picture(sheet)):
                hems = [*hems, found] if found else hems
                yield 0.0, "", hems

        def arrived(hems: list[tuple[int, ...]] | None) -> None:
            if hems and hems != self._found[key]:
                self._found[key] = hems
                self.refresh()

        self._jobs.start(work, arrived, lambda _: None, arrived, quiet=True)

    def _offered(self) -> tuple[int, ...]:
        """The pieces of a hem that was found and that nobody has made yet."""
        found = self._found.get(self._looked_at, [])
        return next((one for one in found if is_new(one, self._desk.project)), ())

    def _make_found(self) -> None:
        self._make_of(self._offered())

    def _make(self) -> None:
        self._make_of(sorted(self._held.brush.numbers()) if self._held.brush else [])

    def _make_of(self, numbers: Sequence[int]) -> None:
        project, art = self._desk.project, self._desk.art
        name = free_name(say("Hem"), {one.name for one in project.hems})
        try:
            found = [pair for pair in map(project.find, numbers) if pair]
            hem = propose_hem(name, {pair[1].number: art.piece(*pair) for pair in found})
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        words = say("Made {name} of {n} tiles", name=name, n=len(hem.tiles))
        if self._desk.do(words, lambda p: with_hem(p, hem)):
            self._take(name)

    def _show_add(self) -> None:
        """Offer to add the brush's tiles to the hem that was in hand last."""
        hem = self._named(self._last)
        brush = self._held.brush
        new = brush.numbers() - {tile.piece for tile in hem.tiles} if hem and brush else set()
        self._add.setVisible(bool(new) and not self._held.hem)
        self._add.setText(
            say("Add {tiles} to {hem}", tiles=counted(len(new), "tile", "tiles"), hem=self._last)
        )

    def _named(self, name: str) -> Hem | None:
        return next((one for one in self._desk.project.hems if one.name == name), None)

    def _add_tiles(self) -> None:
        hem, brush, project = self._named(self._last), self._held.brush, self._desk.project
        if hem is None or brush is None:
            return
        numbers = [*(tile.piece for tile in hem.tiles), *sorted(brush.numbers())]
        try:
            found = [pair for pair in map(project.find, numbers) if pair]
            pictures = {pair[1].number: self._desk.art.piece(*pair) for pair in found}
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        new = sorted(brush.numbers())
        words = say("Added tiles to {name}", name=hem.name)
        if self._desk.do(words, lambda p: with_hem(p, with_tiles(hem, pictures, new))):
            self._take(hem.name)

    def _remove_tile(self, piece: int) -> None:
        hem = self._hem()
        if hem is not None:
            words = say("Took a tile from {name}", name=hem.name)
            self._desk.do(words, lambda p: with_hem(p, without_tile(hem, piece)))

    def _take_away(self) -> None:
        name = self._held.hem
        self._desk.do(say("Took {name} away", name=name), lambda p: without_hem(p, name))
        self._take("")

    def _mark(self, piece: int, parts: int) -> None:
        hem = self._hem()
        if hem is not None:
            tiles = tuple(
                HemTile(t.piece, parts if t.piece == piece else t.parts, t.weight)
                for t in hem.tiles
            )
            words = say("Changed {name}", name=hem.name)
            self._desk.do(words, lambda p: _changed(p, hem.name, tiles=tiles))

    def _in_hand(self) -> list[Hem]:
        hem = self._hem()
        return [hem] if hem else []


def _changed(project: Project, name: str, /, **changes: object) -> Project:
    """The project with a hem changed."""
    hem = next((one for one in project.hems if one.name == name), None)
    return with_hem(project, replace(hem, **changes)) if hem else project  # type: ignore[arg-type]


def _edit_of(point: str) -> Callable[[Project, str, object], Project]:
    return lambda project, name, value: _changed(project, name, **{point: value})


class HemMarks(QWidget):
    """The tiles of a hem, each with its nine parts; a click marks a part. `marked` carries the
    piece and its parts, `removed` a piece that the second button was pressed on."""

    marked = pyqtSignal(int, int)
    removed = pyqtSignal(int)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self._hem: Hem | None = None
        self.setAccessibleName(say("Parts of the hem's tiles that belong to the area"))

    def show_hem(self, hem: Hem | None) -> None:
        """Show another hem."""
        self._hem = hem
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        count = len(self._hem.tiles) if self._hem else 0
        return QSize(COLUMNS * (TILE + 4), -(-count // COLUMNS) * (TILE + 4))

    def place_of(self, index: int, part: int = 4) -> QRectF:
        """Where a part of a tile is."""
        line, column = divmod(index, COLUMNS)
        down, across = divmod(part, 3)
        side = TILE / 3
        return QRectF(
            column * (TILE + 4) + across * side, line * (TILE + 4) + down * side, side, side
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for index, tile in enumerate(self._hem.tiles if self._hem else ()):
            for part in range(9):
                if self.place_of(index, part).contains(event.position()):
                    if event.button() == Qt.MouseButton.RightButton:
                        self.removed.emit(tile.piece)
                        return
                    self.marked.emit(tile.piece, tile.parts ^ (1 << part))
                    return

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        wash = QColor(MARKS.tide)
        wash.setAlpha(120)
        for index, tile in enumerate(self._hem.tiles if self._hem else ()):
            whole = self.place_of(index, 0)
            whole.setSize(whole.size() * 3)
            draw_checker(painter, whole, 5)
            painter.drawImage(whole, self._images.number(self._desk.project, tile.piece))
            for part in range(9):
                place = self.place_of(index, part)
                if tile.parts >> part & 1:
                    painter.fillRect(place.adjusted(1.5, 1.5, -1.5, -1.5), wash)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.colours.strong_line, 1))
            painter.drawRect(whole)
        painter.end()
