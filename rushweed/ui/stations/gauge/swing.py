"""The lens turns the selected piece to and fro about its pivot, as the game samples it."""

from __future__ import annotations

from collections.abc import Callable
from math import sin

from PyQt6.QtCore import QElapsedTimer, QRect, QTimer
from PyQt6.QtGui import QColor, QPainter

from rushweed.core.gauge.viewing import turned_about
from rushweed.core.project.sheet import Piece
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Refusal, Size
from rushweed.core.words import say
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_lozenge
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

PERIOD = 33
WIDEST, SWINGS = 40.0, 2.0
"""Degrees to either side, and radians of the swing a second."""
LEAST_SCALE, MOST_SCALE, SHARE = 0.25, 4.0, 0.6
"""The piece fills so much of the lens, but is never scaled by less or more."""


class Swing:
    """Paints the lens while it is on. `piece` gives what swings."""

    def __init__(
        self, services: Services, canvas: SheetCanvas, piece: Callable[[], Piece | None]
    ) -> None:
        self._services, self._canvas, self._piece = services, canvas, piece
        self._clock, self.timer = QElapsedTimer(), QTimer(canvas)
        self.timer.setInterval(PERIOD)
        self.timer.timeout.connect(services.lens_update)

    def set(self, on: bool) -> None:
        """Swing, or give the lens back."""
        if on:
            self._clock.start()
            self.timer.start()
            self._services.lens_instead(say("about its pivot"), self._paint)
        else:
            self.timer.stop()
            self._services.lens_instead("", None)

    def _paint(self, painter: QPainter, area: QRect) -> None:
        desk, sheet, piece = self._services.desk, self._canvas.sheet, self._piece()
        painter.fillRect(area, QColor(*desk.project.rules.background[:3]))
        if sheet is None or piece is None:
            return
        try:
            picture = desk.art.piece(sheet, piece)
        except Refusal:
            return
        reach = max(piece.rect.width, piece.rect.height)
        scale = max(LEAST_SCALE, min(MOST_SCALE, float(area.height() * SHARE / reach)))
        scale = even_scale(scale, ratio_of(painter.device()))
        degrees = WIDEST * sin(self._clock.elapsed() / 1000 * SWINGS)
        foot = Point(
            area.width() / 2 + (piece.pivot.x - piece.rect.width / 2) * scale,
            area.height() / 2 + (piece.pivot.y - piece.rect.height / 2) * scale,
        )
        treatment, screen = treatment_of(desk.project, sheet), Size(area.width(), area.height())
        shown = turned_about(picture, piece.pivot, degrees, scale, treatment, screen, foot)
        painter.drawImage(0, 0, to_image(shown))
        draw_lozenge(painter, foot.x, foot.y, 4, MARKS.paper, MARKS.ink)
