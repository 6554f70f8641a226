"""A part of the level that is selected: moved, copied, cleared, kept as a patch, cut to size."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtGui import QPainter

from rushweed.core.project.cells import Key
from rushweed.core.project.drawing_sets import Patch
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, free_name
from rushweed.core.values import Point, Rect
from rushweed.core.weave.hand import Drawn, Hand, Laid, Spot, drawn, lay_moved, lay_nothing
from rushweed.core.weave.levels import crop_level
from rushweed.core.weave.painting import Brush, pick
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_brackets, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.stations.weave.held import Held
from rushweed.ui.stations.weave.in_hand import tell_spared


class Parts:
    """The selection tool of Weave; `area` is in cells."""

    def __init__(self, desk: Desk, canvas: Canvas, held: Held) -> None:
        self._desk, self._canvas, self._held = desk, canvas, held
        self.area = Rect(0, 0, 0, 0)

    def press(self, press: Pointer, level: Level) -> Stroke:
        """Drag over cells to select them; inside of the selection drag them elsewhere, with Ctrl a
        copy of them."""
        cell = self._cell(press.place)
        if self.area.contains(*cell):
            return self._move(press, level, cell)
        return self._select(cell)

    def clear(self, level: Level) -> None:
        """Rub out what is selected on the active layer."""
        if self.area.area:
            lay = partial(lay_nothing, area=self.area)
            self._desk.do(say("Cleared {size} cells", size=self.area.size), self._on(level, lay))

    def as_brush(self, level: Level) -> Brush | None:
        """What is selected on the active layer, to paint with."""
        if not self.area.area:
            self._desk.refused.emit(say("Drag over a part of the level first."))
            return None
        return pick(level.layers[self._desk.selection.layer].cells, self.area)

    def keep_as_patch(self, level: Level, name: str) -> str:
        """Save what is selected as a patch of the project. Returns its name, empty for none."""
        brush = self.as_brush(level)
        if brush is None:
            return ""
        name = free_name(name or say("Patch"), {p.name for p in self._desk.project.patches})
        patch = Patch(name, brush.rows)
        kept = self._desk.do(
            say("Kept the patch {name}", name=name),
            lambda p: replace(p, patches=(*p.patches, patch)),
        )
        return name if kept else ""

    def crop(self, level: Level) -> None:
        """Cut the level to what is selected."""
        area = self.area
        words = say("Cut {level} to {size} cells", level=level.name, size=area.size)
        self._desk.do(words, lambda p: crop_level(p, level.name, area))

    def forget(self) -> None:
        """Select nothing."""
        self.area = Rect(0, 0, 0, 0)
        self._canvas.update()

    def paint(self, painter: QPainter) -> None:
        """Mark what is selected."""
        if not self.area.area:
            return
        width, height = self._desk.project.rules.tile
        area = self.area
        place = Rect(area.x * width, area.y * height, area.width * width, area.height * height)
        rect = self._canvas.to_screen(place)
        draw_brackets(painter, rect, 12)
        draw_tag(painter, rect.left(), rect.top() - 20, say("{size} cells", size=area.size))

    def _select(self, first: Key) -> Stroke:
        while True:
            event = yield
            here = self._cell(event.place)
            left, right = sorted((first[0], here[0]))
            top, bottom = sorted((first[1], here[1]))
            self.area = Rect(left, top, right - left + 1, bottom - top + 1)
            self._canvas.update()
            if event.released:
                return

    def _on(self, level: Level, lay: Callable[[Spot], Laid]) -> Callable[[Project], Drawn]:
        """What lays something on the active layer, as an edit."""
        index = self._desk.selection.layer
        return partial(drawn, art=self._desk.art, level=level.name, index=index, lay=lay)

    def _move(self, press: Pointer, level: Level, first: Key) -> Stroke:
        area, hand = self.area, Hand(keeps=self._held.others != "replaced")
        words = say("Copied a part") if press.ctrl else say("Moved a part")
        drag = self._desk.drag(words)
        last, kept = first, area
        try:
            while True:
                event = yield
                here = self._cell(event.place)
                if here != last:
                    last = here
                    way = here[0] - first[0], here[1] - first[1]
                    lay = partial(lay_moved, hand=hand, area=area, way=way, copy=press.ctrl)
                    drag.to(self._on(level, lay))
                    self.area = area.moved(*way)
                    self._canvas.update()
                if event.released:
                    outcome = drag.outcome
                    if drag.changed:
                        drag.end()
                        kept = self.area
                    tell_spared(self._desk, outcome)
                    return
        finally:
            drag.abandon()
            self.area = kept
            self._canvas.update()

    def _cell(self, place: Point) -> Key:
        width, height = self._desk.project.rules.tile
        return int(place.x // width), int(place.y // height)
