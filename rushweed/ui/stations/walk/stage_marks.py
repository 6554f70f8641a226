"""What is drawn over the game's picture: shapes, reach, the walker's body and way, words."""

from __future__ import annotations

from collections.abc import Callable
from itertools import product

from PyQt6.QtCore import QPointF, QRect, QRectF
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from rushweed.core.cut.naming import shown_name
from rushweed.core.values import Point
from rushweed.core.walk.acting import reached
from rushweed.core.walk.course import Course
from rushweed.core.walk.probing import Probed
from rushweed.core.walk.walker import Ground
from rushweed.core.words import say
from rushweed.ui.canvas.marks import draw_brackets, draw_stitched_box, draw_tag
from rushweed.ui.look.colours import MARKS
from rushweed.ui.stations.walk.solid_paths import SolidPaths

TOLD = 240
"""So many steps what should be known at the beginning is shown."""


class StageMarks:
    """Draws what is wished of them: `shapes`, the `body` and the `trace`. `probed` is what a probe
    found, None for nothing to show."""

    def __init__(self, course: Course) -> None:
        self._course = course
        self._solids = SolidPaths()
        self.shapes = True
        self.body = True
        self.trace = False
        self.probed: Callable[[], Probed | None] = lambda: None

    def paint(self, painter: QPainter, rect: QRectF, factor: float, frame: int) -> None:
        """Paint all that is wished over the picture, which lies at `rect` enlarged by `factor`;
        `frame` is the piece the walker is drawn with, 0 for none."""
        ground = self._course.ground
        assert ground is not None
        lens = _Lens(self._course, rect, factor)
        if self.shapes:
            painter.translate(rect.topLeft())
            self._solids.paint(painter, ground.project, ground.level, lens.view, factor)
            painter.translate(-rect.topLeft())
        self._paint_words(painter, rect, ground)
        self._paint_reach(painter, lens, ground)
        self._paint_acted_on(painter, lens, ground)
        if self.trace:
            self._paint_trace(painter, lens)
        if self.body:
            self._paint_body(painter, lens, ground)

    def _paint_words(self, painter: QPainter, rect: QRectF, ground: Ground) -> None:
        """What should be known about where the walker begins and why it is back."""
        words = ""
        steps = self._course.motion.steps
        if self._course.falls and steps < TOLD:
            words = say("It fell out of the level, and is back at the start.")
        elif ground.level.start is None and steps < TOLD:
            words = say("No start is set: it begins on the first ground.")
        if words:
            draw_tag(painter, rect.x() + 8, rect.y() + 8, words, MARKS.ink, MARKS.paper)

    def _paint_acted_on(self, painter: QPainter, lens: _Lens, ground: Ground) -> None:
        """What one would act on, in brackets and by name."""
        thing = reached(ground, self._course.motion)
        if thing is None or not thing.is_meant:
            return
        place = lens.at(Point(thing.area.x, thing.area.y))
        wide, high = thing.area.width * lens.factor, thing.area.height * lens.factor
        rect = QRectF(place.x, place.y, wide, high).adjusted(-3, -3, 3, 3)
        draw_brackets(painter, rect, 8)
        found = ground.project.find(thing.piece)
        name = thing.name or (shown_name(*found) if found else "")
        draw_tag(painter, rect.left(), rect.top() - 20, name)

    def _paint_reach(self, painter: QPainter, lens: _Lens, ground: Ground) -> None:
        """The places that a probe came to, and those it did not."""
        found = self.probed()
        if found is None:
            return
        width, height = ground.project.rules.tile
        seen = lens.view
        columns = range(seen.x // width, seen.right // width + 1)
        rows = range(seen.y // height - 1, seen.bottom // height + 1)
        for cells, colour in ((found.reached, MARKS.tide), (found.unreached, MARKS.ochre)):
            for column, line in cells.intersection(product(columns, rows)):
                place = lens.at(Point(column * width, (line + 1) * height))
                bar = QRectF(place.x + 1, place.y - 6, width * lens.factor - 2, 5)
                painter.fillRect(bar, MARKS.paper)
                painter.fillRect(bar.adjusted(1, 1, -1, -1), colour)

    def _paint_trace(self, painter: QPainter, lens: _Lens) -> None:
        """Where the walker's feet have been."""
        places = [lens.at(Point(motion.x, motion.y)) for motion in self._course.trace]
        line = QPolygonF([QPointF(*place) for place in places])
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for colour, width in ((MARKS.paper, 3.0), (MARKS.tide, 1.5)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(line)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)

    def _paint_body(self, painter: QPainter, lens: _Lens, ground: Ground) -> None:
        body, motion = ground.body, self._course.motion
        place = lens.at(Point(round(motion.x) - body.width / 2, round(motion.y) - body.height))
        size = round(body.width * lens.factor), round(body.height * lens.factor)
        draw_stitched_box(painter, QRect(round(place.x), round(place.y), *size))


class _Lens:
    """From places of the level to those of the widget."""

    def __init__(self, course: Course, rect: QRectF, factor: float) -> None:
        self.view, self.factor = course.view(), factor
        self._rect = rect

    def at(self, place: Point) -> Point:
        """Where a place of the level lies on the widget."""
        return Point(
            self._rect.x() + (place.x - self.view.x) * self.factor,
            self._rect.y() + (place.y - self.view.y) * self.factor,
        )
