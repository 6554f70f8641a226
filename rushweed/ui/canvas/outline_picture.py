"""What is solid in a level, drawn as outlines without seams and kept while the level changes."""

from __future__ import annotations

from PyQt6.QtCore import QLineF
from PyQt6.QtGui import QPainter, QPen

from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import WAYS, Stopping
from rushweed.core.values import Rect
from rushweed.core.weave.outlines import SolidOutlines
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.look.colours import MARKS

SMALLEST_CELL = 3
"""Outlines are not drawn while cells are smaller than so many screen pixels."""


class OutlinePicture:
    """Draws the outlines of the level that is open; a changed cell costs only its neighbours."""

    def __init__(self) -> None:
        self._kept: dict[Stopping, SolidOutlines] = {}
        self._name = ""

    def draw(self, painter: QPainter, canvas: Canvas, project: Project, level: Level) -> None:
        """Draw what can be seen."""
        width, height = project.rules.tile
        if min(width, height) * canvas.view.scale < SMALLEST_CELL:
            return
        if level.name != self._name:
            self._kept, self._name = {}, level.name
        seen = canvas.visible()
        area = Rect(
            seen.x // width, seen.y // height, seen.width // width + 2, seen.height // height + 2
        )
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for kind in WAYS:
            lines = self._lines(kind, project, level, area, canvas)
            for colour, thick in ((MARKS.paper, 3.4), (MARKS.rust, 1.8)):
                pen = QPen(colour, thick)
                if kind.stops == "one-way":
                    pen.setDashPattern([4, 2])
                painter.setPen(pen)
                if lines:
                    painter.drawLines(*lines)
        painter.restore()

    def _lines(
        self, kind: Stopping, project: Project, level: Level, area: Rect, canvas: Canvas
    ) -> list[QLineF]:
        kept = self._kept.get(kind)
        if kept is None:
            kept = self._kept[kind] = SolidOutlines(project, level, kind)
        else:
            kept.follow(project, level)
        view = canvas.view
        return [
            QLineF(*view.to_screen(x, y), *view.to_screen(to_x, to_y))
            for x, y, to_x, to_y in kept.segments(area).tolist()
        ]
