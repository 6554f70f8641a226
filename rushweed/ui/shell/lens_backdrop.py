"""What the game shows far behind the start of the open level, for the lens."""

from __future__ import annotations

import math
from dataclasses import replace

from PyQt6.QtGui import QColor, QImage

from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.drawing import Scene, shifted, view_around
from rushweed.ui.canvas.images import to_image
from rushweed.ui.desk import Desk

SMALLEST_SCALE = 1 / 4
"""Never so small that much would be drawn."""


class Backdrop:
    """Painted once for a level as it is, at one scale and one size."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._kept: tuple[tuple[object, object], tuple[object, ...], QImage] | None = None

    def scale(self, unit: float) -> float:
        """Screen pixels for one of the game's, where a unit is so many screen pixels."""
        return max(SMALLEST_SCALE, unit / self._desk.project.rules.pixels_per_unit)

    def picture(self, room: Size, scale: float) -> QImage:
        """Fills `room`, in screen pixels, once it is enlarged by `scale`."""
        project, name = self._desk.project, self._desk.selection.level
        parts, facts = (project.levels, project.rules), (name, room, scale)
        kept = self._kept
        if (
            kept is None
            or kept[1] != facts
            or any(old is not new for old, new in zip(kept[0], parts, strict=True))
        ):
            board = Size(math.ceil(room.width / scale), math.ceil(room.height / scale))
            self._kept = kept = (parts, facts, self._painted(project, name, board))
        return kept[2]

    def _painted(self, project: Project, name: str, board: Size) -> QImage:
        if not name:
            plain = QImage(*board, QImage.Format.Format_RGB32)
            plain.fill(QColor(*project.rules.background[:3]))
            return plain
        level = project.level(name)
        far = tuple(layer for layer in level.layers if layer.parallax < 1 and layer.visible)
        view = view_around(level.start or Point(0, 0), project.rules.resolution)
        feet = view.y + view.height * 5 // 8
        scene = Scene(project, self._desk.art)
        canvas = scene.background(level, board)
        for layer in far:
            own = shifted(layer, view)
            shown = Rect(own.x + view.width // 2, own.y + feet - view.y - board.height, *board)
            alone = replace(level, layers=(replace(layer, parallax=1.0),))
            scene.layer(canvas, alone, 0, shown)
        return to_image(canvas)
