"""Strokes on the active layer: brush, line, box, fill, rubbing out, hems, all of them mirrored."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QTimer

from rushweed.core.orientation import FLIPPED
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.hems import Around, around, draw_hem
from rushweed.core.weave.levels import bounds, punched, set_cells
from rushweed.core.weave.painting import (
    ERASER,
    Brush,
    dabbed,
    fill,
    line,
    mirror_places,
    mirrored,
    rectangle,
)
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk, Drag
from rushweed.ui.stations.weave.held import Held
from rushweed.ui.text import tr

FIRST = tr("Pick a tile in the tray first.")


class Strokes:
    """The tools that change cells. Each stroke is one step of undo."""

    def __init__(self, desk: Desk, canvas: Canvas, held: Held) -> None:
        self._desk, self._canvas, self._held = desk, canvas, held
        self.lacking: frozenset[Key] = frozenset()
        self._from: Key | None = None
        self.on_done: Callable[[], None] = lambda: None
        self.within: Callable[[], Rect | None] = lambda: None
        self._soon = QTimer(canvas)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(lambda: self.on_done())

    def cell(self, place: Point) -> Key:
        """The cell that a place of the level lies in."""
        width, height = self._desk.project.rules.tile
        return int(place.x // width), int(place.y // height)

    def press(self, press: Pointer, level: Level) -> Stroke | None:
        """Begin a stroke with the tool in hand."""
        tool = self._held.tool
        rubs = tool == "Erase"
        brush = ERASER if rubs else self._held.brush
        if brush is None and not self._held.hem:
            self._desk.refused.emit(FIRST)
            return None
        if tool == "Fill":
            self._fill(level, self.cell(press.place))
            return None
        if tool in ("Line", "Box"):
            return self._draw_between(press, level, brush or ERASER, tool == "Box")
        return self._draw(press, level, brush or ERASER, rubs)

    def repeat(self, level: Level) -> None:
        """The last stroke again, from where the pointer is."""
        pointer, way = self._canvas.pointer, self._held.stroke
        if pointer is None or not way:
            self._desk.refused.emit(tr("Draw a stroke first, then repeat it where the pointer is."))
            return
        column, row = self.cell(pointer)
        places = [(column + across, row + down) for across, down in way]
        rubs = self._held.tool == "Erase"
        index = self._desk.selection.layer
        cells = self._drawn(level, level.layers[index].cells, places, rubs)
        words = tr("Repeated a stroke on {layer}").format(layer=level.layers[index].name)
        self._desk.do(words, lambda p: set_cells(p, level.name, index, cells))

    def guard(self, level: Level, cell: Key) -> tuple[str, str, int | None] | None:
        """What painting here would replace that serves another purpose."""
        held = self._held
        if held.tool not in ("Brush", "Line", "Box") or (held.brush is None and not held.hem):
            return None
        numbers = held.brush.numbers() if held.brush and not held.hem else self._hem_numbers()
        size = (held.brush.width, held.brush.height) if held.brush and not held.hem else (1, 1)
        layer = self._desk.selection.layer
        return punched(self._desk.project, level.name, layer, numbers, Rect(*cell, *size))

    def preview(self, level: Level, cell: Key) -> Cells | None:
        """What a line or box under way would leave; None while there is none."""
        if self._from is None or self._held.tool not in ("Line", "Box"):
            return None
        cells = level.layers[self._desk.selection.layer].cells
        return self._between(level, cells, self._from, cell, self._held.tool == "Box")

    def _draw(self, press: Pointer, level: Level, brush: Brush, rubs: bool) -> Stroke:
        """Paint along the pointer's way, cell by cell without gaps."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        verb = tr("Rubbed out on {layer}") if rubs else tr("Painted on {layer}")
        drag = self._desk.drag(verb.format(layer=layer.name))
        cells = layer.cells
        last = first = self.cell(press.place)
        way: dict[Key, None] = {}
        try:
            cells = self._lay(drag, level, index, cells, [first], brush, rubs)
            way[0, 0] = None
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last:
                    path = list(line(last, here))[1:]
                    cells = self._lay(drag, level, index, cells, path, brush, rubs)
                    way.update(dict.fromkeys((x - first[0], y - first[1]) for x, y in path))
                    last = here
                if event.released:
                    drag.end()
                    self._desk.announce(drag.before)
                    self._held.stroke = tuple(way)
                    return
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        finally:
            self._desk.abandon_drag()
            self._soon.start()

    def _draw_between(self, press: Pointer, level: Level, brush: Brush, box: bool) -> Stroke:
        """A line or a box between where one presses and where one lets go."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        words = tr("Drew a box on {layer}") if box else tr("Drew a line on {layer}")
        drag = self._desk.drag(words.format(layer=layer.name))
        self._from = first = last = self.cell(press.place)
        try:
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last or event.released:
                    last = here
                    cells = self._between(level, layer.cells, first, here, box)
                    drag.to(lambda p, c=cells: set_cells(p, level.name, index, c))  # type: ignore[misc]
                    self._canvas.update()
                if event.released:
                    drag.end()
                    self._desk.announce(drag.before)
                    return
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        finally:
            self._from = None
            self._desk.abandon_drag()
            self._soon.start()

    def _between(self, level: Level, cells: Cells, first: Key, last: Key, box: bool) -> Cells:
        if not box:
            return self._drawn(level, cells, list(line(first, last)), rubs=False)
        left, right = sorted((first[0], last[0]))
        top, bottom = sorted((first[1], last[1]))
        area = Rect(left, top, right - left + 1, bottom - top + 1)
        if self._held.hem:
            places = [(x, y) for y in range(top, bottom + 1) for x in range(left, right + 1)]
            return self._drawn(level, cells, places, rubs=False)
        assert self._held.brush is not None
        cells = rectangle(cells, self._held.brush, area)
        if self._held.mirror is not None:
            x = round(2 * self._held.mirror) - area.right
            other = mirrored(self._held.brush, FLIPPED)
            cells = rectangle(cells, other, Rect(x, top, area.width, area.height))
        return cells

    def _lay(
        self,
        drag: Drag,
        level: Level,
        index: int,
        cells: Cells,
        places: list[Key],
        brush: Brush,
        rubs: bool,
    ) -> Cells:
        """One more bit of a stroke; paints anew only where it went."""
        painted = self._drawn(level, cells, places, rubs)
        if painted is not cells:
            drag.further(lambda project: set_cells(project, level.name, index, painted))
            self._update(places, brush)
            if self._held.mirror is not None:
                self._update(mirror_places(places, self._held.mirror, brush.width), brush)
        return painted

    def _drawn(self, level: Level, cells: Cells, places: Iterable[Key], rubs: bool) -> Cells:
        """Cells after drawing at some places, and at their mirror images."""
        held = self._held
        places = list(places)
        axis = held.mirror
        if held.hem and (not rubs or self._hem_rubs(cells, places)):
            both = places if axis is None else [*places, *mirror_places(places, axis)]
            change = draw_hem(cells, self._hem(), self._around(level), both, rubs)
            self.lacking = change.lacking
            return change.cells
        brush = ERASER if rubs else held.brush
        assert brush is not None
        cells = dabbed(cells, brush, places)
        if axis is None:
            return cells
        other = brush if rubs else mirrored(brush, FLIPPED)
        return dabbed(cells, other, mirror_places(places, axis, brush.width))

    def _fill(self, level: Level, cell: Key) -> None:
        index, held = self._desk.selection.layer, self._held
        layer = level.layers[index]
        project = self._desk.project
        if held.brush is None:
            self._desk.refused.emit(FIRST)
            return
        brush, within = held.brush, self.within()
        grounds = {
            piece.number: piece.facts.ground
            for _, piece in project.pieces()
            if piece.facts.ground is not None
        }

        def edit(project: Project) -> Project:
            cells = fill(layer.cells, brush, cell, held.fill_by, grounds, within)
            return set_cells(project, level.name, index, cells)

        self._desk.do(tr("Filled on {layer}").format(layer=layer.name), edit)

    def _hem_rubs(self, cells: Cells, places: list[Key]) -> bool:
        numbers = self._hem_numbers()
        return any(cells.at(*place)[0] in numbers for place in places)

    def _hem(self) -> Hem:
        for hem in self._desk.project.hems:
            if hem.name == self._held.hem:
                return hem
        raise Refusal(f"There is no hem called “{self._held.hem}” any more. Take another one.")

    def _hem_numbers(self) -> set[int]:
        hems = (hem for hem in self._desk.project.hems if hem.name == self._held.hem)
        return {tile.piece for hem in hems for tile in hem.tiles}

    def _around(self, level: Level) -> Around:
        end = bounds(level)
        return around(self._desk.project, end if end.area > 1 else None)

    def _update(self, places: Iterable[Key], brush: Brush) -> None:
        width, height = self._desk.project.rules.tile
        columns, rows = zip(*places, strict=True)
        rim = 1 if self._held.hem else 0
        left, top = min(columns) - rim, min(rows) - 4
        across = max(columns) - left + brush.width + rim
        down = max(rows) - top + brush.height + rim
        self._canvas.update_area(Rect(left * width, top * height, across * width, down * height))
