"""The solid parts of a level as painted paths without inner seams."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from rushweed.core.orientation import turned_point
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Size
from rushweed.ui.canvas.hatching import draw_chevrons, hatch_brush
from rushweed.ui.look.colours import MARKS

MARGIN = 3
"""Cells around the view that are merged too, so that a few steps need no new paths."""


@dataclass(frozen=True, slots=True)
class Solids:
    """Merged paths in pixels of the level, and where one lands on one-way parts."""

    walls: QPainterPath
    one_way: QPainterPath
    kerbs: tuple[QRectF, ...]


class SolidPaths:
    """Merges what is near the view, and keeps it while the view stays near."""

    def __init__(self) -> None:
        self._kept: tuple[Level, object, Rect, Solids] | None = None

    def paint(
        self, painter: QPainter, project: Project, level: Level, view: Rect, factor: float
    ) -> None:
        """Paint the shapes over a picture of `view` that is enlarged by `factor`."""
        solids = self._near(project, level, view)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(factor, factor)
        painter.translate(-view.x, -view.y)
        for path in (solids.walls, solids.one_way):
            painter.fillPath(path, _unscaled(hatch_brush(14, 1.1, 2.2), factor))
            for colour, width in ((MARKS.paper, 3.0), (MARKS.rust, 1.5)):
                pen = QPen(colour, width, join=Qt.PenJoinStyle.RoundJoin)
                pen.setCosmetic(True)
                painter.strokePath(path, pen)
        for index, kerb in enumerate(solids.kerbs):
            painter.fillRect(kerb.adjusted(0, -1 / factor, 0, 5 / factor), MARKS.paper)
            painter.fillRect(kerb.adjusted(0, 0, 0, 4 / factor), MARKS.rust)
            if index % 2 == 0:
                painter.save()
                painter.translate(kerb.center().x(), kerb.top())
                painter.scale(1 / factor, 1 / factor)
                draw_chevrons(painter, 0, 9.0 * factor, 5)
                painter.restore()
        painter.restore()

    def _near(self, project: Project, level: Level, view: Rect) -> Solids:
        tile = project.rules.tile
        kept = self._kept
        if kept and kept[0] is level and kept[1] is project.sheets and _holds(kept[2], view):
            return kept[3]
        area = Rect(
            (view.x // tile.width - MARGIN) * tile.width,
            (view.y // tile.height - MARGIN) * tile.height,
            (view.width // tile.width + 2 * MARGIN + 1) * tile.width,
            (view.height // tile.height + 2 * MARGIN + 1) * tile.height,
        )
        solids = _merged(project, level, area, tile)
        self._kept = (level, project.sheets, area, solids)
        return solids


def _holds(area: Rect, view: Rect) -> bool:
    return view.intersection(area) == view


def _merged(project: Project, level: Level, area: Rect, tile: Size) -> Solids:
    walls, one_way, kerbs = QPainterPath(), QPainterPath(), []
    walls.setFillRule(Qt.FillRule.WindingFill)
    one_way.setFillRule(Qt.FillRule.WindingFill)
    cells = Rect(
        area.x // tile.width,
        area.y // tile.height,
        area.width // tile.width,
        area.height // tile.height,
    )
    for layer in level.layers:
        if not layer.visible or layer.parallax != 1:
            continue
        numbers, orientations = layer.cells.window(cells)
        for row, column in np.argwhere(numbers).tolist():
            found = project.find(int(numbers[row, column]))
            if found is None or not found[1].shapes:
                continue
            size = found[1].rect.size
            x = (cells.x + column) * tile.width
            y = (cells.y + row + 1) * tile.height - size.height
            turn = int(orientations[row, column])
            for shape in found[1].shapes:
                places = [turned_point(c, size, turn) for c in shape.form.corners]
                polygon = QPolygonF([QPointF(x + p.x, y + p.y) for p in places])
                target = one_way if shape.stops == "one-way" else walls
                if shape.stops != "sensor":
                    target.addPolygon(polygon)
                    target.closeSubpath()
                if shape.stops == "one-way":
                    box = polygon.boundingRect()
                    kerbs.append(QRectF(box.left(), box.top(), box.width(), 0))
    kerbs.sort(key=lambda kerb: (kerb.top(), kerb.left()))
    return Solids(walls.simplified(), one_way.simplified(), tuple(kerbs))


def _unscaled(brush: QBrush, factor: float) -> QBrush:
    """The brush at the screen's own scale, under a painter that enlarges."""
    result = QBrush(brush)
    result.setTransform(QTransform.fromScale(1 / factor, 1 / factor))
    return result
