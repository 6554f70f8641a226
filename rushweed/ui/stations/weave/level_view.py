"""What the lens shows of the open level: tiles and props, the grid, outlines, the start."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QTimer
from PyQt6.QtGui import QPainter

from rushweed.core.project.level import Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Size
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.level_picture import LevelPicture
from rushweed.ui.canvas.marks import draw_tag
from rushweed.ui.canvas.outline_picture import OutlinePicture
from rushweed.ui.canvas.view import opened
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Check
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.weave.level_hand import LevelHand
from rushweed.ui.stations.weave.level_marks import draw_grid, draw_start
from rushweed.ui.stations.weave.overview import MapGroup

FASTEST = 60
"""Pictures a second, however fast an animation is."""


class Playing:
    """Draws the level anew as often as its fastest animation asks for."""

    def __init__(
        self,
        picture: LevelPicture,
        canvas: Canvas,
        project: Callable[[], Project],
    ) -> None:
        self._picture, self._canvas, self._project = picture, canvas, project
        self._clock = QElapsedTimer()
        self._timer = QTimer(canvas)
        self._timer.timeout.connect(self._tick)

    def play(self, plays: bool) -> None:
        """Play from the beginning, or stand still."""
        if plays:
            self._clock.start()
            self._timer.start(self._pause())
        else:
            self._timer.stop()
        self._picture.seconds = 0.0 if plays else None
        self._canvas.update()

    def _tick(self) -> None:
        if not self._canvas.isVisible():
            return
        self._picture.seconds = self._clock.elapsed() / 1000
        self._timer.setInterval(self._pause())
        self._canvas.update()

    def _pause(self) -> int:
        """Milliseconds from one picture to the next."""
        rates = [
            animation.rate
            for sheet in self._project().sheets
            for animation in sheet.animations
            if len(animation.frames) > 1
        ]
        return round(1000 / min(max(rates, default=1.0), FASTEST))


DEFAULT_VIEW = (20, 12)
"""Cells an empty level shows."""


class LevelView:
    """Draws on a canvas. `grid` and `plays` are the switches beside the name of the face."""

    def __init__(self, services: Services, canvas: Canvas) -> None:
        self._desk: Desk = services.desk
        self._canvas = canvas
        self._shown = ""
        self._outlines = OutlinePicture()
        self.picture = LevelPicture(services.images)
        self.grid = Check(say("Grid"), lambda on: canvas.update())
        self.grid.setChecked(True)
        self._playing = Playing(self.picture, canvas, lambda: self._project)
        self.plays = Check(say("Play"), self._playing.play)
        self.plays.setToolTip(say("Animated tiles and props play while you paint"))
        services.commands.bind("weave.grid", lambda: self.grid.click())
        services.commands.bind("weave.play", lambda: self.plays.click())

    @property
    def _project(self) -> Project:
        return self._desk.project

    def forget(self) -> None:
        """Choose anew what part of the level is seen when it is shown next."""
        self._shown = ""

    def show(self, level: Level) -> None:
        """Let the canvas reach over the level; one that was not shown is seen from its start."""
        self.reach(level)
        if level.name != self._shown:
            self._shown = level.name
            size = Size(self._canvas.width(), self._canvas.height())
            self._canvas.set_view(
                opened(self._canvas.content, level.start, size, self._canvas.ratio)
            )

    def reach(self, level: Level) -> None:
        """Let the canvas reach over all that is painted now."""
        width, height = self._project.rules.tile
        area = bounds(level)
        if not area.area:
            area = Rect(0, 0, *DEFAULT_VIEW)
        content = Rect(area.x * width, area.y * height, area.width * width, area.height * height)
        self._canvas.content = content

    def paint(self, painter: QPainter, level: Level, hand: LevelHand, chosen: MapGroup) -> None:
        """Paint the level and what the hand does over it; `chosen` says what is shown of it."""
        canvas, project, active = self._canvas, self._project, self._desk.selection.layer
        bright = active if chosen.fade.isChecked() else -1
        self.picture.draw(painter, canvas, project, level, bright)
        if self.grid.isChecked():
            draw_grid(painter, canvas, project.rules.tile)
        if chosen.solid.isChecked():
            self._outlines.draw(painter, canvas, project, level)
        hand.paint(painter, level)
        draw_start(painter, canvas, project, level)
        layer = level.layers[active]
        words = say("{layer} is locked") if layer.locked else say("Painting on {layer}")
        draw_tag(
            painter, 12, 10, words.format(layer=layer.name), MARKS.ink, MARKS.paper, weight=600
        )
