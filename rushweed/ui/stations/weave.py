"""Weave: levels."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QStackedWidget, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN
from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.levels import bounds, set_cells, set_start
from rushweed.core.weave.painting import (
    ERASER,
    Brush,
    fill,
    mirrored,
    pick,
    quarter_turned,
    single,
    stroke,
)
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.level_picture import LevelPicture
from rushweed.ui.canvas.marks import draw_plumb_line, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Check, Chips, Choice, button, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.rack import begin_level
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Station
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.invitation import Invitation
from rushweed.ui.stations.level_marks import draw_brush, draw_cell_frame, draw_grid
from rushweed.ui.stations.tray import Tray
from rushweed.ui.text import tr

TOOLS = ("Brush", "Fill", "Erase", "Pick up", "Start")
KEYS = {
    Qt.Key.Key_D: "Brush",
    Qt.Key.Key_F: "Fill",
    Qt.Key.Key_E: "Erase",
    Qt.Key.Key_U: "Pick up",
}
DEFAULT_VIEW = (40, 22)
"""Cells an empty level shows."""


class Weave(Station):
    """Paints the active layer of the open level."""

    faces = ("Level",)
    uses_levels = True

    def make_table(self, face: int) -> QWidget:

        self._brush: Brush | None = None
        self._tool = "Brush"
        self._sheet_name = ""
        self._shown = ""
        self._picture = LevelPicture(self.services.images)
        self._canvas = Canvas(self._paint)
        self._canvas.tool = self._press
        self._canvas.setCursor(Qt.CursorShape.CrossCursor)
        self._canvas.pressed_key.connect(self._key)
        self._canvas.hovered.connect(self._hover)
        self._canvas.view_changed.connect(lambda view: self._tell(self._canvas.pointer))
        self._pages = QStackedWidget()
        self._pages.addWidget(self._canvas)
        self._pages.addWidget(
            Invitation(
                tr("There is no level yet."),
                tr("A level has no edges: it grows wherever you paint."),
                tr("Begin a level"),
                lambda: begin_level(self.desk),
            )
        )
        self._hovered_cell: Key | None = None
        return self._pages

    def make_tools(self, face: int) -> QWidget:
        tips = [
            tr("Draw with the brush  D"),
            tr("Fill what hangs together  F"),
            tr("Rub out  E"),
            tr("Pick up a tile from the level  U, or second button"),
            tr("Say where the walker starts"),
        ]
        self._tools = Chips(TOOLS, tool=True, tips=tips, name=tr("Tool"))
        self._tools.chosen.connect(self._take)
        self._tools.show_choice(self._tool)
        self._grid = Check(tr("Grid"), lambda on: self._canvas.update())
        self._grid.setChecked(True)
        self._fade = Check(tr("Fade others"), lambda on: self._canvas.update())
        zoom = ZoomChips(self._canvas, (1, 2, 3), fit=False)
        return tools_row(self._tools, self._grid, self._fade, zoom, optional=(self._fade, zoom))

    def make_slip(self, face: int) -> QWidget:
        self._tray_group = Group(1, tr("Tray"))
        self._sheets = Choice(tr("Sheet in the tray"), 150)
        self._sheets.picked.connect(self._choose_sheet)
        self._tray = Tray(self.services.images)
        self._tray.picked.connect(self._pick_brush)
        self._tray_group.beside_title(self._sheets)
        self._tray_group.add(row(None, self._tray, None), wide=True)
        self._brush_group = Group(2, tr("Brush"))
        turns = (
            button(
                tr("Flip across"), partial(self._turn, FLIPPED), tip=tr("Mirror left and right  X")
            ),
            button(
                tr("Flip down"),
                partial(self._turn, FLIPPED_DOWN),
                tip=tr("Mirror top and bottom  Y"),
            ),
            button(tr("Turn"), self._turn_round, tip=tr("Turn by a quarter  R")),
        )
        self._brush_group.add(row(*turns, None, spacing=4))
        return SlipPage([self._tray_group, self._brush_group])

    def canvas(self) -> Canvas:
        return self._canvas

    def enter(self) -> None:
        if not self._sheet_name:
            self._sheet_name = self._likely_sheet()
        self.refresh()

    def refresh(self) -> None:
        level = self._level()
        self._pages.setCurrentIndex(0 if level else 1)
        if level is not None:
            self._show_level(level)
        self._show_tray()
        self._canvas.update()

    def change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets or len(before.levels) != len(after.levels):
            self.refresh()
        elif before.levels is not after.levels and not self._canvas.busy:
            self._canvas.update()

    def _level(self) -> Level | None:
        name = self.selection.level
        return self.project.level(name) if name else None

    def _show_level(self, level: Level) -> None:
        width, height = self.project.rules.tile
        area = bounds(level)
        if not area.area:
            area = Rect(0, 0, *DEFAULT_VIEW)
        content = Rect(area.x * width, area.y * height, area.width * width, area.height * height)
        if level.name != self._shown:
            self._shown = level.name
            self._canvas.content = content
            self._open_view(level, content)
        else:
            self._canvas.content = content

    def _open_view(self, level: Level, content: Rect) -> None:
        """Begin at twice the size, with the whole height in view if it fits, at the start."""
        scale = 2.0
        canvas = self._canvas
        canvas.centre_on(content, scale)
        view = canvas.view
        if content.width * scale > canvas.width():
            start = level.start.x if level.start else content.x
            left = min(
                max(start - canvas.width() / scale / 2.6, content.x),
                content.right - canvas.width() / scale,
            )
            view = replace(view, left=round(-left * scale))
        if content.height * scale > canvas.height():
            middle = level.start.y if level.start else content.y + content.height / 2
            top = min(
                max(middle - canvas.height() / scale * 0.55, content.y),
                content.bottom - canvas.height() / scale,
            )
            view = replace(view, top=round(-top * scale))
        canvas.set_view(view)

    def _likely_sheet(self) -> str:
        """A tileset that the open level uses, else any tileset, else what is selected."""
        tilesets = [s.name for s in self.project.sheets if s.kind == "tileset" and s.pieces]
        level = self._level()
        if level is not None:
            used = set().union(*(layer.cells.used() for layer in level.layers))
            for name in tilesets:
                if used & {p.number for p in self.project.sheet(name).pieces}:
                    return name
        return next(iter(tilesets), self.selection.sheet)

    def _tray_sheet(self) -> Sheet | None:
        usable = [s for s in self.project.sheets if s.pieces]
        return next(
            (s for s in usable if s.name == self._sheet_name), usable[0] if usable else None
        )

    def _show_tray(self) -> None:
        sheet = self._tray_sheet()
        names = [s.name for s in self.project.sheets if s.pieces]
        self._sheets.show_choices(names, sheet.name if sheet else "")
        self._tray.show_sheet(
            sheet, frozenset(self._brush.numbers()) if self._brush else frozenset()
        )
        self._tell_brush()

    def _tell_brush(self) -> None:
        group = self._brush_group
        if self._brush is None:
            group.aside.setText("")
            group.result.tell(tr("Pick a tile in the tray, or drag over a block of them."))
            return
        numbers = self._brush.numbers()
        found = [self.project.find(number) for number in sorted(numbers)]
        names = [shown_name(*pair) for pair in found if pair]
        metrics = group.aside.fontMetrics()
        group.aside.setText(metrics.elidedText(", ".join(names), Qt.TextElideMode.ElideRight, 180))
        shaped = sum(bool(pair and pair[1].shapes) for pair in found)
        size = f"{self._brush.width} × {self._brush.height}"
        solid = tr("No shape.") if not shaped else tr("{n} with a shape.").format(n=shaped)
        group.result.tell(tr("{size} tiles. {solid}").format(size=size, solid=solid))

    # -- acts --------------------------------------------------------------------------

    def _take(self, name: str) -> None:
        self._tool = name
        self._tools.show_choice(name)
        self._canvas.update()

    def _choose_sheet(self, name: str) -> None:
        self._sheet_name = name
        self.desk.select(replace(self.selection, sheets=(name,), pieces=frozenset()))
        self._show_tray()

    def _pick_brush(self, brush: Brush) -> None:
        self._brush = brush
        if self._tool not in ("Brush", "Fill"):
            self._take("Brush")
        self.desk.select(replace(self.selection, pieces=frozenset(brush.numbers())))
        self._show_tray()

    def _turn(self, flip: int) -> None:
        """Mirror the brush, as a whole and tile by tile."""
        if self._brush is not None:
            self._take_brush(mirrored(self._brush, flip))

    def _turn_round(self) -> None:
        """Turn the brush by a quarter, clockwise."""
        if self._brush is not None:
            self._take_brush(quarter_turned(self._brush))

    def _take_brush(self, brush: Brush) -> None:
        self._brush = brush
        self._tell_brush()
        self._canvas.update()

    def _cell(self, place: Point) -> Key:
        width, height = self.project.rules.tile
        return int(place.x // width), int(place.y // height)

    def _press(self, press: Pointer) -> Stroke | None:
        level = self._level()
        if level is None:
            return None
        if press.button == 2 or self._tool == "Pick up":
            self._pick_up(level, self._cell(press.place))
        elif self._tool == "Start":
            self._set_start(level, press)
        elif self._tool == "Fill":
            self._fill(level, self._cell(press.place))
        else:
            brush = ERASER if self._tool == "Erase" else self._brush
            if brush is None:
                self.desk.refused.emit(tr("Pick a tile in the tray first."))
                return None
            return self._draw(press, level, brush)
        return None

    def _draw(self, press: Pointer, level: Level, brush: Brush) -> Stroke:
        """Paint along the pointer's way, cell by cell without gaps; one stroke is one undo."""
        name, index = level.name, self.selection.layer
        layer = level.layers[index]
        verb = tr("Rubbed out on {layer}") if brush is ERASER else tr("Painted on {layer}")
        drag = self.desk.drag(verb.format(layer=layer.name))
        cells = layer.cells
        last = self._cell(press.place)
        try:
            cells = self._lay(drag, name, index, cells, brush, last, last)
            while True:
                event = yield
                here = self._cell(event.place)
                if here != last:
                    cells = self._lay(drag, name, index, cells, brush, last, here)
                    last = here
                if event.released:
                    drag.end()
                    self.desk.announce(drag.before)
                    return
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
        finally:
            self.desk.abandon_drag()
            self._canvas.update()

    def _lay(self, drag, level: str, index: int, cells, brush: Brush, start: Key, end: Key):  # type: ignore[no-untyped-def]
        """One more bit of a stroke; paints anew only where it went."""
        painted = stroke(cells, brush, start, end)
        if painted is not cells:
            drag.further(lambda project: set_cells(project, level, index, painted))
            width, height = self.project.rules.tile
            left, right = sorted((start[0], end[0]))
            top, bottom = sorted((start[1], end[1]))
            self._canvas.update_area(
                Rect(
                    left * width,
                    (top - 4) * height,
                    (right - left + brush.width) * width,
                    (bottom - top + brush.height + 4) * height,
                )
            )
        return painted

    def _fill(self, level: Level, cell: Key) -> None:
        if self._brush is None:
            self.desk.refused.emit(tr("Pick a tile in the tray first."))
            return
        brush, index = self._brush, self.selection.layer
        layer = level.layers[index]
        self.desk.do(
            tr("Filled on {layer}").format(layer=layer.name),
            lambda p: set_cells(p, level.name, index, fill(layer.cells, brush, cell)),
        )

    def _pick_up(self, level: Level, cell: Key) -> None:
        """Take the tile that lies there, from the active layer first, then from the front."""
        layers = list(level.layers)
        for layer in (layers[self.selection.layer], *reversed(layers)):
            if layer.visible and layer.cells.at(*cell)[0]:
                self._pick_brush(pick(layer.cells, Rect(*cell, 1, 1)))
                number = next(iter(self._brush.numbers())) if self._brush else 0
                found = self.project.find(number)
                if found is not None:
                    self._sheet_name = found[0].name
                self._show_tray()
                return

    def _set_start(self, level: Level, press: Pointer) -> None:
        width, height = self.project.rules.tile
        column, r = self._cell(press.place)
        start = Point(column * width + width // 2, (r + 1) * height)
        self.desk.do(
            tr("Put the walker's start in {level}").format(level=level.name),
            lambda p: set_start(p, level.name, start),
        )

    def _key(self, event: QKeyEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return
        key = Qt.Key(event.key())
        others: dict[Qt.Key, Callable[[], object]] = {
            Qt.Key.Key_X: partial(self._turn, FLIPPED),
            Qt.Key.Key_Y: partial(self._turn, FLIPPED_DOWN),
            Qt.Key.Key_R: self._turn_round,
            Qt.Key.Key_H: self._grid.click,
        }
        if key in KEYS:
            self._take(KEYS[key])
            event.accept()
        elif key in others:
            others[key]()
            event.accept()

    def _hover(self, place: Point | None) -> None:
        cell = self._cell(place) if place is not None else None
        if cell != self._hovered_cell:
            for old in (self._hovered_cell, cell):
                if old is not None:
                    self._canvas.update_area(self._ghost_area(old))
            self._hovered_cell = cell
            self._tell(place)

    def _ghost_area(self, cell: Key) -> Rect:
        width, height = self.project.rules.tile
        brush = self._brush or single(0)
        return Rect(cell[0] * width, cell[1] * height, brush.width * width, brush.height * height)

    def _tell(self, place: Point | None) -> None:
        level = self._level()
        over = ""
        if level is not None and level.layers:
            layer = level.layers[self.selection.layer]
            over = layer.name
            if place is not None:
                column, r = self._cell(place)
                over += f"   cell {column}, {r}"
                found = self.project.find(layer.cells.at(column, r)[0])
                over += f"   {shown_name(*found)}" if found else ""
        self.services.status(over, f"×{self._canvas.view.scale:g}")

    # -- painting ----------------------------------------------------------------------

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        level = self._level()
        if level is None:
            return
        bright = self.selection.layer if self._fade.isChecked() else -1
        self._picture.draw(painter, canvas, self.project, level, bright)
        if self._grid.isChecked():
            draw_grid(painter, canvas, self.project.rules.tile)
        self._paint_ghost(painter)
        if level.start is not None:
            place = canvas.view.to_screen(level.start.x, level.start.y)
            head = place.y - (self.project.walker.body.height + 3) * canvas.view.scale
            draw_plumb_line(painter, place.x, head - 22, head, place.y)
            draw_tag(
                painter,
                place.x,
                head - 38,
                tr("walker starts here"),
                MARKS.paper,
                MARKS.ink,
                MARKS.ink,
                align="middle",
            )
        layer = level.layers[self.selection.layer]
        words = tr("{layer} is locked") if layer.locked else tr("Painting on {layer}")
        draw_tag(
            painter, 12, 10, words.format(layer=layer.name), MARKS.ink, MARKS.paper, weight=600
        )

    def _paint_ghost(self, painter: QPainter) -> None:
        """What a click will do, under the pointer."""
        cell = self._hovered_cell
        if cell is None or self._canvas.busy:
            return
        width, height = self.project.rules.tile
        area = Rect(cell[0] * width, cell[1] * height, width, height)
        if self._tool in ("Brush", "Fill") and self._brush is not None:
            area = self._ghost_area(cell)
            draw_brush(painter, self._canvas, self.services.images, self.project, cell, self._brush)
        draw_cell_frame(painter, self._canvas.to_screen(area))
