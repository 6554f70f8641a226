"""The handle at the corner of a chosen prop: a drag makes it larger or smaller about its pivot."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from rushweed.core.project.level import Level, Prop
from rushweed.core.project.sitting import Edit
from rushweed.core.weave.fitting_props import LEAST, MOST, pose_props
from rushweed.core.weave.posing import prop_area
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_lozenge
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS

REACH = 9
"""Screen pixels about the handle in which it is taken."""


class PropHandle:
    """Drawn at the upper right corner of one prop. Factors stay whole, unless Shift is held."""

    def __init__(self, desk: Desk, canvas: Canvas) -> None:
        self._desk, self._canvas = desk, canvas

    def paint(self, painter: QPainter, prop: Prop) -> None:
        place = self._place(prop)
        draw_lozenge(painter, place.x(), place.y(), 6, MARKS.paper, MARKS.tide)

    def is_under(self, press: Pointer, prop: Prop) -> bool:
        """Whether a press takes the handle."""
        place = self._place(prop)
        at = self._canvas.view.to_screen(*press.place)
        return math.hypot(at.x - place.x(), at.y - place.y()) <= REACH

    def drag(self, level: Level, place: int, press: Pointer) -> Stroke:
        """Make the prop larger or smaller by how far the pointer is from its pivot."""
        index = self._desk.selection.layer
        prop = level.layers[index].props[place]
        drag = self._desk.drag(say("Set how a prop stands"))
        begun = max(1.0, math.dist(press.place, (prop.x, prop.y)))

        def at(event: Pointer) -> Edit | None:
            ratio = math.dist(event.place, (prop.x, prop.y)) / begun
            across, down = (_factor(old * ratio, event.shift) for old in (prop.across, prop.down))
            if (across, down) == (prop.across, prop.down) and not drag.changed:
                return None
            self._canvas.update()
            return lambda p: pose_props(p, level.name, index, {place}, across=across, down=down)

        return following(drag, at)

    def _place(self, prop: Prop) -> QPointF:
        rect = self._canvas.to_screen(prop_area(self._desk.project, prop))
        return QPointF(rect.right() + 2, rect.top() - 2)


def _factor(wanted: float, freely: bool) -> float:
    """A whole factor, or one to the hundredth."""
    factor = round(wanted, 2) if freely else float(max(1, round(wanted)))
    return min(max(factor, LEAST), MOST)
