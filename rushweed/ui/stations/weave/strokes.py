"""Strokes on the active layer: brush, line, box, fill, rubbing out, hems, all of them mirrored."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import partial

from PyQt6.QtCore import QTimer

from rushweed.core.orientation import FLIPPED
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.hems import Around, around, draw_hem
from rushweed.core.weave.holding import first_purpose, leave_others
from rushweed.core.weave.levels import bounds, change_cells
from rushweed.core.weave.painting import (
    ERASER,
    Brush,
    beside,
    dabbed,
    fill,
    fill_under,
    hollow,
    line,
    mirror_places,
    mirrored,
    rectangle,
    ring,
    room,
)
from rushweed.core.weave.purposes import Purposes
from rushweed.core.words import counted, say
from rushweed.ui.beside import Beside
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk, Drag
from rushweed.ui.stations.weave.fitting_layer import GUARDED, go_to_fitting_layer
from rushweed.ui.stations.weave.held import FIRST, Held
from rushweed.ui.stations.weave.in_hand import (
    guard_at,
    guarded,
    hem_in_hand,
    hem_lies_at,
    numbers_in_hand,
)

WAITED_FOR = 250_000
"""Cells of a level that are filled while one waits."""
NINE = (3, 3)


@dataclass(slots=True)
class _Way:
    """A stroke under way on a layer: its cells when it began and as it leaves them, and where the
    brush was put down."""

    level: str
    index: int
    begun: Cells
    way: dict[Key, None] = field(default_factory=dict)
    painted: Cells = field(init=False)

    def __post_init__(self) -> None:
        self.painted = self.begun


class Strokes:
    """The tools that change cells. Each stroke is one step of undo."""

    def __init__(self, desk: Desk, beside: Beside, canvas: Canvas, held: Held) -> None:
        self._desk, self._beside, self._canvas, self._held = desk, beside, canvas, held
        self.lacking: frozenset[Key] = frozenset()
        self._from: Key | None = None
        self._spared = 0
        self._rubbed = ""
        self._walls = 0
        self.on_done: Callable[[], None] = lambda: None
        self.within: Callable[[], Rect | None] = lambda: None
        self._soon = QTimer(canvas)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self._end)

    def _end(self) -> None:
        self.on_done()

    def cell(self, place: Point) -> Key:
        """The cell that a place of the level lies in."""
        width, height = self._desk.project.rules.tile
        return int(place.x // width), int(place.y // height)

    def press(self, press: Pointer, level: Level) -> Stroke | None:
        """Begin a stroke with the tool in hand."""
        tool = self._held.tool
        rubs = tool == "Erase"
        if not self._in_hand():
            return None
        if self._held.others == "aside":
            level = self._aside(level, self.cell(press.place))
        brush = ERASER if rubs else self._held.brush
        if tool == "Fill":
            self._fill(level, self.cell(press.place))
            return None
        if tool in ("Line", "Box") or (tool == "Brush" and press.shift):
            return self._draw_between(press, level, brush or ERASER, tool != "Line")
        return self._draw(press, level, brush or ERASER, rubs)

    def repeat(self, level: Level) -> None:
        """The last stroke again, from where the pointer is."""
        pointer, way = self._canvas.pointer, self._held.stroke
        if pointer is None or not way:
            self._desk.refused.emit(
                say("Draw a stroke first, then repeat it where the pointer is.")
            )
            return
        if not self._in_hand():
            return
        column, row = self.cell(pointer)
        places = [(column + across, row + down) for across, down in way]
        rubs = self._held.tool == "Erase"
        index = self._desk.selection.layer
        self._rubbed = first_purpose(self._purposes(level), level.layers[index].cells, places)
        drawn = partial(self._drawn, level, places=places, rubs=rubs)
        words = say("Repeated a stroke on {layer}", layer=level.layers[index].name)
        self._desk.do(words, lambda p: change_cells(p, level.name, index, drawn))

    def _in_hand(self) -> bool:
        """Whether there is anything to draw or rub with; where there is not, that is said."""
        held = self._held
        if held.hem and all(hem.name != held.hem for hem in self._desk.project.hems):
            held.hem = ""
        if held.tool == "Erase" or held.brush is not None or held.hem:
            return True
        self._desk.refused.emit(FIRST)
        return False

    def _aside(self, level: Level, cell: Key) -> Level:
        """The level after going to the layer that fits what is drawn, where another kind lies."""
        project = self._desk.project
        guard = guard_at(self._desk, level, self._held, cell)
        if guard is None:
            return level
        go_to_fitting_layer(self._desk, guard, numbers_in_hand(project, self._held))
        now = self._desk.project.level(level.name)
        told = say("Painting on {layer}, for {kind} lies here.")
        layer = now.layers[self._desk.selection.layer].name
        self._desk.said.emit(told.format(layer=layer, kind=say(GUARDED[guard[0]])))
        return now

    def preview(self, level: Level, cell: Key) -> Cells | None:
        """What a line or box under way would leave; None while there is none."""
        if self._from is None:
            return None
        cells = level.layers[self._desk.selection.layer].cells
        return self._between(level, cells, self._from, cell, self._held.tool != "Line")

    def _draw(self, press: Pointer, level: Level, brush: Brush, rubs: bool) -> Stroke:
        """Paint along the pointer's way, cell by cell without gaps. A block lays itself beside
        itself, from where the stroke began."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        verb = say("Rubbed out on {layer}") if rubs else say("Painted on {layer}")
        self._rubbed = ""
        drag = self._desk.drag(verb.format(layer=layer.name))
        last = first = self.cell(press.place)
        stroke = _Way(level.name, index, layer.cells)
        try:
            self._lay(drag, stroke, [first], brush, rubs)
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last:
                    path = [beside(place, first, brush) for place in line(last, here)]
                    self._lay(drag, stroke, path, brush, rubs)
                    last = here
                if event.released:
                    drag.end()
                    self._tell_spared()
                    self._held.stroke = tuple((x - first[0], y - first[1]) for x, y in stroke.way)
                    return
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        finally:
            drag.abandon()
            self._soon.start()

    def _draw_between(self, press: Pointer, level: Level, brush: Brush, box: bool) -> Stroke:
        """A line or a box between where one presses and where one lets go."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        words = say("Drew a box on {layer}") if box else say("Drew a line on {layer}")
        drag = self._desk.drag(words.format(layer=layer.name))
        self._from = first = last = self.cell(press.place)
        is_nine = (brush.width, brush.height) == NINE and not self._held.hem
        thin = press.shift and (is_nine or self._held.tool == "Box")
        self._walls = self._held.walls or int(thin)
        try:
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last or event.released:
                    last = here
                    drawn = partial(self._between, level, first=first, last=here, box=box)
                    drag.to(partial(change_cells, level=level.name, index=index, edit=drawn))
                    self._canvas.update()
                if event.released:
                    drag.end()
                    self._tell_spared()
                    return
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        finally:
            self._from = None
            drag.abandon()
            self._soon.start()

    def _between(self, level: Level, cells: Cells, first: Key, last: Key, box: bool) -> Cells:
        if not box:
            way = dict.fromkeys(beside(p, first, self._brush()) for p in line(first, last))
            return self._drawn(level, cells, way, rubs=False)
        left, right = sorted((first[0], last[0]))
        top, bottom = sorted((first[1], last[1]))
        area = Rect(left, top, right - left + 1, bottom - top + 1)
        if self._held.hem:
            return self._drawn(level, cells, ring(area, self._walls), rubs=False)
        assert self._held.brush is not None
        if self._walls and (self._held.brush.width, self._held.brush.height) == NINE:
            return self._left_alone(level, cells, room(cells, self._held.brush, area, self._walls))
        drawn = rectangle(cells, self._held.brush, area)
        if self._held.mirror is not None:
            x = round(2 * self._held.mirror) - area.right
            other = mirrored(self._held.brush, FLIPPED)
            drawn = rectangle(drawn, other, Rect(x, top, area.width, area.height))
        return self._left_alone(level, cells, self._hollowed(cells, drawn, area))

    def _hollowed(self, before: Cells, drawn: Cells, area: Rect) -> Cells:
        """A box with its walls alone, and its mirror image; inside it is as it was."""
        rooms = [hollow(area, self._walls)]
        if self._held.mirror is not None:
            rooms.append(rooms[0].moved(round(2 * self._held.mirror) - area.right - area.x, 0))
        for inside in rooms:
            if inside.area:
                drawn = drawn.overlaid(inside, *before.window(inside))
        return drawn

    def _lay(
        self, drag: Drag, stroke: _Way, places: Iterable[Key], brush: Brush, rubs: bool
    ) -> None:
        """One more bit of a stroke; paints anew only where it went."""
        fresh = [place for place in dict.fromkeys(places) if place not in stroke.way]
        if not fresh:
            return
        level = self._desk.project.level(stroke.level)
        stroke.way.update(dict.fromkeys(fresh))
        if rubs and not self._rubbed:
            self._rubbed = first_purpose(self._purposes(level), stroke.begun, fresh)
        painted = self._drawn(level, stroke.painted, fresh, rubs)
        if painted is stroke.painted:
            return
        stroke.painted = painted
        way = tuple(stroke.way)

        def draw(cells: Cells) -> Cells:
            return painted if cells is stroke.begun else self._drawn(level, cells, way, rubs)

        drag.to(partial(change_cells, level=stroke.level, index=stroke.index, edit=draw))
        self._update(fresh, brush)
        if self._held.mirror is not None:
            self._update(mirror_places(fresh, self._held.mirror, brush.width), brush)

    def _drawn(self, level: Level, cells: Cells, places: Iterable[Key], rubs: bool) -> Cells:
        """Cells after drawing at some places, and at their mirror images."""
        held, project = self._held, self._desk.project
        places = list(places)
        axis = held.mirror
        if held.hem and (not rubs or hem_lies_at(project, held, cells, places)):
            both = places if axis is None else [*places, *mirror_places(places, axis)]
            change = draw_hem(cells, hem_in_hand(project, held), self._around(level), both, rubs)
            self.lacking = change.lacking
            return self._left_alone(level, cells, change.cells, rubs)
        brush = ERASER if rubs else held.brush or ERASER
        drawn = dabbed(cells, brush, places)
        if axis is not None:
            other = brush if rubs else mirrored(brush, FLIPPED)
            drawn = dabbed(drawn, other, mirror_places(places, axis, brush.width))
        return self._left_alone(level, cells, drawn, rubs)

    def _purposes(self, level: Level) -> Purposes:
        return Purposes(self._desk.project, self._desk.art, level)

    def _left_alone(self, level: Level, before: Cells, after: Cells, rubs: bool = False) -> Cells:
        """Cells after drawing, where tiles that serve another purpose stay, if that is wished. What
        is rubbed out is of the kind that the stroke met first."""
        purposes = self._purposes(level)
        purpose = guarded(self._desk.project, purposes, self._held)
        if rubs:
            purpose = self._rubbed if self._held.others != "replaced" else ""
        if not purpose:
            return after
        cells, count = leave_others(purposes, before, after, purpose)
        self._spared = max(self._spared, count)
        return cells

    def _tell_spared(self) -> None:
        """Say that something was left alone, once for each stroke."""
        if self._spared:
            told = say("{what} of another kind stayed; the brush says whether they should.")
            what = counted(self._spared, "tile", "tiles")
            self._desk.said.emit(told.format(what=what))
        self._spared = 0

    def fill_under(self, level: Level) -> None:
        """Fill below the surface of the active layer, in the selected part or all of it."""
        brush, within, index = self._held.brush, self.within(), self._desk.selection.layer
        if brush is None:
            self._desk.refused.emit(FIRST)
            return
        words = say("Filled under the surface on {layer}", layer=level.layers[index].name)
        edit = partial(fill_under, brush=brush, within=within)
        self._do(level, words, lambda p: change_cells(p, level.name, index, edit))

    def _do(self, level: Level, words: str, edit: Edit) -> None:
        """Make an edit that may be of all cells; beside the window where these are many."""
        many = bounds(level).area > WAITED_FOR
        self._beside.do(words, edit, (), lambda done: self._tell_spared(), takes_long=many)

    def _fill(self, level: Level, cell: Key) -> None:
        index, held = self._desk.selection.layer, self._held
        layer = level.layers[index]
        if held.brush is None:
            self._desk.refused.emit(FIRST)
            return
        brush, within = held.brush, self.within()

        def edit(project: Project) -> Project:
            grounds = {
                piece.number: piece.facts.ground
                for _, piece in project.pieces()
                if piece.facts.ground is not None
            }

            def filled(cells: Cells) -> Cells:
                after = fill(cells, brush, cell, held.fill_by, grounds, within)
                return self._left_alone(level, cells, after)

            return change_cells(project, level.name, index, filled)

        self._do(level, say("Filled on {layer}", layer=layer.name), edit)

    def _brush(self) -> Brush:
        return self._held.brush if self._held.brush and not self._held.hem else ERASER

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
