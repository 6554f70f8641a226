"""The stage: the game's picture, enlarged by a whole factor, with the walker in it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QElapsedTimer, QPointF, QRect, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.walk.acting import reached
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.following import area_of, seen_place
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.picturing import picture_with_walker, walker_frame
from rushweed.core.walk.probing import Probed
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Scene, view_around
from rushweed.core.weave.levels import bounds
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_brackets, draw_stitched_box, draw_tag
from rushweed.ui.commands.commands import key_name
from rushweed.ui.commands.listed import WALK
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.walk.gamepads import Gamepads
from rushweed.ui.stations.walk.solid_paths import SolidPaths

MOST_STEPS = 6
"""After a pause of the machine no more than these steps are caught up with at once."""
TRACE = 480
LONGEST = 60 * 60 * 60
"""No more steps of a walk than these are recorded: an hour."""
TOLD = 240
"""So many steps what should be known at the beginning is shown."""
RIM = 6
"""How many screen pixels lie at least around the game's picture."""


class Stage(QWidget):
    """Walks while it has the keyboard. `moved` is told after every picture."""

    moved = pyqtSignal()
    fell = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self.ground: Ground | None = None
        self.motion = Motion(0, 0)
        self._seen = Point(0, 0)
        self._area = Rect(0, 0, 0, 0)
        self.shows_shapes = True
        self.shows_body = True
        self.shows_trace = False
        self.draws_large = False
        self.probed: Callable[[], Probed | None] = lambda: None
        self.speed = 1.0
        self.falls = 0
        self.frame_piece = 0
        self._floor = math.inf
        self.trace: list[Motion] = []
        self.recorded: list[Keys] = []
        self._project: Project | None = None
        self._held: set[str] = set()
        self._keys = services.commands.held(WALK)
        self.gamepads = Gamepads(self)
        self._owed = 0.0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.setInterval(16)
        self._timer.timeout.connect(self._tick)
        self._picture = QImage()
        self._solids = SolidPaths()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("The game's picture"))

    @property
    def running(self) -> bool:
        return self._timer.isActive()

    def prepare(self, project: Project, level: str) -> None:
        """Walk in this level; the walker stays where it is when only something changed."""
        same = self.ground is not None and self.ground.level.name == level
        self._project = project
        self.ground = Ground(project, level) if level else None
        if self.ground is not None:
            lowest = bounds(self.ground.level).bottom * project.rules.tile.height
            self._floor = lowest + project.rules.resolution.height
            self._area = area_of(self.ground.level, project.rules.tile)
        if not same:
            self.restart()
        elif self.ground is not None:
            self.motion = self.ground.fitting(self.motion)
            self._follow()
        self._draw()

    def restart(self) -> None:
        """Back to the start."""
        if self.ground is not None:
            self.motion = self.ground.begin()
            self._look_at_walker()
            self.trace = [self.motion]
            self.recorded = []
        self._draw()

    def put(self, place: Point) -> None:
        """Put the walker somewhere else."""
        if self.ground is not None:
            self.motion = replace(self.ground.begin(place), steps=self.motion.steps)
            self._look_at_walker()
            self.trace = [self.motion]
        self._draw()

    def redraw(self) -> None:
        """Draw the picture anew."""
        self._draw()

    def run(self, running: bool) -> None:
        """Walk, or hold still."""
        if running and self.ground is not None:
            self.gamepads.begin()
            self._clock.start()
            self._owed = 0.0
            self._timer.start()
        else:
            self._timer.stop()
            self.gamepads.end()
        self.moved.emit()

    def step(self, count: int = 1) -> None:
        """Some steps with the keys that are held."""
        if self.ground is None:
            return
        held = self._held | self.gamepads.held
        held = held | {"jump"} if self._is_side() and "up" in held else held
        keys = Keys(**dict.fromkeys(held, True))
        for _ in range(count):
            self.motion = self.ground.step(self.motion, keys)
            self._follow()
            self.trace.append(self.motion)
            self.recorded.append(keys)
        del self.trace[:-TRACE]
        del self.recorded[LONGEST:]
        if self.motion.y > self._floor:
            self.falls += 1
            self.fell.emit()
            self.restart()
        self._draw()
        self.moved.emit()

    @property
    def factor(self) -> float:
        """By how much the game's picture is enlarged: a whole number, or, for one that is larger
        than the table, one part of a whole number."""
        size = self._resolution()
        room = Size(max(self.width() - 2 * RIM, 1), max(self.height() - 2 * RIM, 1))
        most = min(room.width / size.width, room.height / size.height)
        return float(int(most)) if most >= 1 else 1 / math.ceil(1 / most)

    def picture_rect(self) -> QRect:
        """Where the game's picture lies."""
        size, factor = self._resolution(), self.factor
        width, height = round(size.width * factor), round(size.height * factor)
        return QRect(
            (self.width() - width) // 2, max(RIM, (self.height() - height) // 2), width, height
        )

    def view(self) -> Rect:
        """The part of the level that the game shows: the walker in its middle, or as it follows."""
        return view_around(self._seen, self._resolution())

    def _look_at_walker(self) -> None:
        """Have the view begin where the walker is."""
        self._seen = Point(self.motion.x, self.motion.y)
        self._follow()

    def _follow(self) -> None:
        if self._project is not None:
            feet, following = Point(self.motion.x, self.motion.y), self._project.walker.following
            self._seen = seen_place(self._seen, feet, self._resolution(), following, self._area)

    def picture_at(self, place: Point) -> Point:
        """Where a place of the level lies on the widget."""
        rect, view = self.picture_rect(), self.view()
        return Point(
            rect.x() + (place.x - view.x) * self.factor, rect.y() + (place.y - view.y) * self.factor
        )

    def _target(self, rect: QRect) -> QRectF:
        """Where the picture is drawn: drawn large it moves by less than its pixels."""
        target = QRectF(rect)
        if self.draws_large:
            across = self._seen.x - math.floor(self._seen.x + 0.5)
            down = self._seen.y - math.floor(self._seen.y + 0.5)
            target.translate(-across * self.factor, -down * self.factor)
        return target

    def _resolution(self) -> Size:
        return self._project.rules.resolution if self._project else Size(256, 144)

    def _is_side(self) -> bool:
        return self.ground is None or self.ground.level.view == "side"

    def _tick(self) -> None:
        self._owed += self._clock.restart() / 1000 * self.speed / STEP
        steps = min(int(self._owed), MOST_STEPS)
        self._owed = min(self._owed - steps, MOST_STEPS)
        if steps:
            self.step(steps)

    def _draw(self) -> None:
        """Draw the game's picture in its own resolution."""
        if self.ground is None or self._project is None:
            self._picture = QImage()
        else:
            art = self._services.desk.art
            scene = Scene(self._project, art)
            pixels = picture_with_walker(scene, self.ground, self.motion, self.view())
            self.frame_piece = walker_frame(self.ground, self.motion)
            self._picture = to_image(pixels)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        if self.ground is None:
            painter.setFont(font(BODY))
            painter.setPen(look.colours.soft_ink)
            text = say("There is no level to walk in yet. Paint one first: Ctrl+5.")
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)
            painter.end()
            return
        rect = self.picture_rect()
        smooth = self.factor < 1
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        painter.drawImage(self._target(rect), self._picture, QRectF(self._picture.rect()))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.save()
        painter.setClipRect(rect)
        if self.shows_shapes and self._project is not None:
            painter.translate(rect.topLeft())
            self._solids.paint(painter, self._project, self.ground.level, self.view(), self.factor)
            painter.translate(-rect.topLeft())
        self._paint_words(painter, rect)
        self._paint_reach(painter)
        self._paint_acted_on(painter)
        if self.shows_trace:
            self._paint_trace(painter)
        if self.shows_body or not self.frame_piece:
            self._paint_body(painter, rect)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.colours.tide if self.hasFocus() else look.colours.ink, 1))
        painter.drawRect(QRectF(rect).adjusted(-0.5, -0.5, 0.5, 0.5))
        painter.end()

    def _paint_words(self, painter: QPainter, rect: QRect) -> None:
        """What should be known about where the walker begins and why it is back."""
        assert self.ground is not None
        words = ""
        if self.falls and self.motion.steps < TOLD:
            words = say("It fell out of the level, and is back at the start.")
        elif self.ground.level.start is None and self.motion.steps < TOLD:
            words = say("No start is set: it begins on the first ground.")
        if words:
            draw_tag(painter, rect.x() + 8, rect.y() + 8, words, MARKS.ink, MARKS.paper)

    def _paint_acted_on(self, painter: QPainter) -> None:
        """What one would act on, in brackets and by name."""
        assert self.ground is not None
        thing = reached(self.ground, self.motion)
        if thing is None or not thing.is_meant:
            return
        place = self.picture_at(Point(thing.area.x, thing.area.y))
        wide, high = thing.area.width * self.factor, thing.area.height * self.factor
        rect = QRectF(place.x, place.y, wide, high).adjusted(-3, -3, 3, 3)
        draw_brackets(painter, rect, 8)
        found = self.ground.project.find(thing.piece)
        name = thing.name or (shown_name(*found) if found else "")
        draw_tag(painter, rect.left(), rect.top() - 20, name)

    def _paint_reach(self, painter: QPainter) -> None:
        """The places that a probe came to, and those it did not."""
        found = self.probed()
        if found is None or self._project is None:
            return
        width, height = self._project.rules.tile
        seen = self.view()
        for cells, colour in ((found.reached, MARKS.tide), (found.unreached, MARKS.ochre)):
            wash = QColor(colour)
            wash.setAlpha(150)
            for column, line in cells:
                x, y = column * width, (line + 1) * height
                if seen.x - width < x < seen.right and seen.y < y < seen.bottom + height:
                    place = self.picture_at(Point(x, y))
                    wide = width * self.factor - 2
                    painter.fillRect(QRectF(place.x + 1, place.y - 5, wide, 4), wash)

    def _paint_trace(self, painter: QPainter) -> None:
        """Where the walker's feet have been."""
        places = [self.picture_at(Point(motion.x, motion.y)) for motion in self.trace]
        line = QPolygonF([QPointF(*place) for place in places])
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for colour, width in ((MARKS.paper, 3.0), (MARKS.tide, 1.5)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(line)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)

    def _paint_body(self, painter: QPainter, rect: QRect) -> None:
        assert self.ground is not None
        body = self.ground.body
        place = self.picture_at(
            Point(round(self.motion.x) - body.width / 2, round(self.motion.y) - body.height)
        )
        box = QRect(
            round(place.x),
            round(place.y),
            round(body.width * self.factor),
            round(body.height * self.factor),
        )
        if not self.frame_piece:
            painter.fillRect(box, MARKS.tide)
        draw_stitched_box(painter, box)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        name = self._name_of(event)
        if not name:
            event.ignore()
            super().keyPressEvent(event)
        elif not event.isAutoRepeat():
            self._held.add(name)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if not event.isAutoRepeat():
            self._held.discard(self._name_of(event))

    def _name_of(self, event: QKeyEvent) -> str:
        """What a key does as long as it is held; empty for nothing."""
        name = self._keys.get(key_name(event.key(), Qt.KeyboardModifier.NoModifier), "")
        return name.removeprefix("walk.")

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self._held.clear()
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.update()
