"""The stage: the game's picture, enlarged by a whole factor, with the walker in it."""

from __future__ import annotations

import math

from PyQt6.QtCore import QElapsedTimer, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QImage, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.values import Point, Size
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.course import Course
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.picturing import picture_with_walker, walker_frame
from rushweed.core.weave.drawing import Scene
from rushweed.core.words import say
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.canvas.images import to_image
from rushweed.ui.commands.commands import key_name
from rushweed.ui.commands.listed import WALK
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.walk.gamepads import Gamepads
from rushweed.ui.stations.walk.stage_marks import StageMarks

MOST_STEPS = 6
"""After a pause of the machine no more than these steps are caught up with at once."""
RIM = 6
"""How many screen pixels lie at least around the game's picture."""


class Stage(QWidget):
    """Walks while it has the keyboard. `moved` is told after every picture."""

    moved = pyqtSignal()
    fell = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._desk = services.desk
        self.course = Course()
        self.marks = StageMarks(self.course)
        self.draws_large = False
        self.speed = 1.0
        self.frame_piece = 0
        self.held: set[str] = set()
        self._keys = services.commands.held(WALK)
        self._keys_of = services.commands.keys_of
        self.gamepads = Gamepads(self)
        self._owed = 0.0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.setInterval(16)
        self._timer.timeout.connect(self._tick)
        self.picture = QImage()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("The game's picture"))

    @property
    def running(self) -> bool:
        return self._timer.isActive()

    def prepare(self, project: Project, level: str) -> None:
        """Walk in this level; the walker stays where it is when only something changed."""
        self.course.prepare(project, level)
        self.redraw()

    def restart(self) -> None:
        """Back to the start."""
        self.course.restart()
        self.redraw()

    def put(self, place: Point) -> None:
        """Put the walker somewhere else."""
        self.course.put(place)
        self.redraw()

    def redraw(self) -> None:
        """Draw the game's picture anew, in its own resolution."""
        ground, motion = self.course.ground, self.course.motion
        if ground is None:
            self.picture = QImage()
        else:
            scene = Scene(ground.project, self._desk.art)
            self.picture = to_image(picture_with_walker(scene, ground, motion, self.course.view()))
            self.frame_piece = walker_frame(ground, motion)
        self.update()

    def run(self, running: bool) -> None:
        """Walk, or hold still."""
        if running and self.course.ground is not None:
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
        ground = self.course.ground
        if ground is None:
            return
        held = self.held | self.gamepads.held
        held = held | {"jump"} if ground.level.view == "side" and "up" in held else held
        if self.course.advance(Keys(**dict.fromkeys(held, True)), count):
            self.fell.emit()
        self.redraw()
        self.moved.emit()

    @property
    def factor(self) -> float:
        """By how much the game's picture is enlarged: a whole number of the screen's own pixels,
        or, for one that is larger than the table, one part of a whole number."""
        size, ratio = self.course.resolution, ratio_of(self)
        room = Size(max(self.width() - 2 * RIM, 1), max(self.height() - 2 * RIM, 1))
        most = min(room.width / size.width, room.height / size.height) * ratio
        return (int(most) if most >= 1 else 1 / math.ceil(1 / most)) / ratio

    @property
    def shown_times(self) -> float:
        """How many of the screen's own pixels one of the game's takes."""
        return self.factor * ratio_of(self)

    def picture_rect(self) -> QRectF:
        """Where the game's picture lies, on whole pixels of the screen."""
        size, factor, ratio = self.course.resolution, self.factor, ratio_of(self)
        width, height = size.width * factor, size.height * factor
        left, top = (self.width() - width) / 2, max(RIM, (self.height() - height) / 2)
        return QRectF(int(left * ratio) / ratio, int(top * ratio) / ratio, width, height)

    def _target(self, rect: QRectF) -> QRectF:
        """Where the picture is drawn: drawn large it moves by less than its pixels."""
        target = QRectF(rect)
        if self.draws_large:
            seen = self.course.seen
            across, down = seen.x - math.floor(seen.x + 0.5), seen.y - math.floor(seen.y + 0.5)
            target.translate(-across * self.factor, -down * self.factor)
        return target

    def _tick(self) -> None:
        self._owed += self._clock.restart() / 1000 * self.speed / STEP
        steps = min(int(self._owed), MOST_STEPS)
        self._owed = min(self._owed - steps, MOST_STEPS)
        if steps:
            self.step(steps)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        if self.course.ground is None:
            painter.setFont(font(BODY))
            painter.setPen(look.colours.soft_ink)
            text = say("There is no level to walk in yet. Paint one first: Ctrl+5.")
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)
        else:
            self._paint_picture(painter, self.picture_rect())
        painter.end()

    def _paint_picture(self, painter: QPainter, rect: QRectF) -> None:
        smooth = self.shown_times < 1
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        painter.drawImage(self._target(rect), self.picture, QRectF(self.picture.rect()))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.save()
        painter.setClipRect(rect)
        self.marks.paint(painter, rect, self.factor, self.frame_piece)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.colours.tide if self.hasFocus() else look.colours.ink, 1))
        painter.drawRect(QRectF(rect).adjusted(-0.5, -0.5, 0.5, 0.5))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        name = self._name_of(event)
        if not name:
            event.ignore()
            super().keyPressEvent(event)
        elif not event.isAutoRepeat():
            self.held.add(name)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if not event.isAutoRepeat():
            self.held.discard(self._name_of(event))

    def _name_of(self, event: QKeyEvent) -> str:
        """What a key does as long as it is held; empty for nothing."""
        bare = Qt.KeyboardModifier.NoModifier
        names = (key_name(key, bare) for key in self._keys_of(event))
        name = next((self._keys[one] for one in names if one in self._keys), "")
        return name.removeprefix("walk.")

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.held.clear()
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.update()
