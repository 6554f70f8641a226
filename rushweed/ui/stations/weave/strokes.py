"""Strokes on the active layer: brush, line, box, fill, rubbing out, hems, all of them mirrored."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import partial

from rushweed.core.gather.art import Art
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Outcome
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.guarding import first_purpose
from rushweed.core.weave.hand import (
    NINE,
    Act,
    Drawn,
    Hand,
    Laid,
    Spot,
    count_everywhere,
    drawn,
    lay_box,
    lay_fill,
    lay_line,
    lay_places,
    lay_under,
    replace_everywhere,
)
from rushweed.core.weave.painting import ERASER, Brush, beside, line, mirror_places
from rushweed.core.words import say, say_of
from rushweed.ui.beside import Beside, Told
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk, Drag
from rushweed.ui.soon import soon
from rushweed.ui.stations.weave.fitting_layer import GUARDED, go_to_fitting_layer
from rushweed.ui.stations.weave.held import FIRST, Held, Tool
from rushweed.ui.stations.weave.in_hand import guard_at, numbers_in_hand, tell_spared

WAITED_FOR = 250_000
"""Cells of a level that are filled while one waits."""


@dataclass(slots=True)
class _Way:
    """A stroke under way on a layer: what it is drawn with, the cells when it began and as it
    leaves them, and where the brush was put down."""

    hand: Hand
    level: str
    index: int
    begun: Cells
    way: dict[Key, None] = field(default_factory=dict)
    laid: Laid = field(init=False)

    def __post_init__(self) -> None:
        self.laid = Laid(self.begun)

    def edit(self, art: Art) -> Callable[[Project], Drawn]:
        """The whole stroke as an edit: what is known of it already holds where the layer is still
        as it was when it began."""
        hand, begun, laid, way = self.hand, self.begun, self.laid, tuple(self.way)

        def lay(spot: Spot) -> Laid:
            return laid if spot.cells is begun else lay_places(spot, hand, way)

        return partial(drawn, art=art, level=self.level, index=self.index, lay=lay)


class Strokes:
    """The tools that change cells. Each stroke is one step of undo."""

    def __init__(self, desk: Desk, beside: Beside, canvas: Canvas, held: Held) -> None:
        self._desk, self._beside, self._canvas, self._held = desk, beside, canvas, held
        self.lacking: frozenset[Key] = frozenset()
        self._from: Key | None = None
        self._lay: Callable[..., Laid] | None = None
        self.on_done: Callable[[], None] = lambda: None
        self.within: Callable[[], Rect | None] = lambda: None
        self._soon = soon(canvas, 0, self._end)

    def _end(self) -> None:
        self.on_done()

    def cell(self, place: Point) -> Key:
        """The cell that a place of the level lies in."""
        width, height = self._desk.project.rules.tile
        return int(place.x // width), int(place.y // height)

    def press(self, press: Pointer, level: Level) -> Stroke | None:
        """Begin a stroke with the tool in hand, or with the other end of a pen."""
        tool: Tool = "Erase" if press.erases else self._held.tool
        rubs = tool == "Erase"
        if not rubs and not self._in_hand():
            return None
        if self._held.others == "aside":
            level = self._aside(level, self.cell(press.place))
        if tool == "Fill":
            self._fill(level, self.cell(press.place))
            return None
        if tool in ("Line", "Box") or (tool == "Brush" and press.shift):
            return self._draw_between(press, level, box=tool != "Line")
        return self._draw(press, level, rubs)

    def repeat(self, level: Level) -> None:
        """The last act again, a stroke, a line or a box, from where the pointer is."""
        pointer, last = self._canvas.pointer, self._held.last
        if pointer is None or last is None:
            self._desk.refused.emit(
                say("Draw a stroke first, then repeat it where the pointer is.")
            )
            return
        if not self._in_hand():
            return
        index, place = self._desk.selection.layer, self.cell(pointer)
        words = say("Repeated a stroke on {layer}", layer=level.layers[index].name)
        self._tell(self._again(words, level, last, place))

    def _again(self, words: str, level: Level, act: Act, at: Key) -> Outcome | None:
        """Draw something once more from a place, on the layer that is active now."""
        hand = self._hand(self._held.tool == "Erase")
        lay = partial(act.again, hand=hand, at=at)
        return self._desk.do(words, self._on(level, self._desk.selection.layer, lay))

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
        if guard is None or not go_to_fitting_layer(
            self._desk, guard, numbers_in_hand(project, self._held)
        ):
            return level
        now = self._desk.project.level(level.name)
        told = say("Painting on {layer}, for {kind} lies here.")
        layer = now.layers[self._desk.selection.layer].name
        self._desk.said.emit(told.format(layer=layer, kind=say(GUARDED[guard[0]])))
        return now

    def preview(self, level: Level, cell: Key) -> Cells | None:
        """What a line or box under way would leave; None while there is none."""
        if self._from is None or self._lay is None:
            return None
        spot = Spot(self._desk.project, self._desk.art, level, self._desk.selection.layer)
        try:
            return self._lay(spot, first=self._from, last=cell).cells
        except Refusal:
            return None

    def _hand(self, rubs: bool = False, walls: int = 0) -> Hand:
        """What is in the hand now, as a value."""
        held = self._held
        brush = ERASER if rubs else held.brush or ERASER
        keeps = held.others != "replaced"
        return Hand(brush, held.hem, rubs, held.mirror, keeps, "", walls)

    def _on(self, level: Level, index: int, lay: Callable[[Spot], Laid]) -> Callable[..., Drawn]:
        """What lays something on a layer, as an edit."""
        return partial(drawn, art=self._desk.art, level=level.name, index=index, lay=lay)

    def _draw(self, press: Pointer, level: Level, rubs: bool) -> Stroke:
        """Paint along the pointer's way, cell by cell without gaps. A block lays itself beside
        itself, from where the stroke began."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        words = say("Rubbed out on {layer}") if rubs else say("Painted on {layer}")
        last = first = self.cell(press.place)
        stroke = _Way(self._hand(rubs), level.name, index, layer.cells)
        brush = stroke.hand.brush
        drag = self._desk.drag(words.format(layer=layer.name))
        try:
            self._go_on(drag, stroke, [first])
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last:
                    path = [beside(place, first, brush) for place in line(last, here)]
                    self._go_on(drag, stroke, path)
                    last = here
                if event.released:
                    way = tuple((x - first[0], y - first[1]) for x, y in stroke.way)
                    self._end_drag(drag, words, level, Act("stroke", way), first)
                    return
        finally:
            drag.abandon()
            self._soon.start()

    def _draw_between(self, press: Pointer, level: Level, box: bool) -> Stroke:
        """A line or a box between where one presses and where one lets go."""
        index = self._desk.selection.layer
        layer = level.layers[index]
        words = say("Drew a box on {layer}") if box else say("Drew a line on {layer}")
        brush = self._held.brush or ERASER
        is_nine = (brush.width, brush.height) == NINE and not self._held.hem
        thin = press.shift and (is_nine or self._held.tool == "Box")
        hand = self._hand(walls=self._held.walls or int(thin))
        self._lay = lay = partial(lay_box if box else lay_line, hand=hand)
        self._from = first = last = self.cell(press.place)
        drag = self._desk.drag(words.format(layer=layer.name))
        try:
            while True:
                event = yield
                here = self.cell(event.place)
                if here != last or event.released:
                    last = here
                    drag.to(self._on(level, index, partial(lay, first=first, last=last)))
                    self._canvas.update()
                if event.released:
                    way = last[0] - first[0], last[1] - first[1]
                    act = Act("box" if box else "line", (way,), hand.walls)
                    self._end_drag(drag, words, level, act, first)
                    return
        finally:
            self._from = self._lay = None
            drag.abandon()
            self._soon.start()

    def _go_on(self, drag: Drag, stroke: _Way, places: Iterable[Key]) -> None:
        """One more bit of a stroke; paints anew only where it went."""
        fresh = [place for place in dict.fromkeys(places) if place not in stroke.way]
        if not fresh:
            return
        level = self._desk.project.level(stroke.level)
        stroke.way.update(dict.fromkeys(fresh))
        spot = Spot(self._desk.project, self._desk.art, level, stroke.index)
        if stroke.hand.rubs and not stroke.hand.rubbed:
            purpose = first_purpose(spot.purposes, stroke.begun, fresh)
            stroke.hand = replace(stroke.hand, rubbed=purpose)
        laid = lay_places(spot, stroke.hand, fresh, stroke.laid.cells)
        spared, lacking = stroke.laid.spared | laid.spared, stroke.laid.lacking | laid.lacking
        stroke.laid = Laid(laid.cells, spared, lacking)
        drag.to(stroke.edit(self._desk.art))
        brush = stroke.hand.brush
        self._update(fresh, brush)
        if stroke.hand.mirror is not None:
            self._update(mirror_places(fresh, stroke.hand.mirror, brush.width), brush)

    def _end_drag(self, drag: Drag, words: str, level: Level, act: Act, at: Key) -> None:
        outcome = drag.outcome
        drag.end()
        self._held.last = act
        if not self._elsewhere(level, outcome, words, act, at):
            self._tell(outcome)

    def _elsewhere(
        self, level: Level, outcome: Outcome | None, words: str, act: Act, at: Key
    ) -> bool:
        """Where all stayed as it was, for it serves another purpose, draw on the layer that fits:
        that is what was meant. Whether it was so."""
        if not isinstance(outcome, Drawn) or not outcome.laid.spared:
            return False
        index = self._desk.selection.layer
        stayed = outcome.laid.cells == level.layers[index].cells
        now = self._aside(level, min(outcome.laid.spared)) if stayed else level
        if now is level:
            return False
        layer = now.layers[self._desk.selection.layer].name
        self._again(words.format(layer=layer), now, act, at)
        return True

    def _tell(self, outcome: Outcome | None) -> None:
        """Say what was left alone, and keep for the ghost where a hem has no tile."""
        if isinstance(outcome, Drawn):
            self.lacking = outcome.laid.lacking
        tell_spared(self._desk, outcome)

    def fill_under(self, level: Level) -> None:
        """Fill below the surface of the active layer, in the selected part or all of it."""
        if self._held.brush is None:
            self._desk.refused.emit(FIRST)
            return
        words = say("Filled under the surface on {layer}")
        self._lay_many(level, words, partial(lay_under, within=self.within()), self._tell)

    def _fill(self, level: Level, cell: Key) -> None:
        """Fill what is alike; on an empty layer as far as the level reaches, or is seen."""
        if self._held.fill_by == "all alike" and self._held.reach != "layer":
            self._replace(level, cell)
            return
        within = self.within()
        if within is None and not level.layers[self._desk.selection.layer].cells.chunks:
            whole = bounds(level)
            within = whole if whole.contains(*cell) else self._seen()
        lay = partial(lay_fill, start=cell, by=self._held.fill_by, within=within)
        brush = self._held.brush
        single = brush is None or brush.width * brush.height == 1

        def told(outcome: Outcome | None) -> None:
            spared = outcome.laid.spared if isinstance(outcome, Drawn) and single else ()
            way = tuple((x - cell[0], y - cell[1]) for x, y in spared)
            words = say("Filled on {layer}")
            if not way or not self._elsewhere(level, outcome, words, Act("stroke", way), cell):
                self._tell(outcome)

        self._lay_many(level, say("Filled on {layer}"), lay, told)

    def to_replace(self, level: Level, cell: Key) -> tuple[int, list[str]]:
        """The tile at a cell that a fill of all alike replaces, and the levels in which it does; 0
        where it replaces none elsewhere."""
        held = self._held
        if held.tool != "Fill" or held.fill_by != "all alike" or held.reach == "layer":
            return 0, []
        levels = [one.name for one in self._desk.project.levels]
        number = level.layers[self._desk.selection.layer].cells.at(*cell)[0]
        return number, [level.name] if held.reach == "level" else levels

    def _replace(self, level: Level, cell: Key) -> None:
        """Replace a tile wherever it lies."""
        number, levels = self.to_replace(level, cell)
        if not number:
            self._desk.refused.emit(say("Nothing lies there. Click a tile that is to be replaced."))
            return
        count = count_everywhere(self._desk.project, number, levels)
        words = say_of(count, "Replaced 1 tile", "Replaced {count} tiles")
        art, hand = self._desk.art, self._hand()
        edit = partial(replace_everywhere, art=art, number=number, hand=hand, levels=levels)
        self._beside.do(words, edit, (), takes_long=count > WAITED_FOR)

    def _seen(self) -> Rect:
        """The cells of which something is seen."""
        width, height = self._desk.project.rules.tile
        seen = self._canvas.view.visible(self._canvas.width(), self._canvas.height())
        left, top = seen.x // width, seen.y // height
        return Rect(left, top, -(-seen.right // width) - left, -(-seen.bottom // height) - top)

    def _lay_many(self, level: Level, words: str, lay: Callable[..., Laid], told: Told) -> None:
        """Lay what may be all cells; beside the window where these are many."""
        index, many = self._desk.selection.layer, bounds(level).area > WAITED_FOR
        hand = self._hand()
        words = words.format(layer=level.layers[index].name)
        edit = self._on(level, index, lambda spot: lay(spot, hand))
        self._beside.do(words, edit, (), told, takes_long=many)

    def _update(self, places: Iterable[Key], brush: Brush) -> None:
        width, height = self._desk.project.rules.tile
        columns, rows = zip(*places, strict=True)
        rim = 1 if self._held.hem else 0
        left, top = min(columns) - rim, min(rows) - 4
        across = max(columns) - left + brush.width + rim
        down = max(rows) - top + brush.height + rim
        self._canvas.update_area(Rect(left * width, top * height, across * width, down * height))
