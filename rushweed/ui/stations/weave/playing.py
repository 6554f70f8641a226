"""Animated tiles and props play in the lens of the level while one paints, if that is wished."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QTimer

from rushweed.core.project.project import Project
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.level_picture import LevelPicture

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
