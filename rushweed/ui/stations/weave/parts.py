"""A part of the level that is selected: moved, copied, cleared, kept as a patch, cut to size."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtGui import QPainter

from rushweed.core.project.cells import Key
from rushweed.core.project.drawing_sets import Patch
from rushweed.core.project.level import Level
from rushweed.core.project.project import free_name
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.levels import change_cells, crop_level, set_cells
from rushweed.core.weave.painting import ERASER, Brush, moved, pick, rectangle
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_brackets, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk


class Parts:
    """The selection tool of Weave; `area` is in cells."""

    def __init__(self, desk: Desk, canvas: Canvas) -> None:
        self._desk, self._canvas = desk, canvas
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
            index, area = self._desk.selection.layer, self.area
            cells = rectangle(level.layers[index].cells, ERASER, area)
            self._desk.do(
                say("Cleared {size} cells", size=area.size),
                lambda p: set_cells(p, level.name, index, cells),
            )

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

    def _move(self, press: Pointer, level: Level, first: Key) -> Stroke:
        index, area = self._desk.selection.layer, self.area
        words = say("Copied a part") if press.ctrl else say("Moved a part")
        drag = self._desk.drag(words)
        last = first
        try:
            while True:
                event = yield
                here = self._cell(event.place)
                if here != last:
                    last = here
                    across, down = here[0] - first[0], here[1] - first[1]
                    edit = partial(moved, area=area, across=across, down=down, copy=press.ctrl)
                    drag.to(partial(change_cells, level=level.name, index=index, edit=edit))
                    self.area = Rect(area.x + across, area.y + down, area.width, area.height)
                    self._canvas.update()
                if event.released:
                    if drag.changed:
                        drag.end()
                    return
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
        finally:
            drag.abandon()

    def _cell(self, place: Point) -> Key:
        width, height = self._desk.project.rules.tile
        return int(place.x // width), int(place.y // height)
