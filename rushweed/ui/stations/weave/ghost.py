"""What a click will do, under the pointer: the brush as it would lie, what it would replace, and
where a hem has no tile."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from rushweed.core.project.cells import Key
from rushweed.core.project.level import Level
from rushweed.core.values import Point, Rect
from rushweed.core.weave.hand import count_everywhere
from rushweed.core.weave.painting import single
from rushweed.core.words import say, say_of
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_odd_box, draw_tag
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.weave.fitting_layer import GUARDED, Guard, go_to_fitting_layer
from rushweed.ui.stations.weave.held import DRAWING, Held
from rushweed.ui.stations.weave.in_hand import guard_at, numbers_in_hand
from rushweed.ui.stations.weave.level_marks import draw_brush, draw_cell_frame
from rushweed.ui.stations.weave.strokes import Strokes


class Ghost:
    """Follows the pointer over the level. `guard` is what painting there would punch."""

    def __init__(
        self,
        services: Services,
        canvas: Canvas,
        held: Held,
        strokes: Strokes,
        level: Callable[[], Level | None],
    ) -> None:
        self._services, self._desk = services, services.desk
        self._canvas, self._held, self._strokes, self._level = canvas, held, strokes, level
        self._cell: Key | None = None
        self.guard: Guard | None = None

    def hover(self, place: Point | None) -> bool:
        """Follow the pointer. False while it stays in its cell."""
        cell = self._strokes.cell(place) if place is not None else None
        if cell == self._cell:
            return False
        for old in (self._cell, cell):
            if old is not None:
                self._canvas.update_area(self._area(old))
        self._cell = cell
        self._watch(cell)
        return True

    def go_to_fitting(self) -> None:
        """Paint on the layer that fits what is in hand, a new one if there is none."""
        if self._level() is None or self.guard is None:
            return
        go_to_fitting_layer(self._desk, self.guard, numbers_in_hand(self._desk.project, self._held))
        self.guard = None
        self._canvas.update()

    def paint(self, painter: QPainter) -> None:
        """Paint all of it."""
        self._paint_lacking(painter)
        cell = self._cell
        if cell is None or self._canvas.busy:
            return
        width, height = self._desk.project.rules.tile
        area = Rect(cell[0] * width, cell[1] * height, width, height)
        tool, brush = self._held.tool, self._held.brush
        draws = tool in ("Brush", "Fill", "Line", "Box")
        if draws and brush is not None and not self._held.hem:
            area = self._area(cell)
            images, project = self._services.images, self._desk.project
            draw_brush(painter, self._canvas, images, project, cell, brush)
        if tool in DRAWING or tool == "Start":
            draw_cell_frame(painter, self._canvas.to_screen(area))
        if self._held.mirror is not None:
            x = self._canvas.view.to_screen(self._held.mirror * width, 0).x
            painter.fillRect(QRectF(round(x) - 1, 0, 3, self._canvas.height()), MARKS.paper)
            painter.fillRect(QRectF(round(x), 0, 1, self._canvas.height()), MARKS.tide)
        place = self._canvas.to_screen(area)
        if not self._paint_count(painter, place, cell) and self.guard is not None:
            self._paint_guard(painter, place, self.guard)

    def _paint_count(self, painter: QPainter, place: QRectF, cell: Key) -> bool:
        """Say beside the pointer how many tiles a click would replace, if it does."""
        level = self._level()
        number, levels = self._strokes.to_replace(level, cell) if level else (0, [])
        if number:
            count = count_everywhere(self._desk.project, number, levels)
            words = say_of(count, "replaces 1 tile", "replaces {count} tiles")
            if self._held.reach == "levels":
                words = say_of(
                    count, "replaces 1 tile in all levels", "replaces {count} tiles in all levels"
                )
            draw_tag(painter, place.right() + 10, place.bottom() + 6, words)
        return number > 0

    def _watch(self, cell: Key | None) -> None:
        """See whether painting here would punch a hole."""
        level = self._level()
        guard = None
        if level is not None and cell is not None and not self._canvas.busy:
            guard = guard_at(self._desk, level, self._held, cell)
        if guard or self.guard:
            self._canvas.update()
        self.guard = guard

    def _area(self, cell: Key) -> Rect:
        width, height = self._desk.project.rules.tile
        brush = self._held.brush or single(0)
        return Rect(cell[0] * width, cell[1] * height, brush.width * width, brush.height * height)

    def _paint_guard(self, painter: QPainter, place: QRectF, guard: Guard) -> None:
        """Say beside the pointer what would be lost, and which key saves it."""
        level = self._level()
        assert level is not None
        there, brush, index = guard
        layer = level.layers[index].name if index is not None else say("a new layer")
        key = "".join(self._services.commands.keys("weave.fitting")[:1])
        words = say("would replace {there} with {brush} · {key}: paint on {layer}")
        if self._held.others != "replaced":
            words = say("{there} stays · {key}: paint {brush} on {layer}")
        kinds = {"there": say(GUARDED[there]), "brush": say(GUARDED[brush])}
        words = words.format(layer=layer, key=key, **kinds)
        draw_tag(
            painter,
            place.right() + 10,
            place.bottom() + 6,
            words,
            MARKS.ochre,
            MARKS.ochre_ink,
            MARKS.ochre_edge,
            weight=600,
        )

    def _paint_lacking(self, painter: QPainter) -> None:
        """Spots for which the hem has no tile."""
        width, height = self._desk.project.rules.tile
        for column, line in self._strokes.lacking if self._held.hem else ():
            place = Rect(column * width, line * height, width, height)
            draw_odd_box(painter, self._canvas.to_screen(place).adjusted(1, 1, -1, -1))
