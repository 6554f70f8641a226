"""The solid parts of a level as painted paths without inner seams."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from operator import attrgetter

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from rushweed.core.orientation import SWAPPED, turned_point
from rushweed.core.project.facts import Side
from rushweed.core.project.level import Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Rect
from rushweed.core.walk.solids import body_of
from rushweed.core.weave.posing import placed_shape, posed_shapes, prop_area
from rushweed.ui.canvas.hatching import draw_one_way, hatch_brush
from rushweed.ui.look.colours import MARKS

MARGIN = 3
"""Cells around the view that are merged too, so that a few steps need no new paths."""


Kerb = tuple[QRectF, Side]


@dataclass(frozen=True, slots=True)
class Solids:
    """Merged paths in pixels of the level, and the boxes of one-way parts with the sides at which
    they stop."""

    walls: QPainterPath
    one_way: QPainterPath
    kerbs: tuple[Kerb, ...]


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
        painter.scale(1 / factor, 1 / factor)
        for index, (box, side) in enumerate(solids.kerbs):
            large = QRectF(box.topLeft() * factor, box.size() * factor)
            draw_one_way(painter, large, side, 4, 0 if index % 2 else 5, 9 * factor)
        painter.restore()

    def _near(self, project: Project, level: Level, view: Rect) -> Solids:
        project, kept = in_levels(project), self._kept
        tile = project.rules.tile
        if kept and kept[0] is level and kept[1] is project.sheets and _holds(kept[2], view):
            return kept[3]
        area = Rect(
            (view.x // tile.width - MARGIN) * tile.width,
            (view.y // tile.height - MARGIN) * tile.height,
            (view.width // tile.width + 2 * MARGIN + 1) * tile.width,
            (view.height // tile.height + 2 * MARGIN + 1) * tile.height,
        )
        solids = _merged(project, level, area)
        self._kept = (level, project.sheets, area, solids)
        return solids


def _holds(area: Rect, view: Rect) -> bool:
    return view.intersection(area) == view


def _merged(project: Project, level: Level, area: Rect) -> Solids:
    walls, one_way = QPainterPath(), QPainterPath()
    kerbs: list[Kerb] = []
    walls.setFillRule(Qt.FillRule.WindingFill)
    one_way.setFillRule(Qt.FillRule.WindingFill)
    for shape in _shapes_near(project, level, area):
        target = one_way if shape.stops == "one-way" else walls
        polygons = [QPolygonF([QPointF(*corner) for corner in ring]) for ring in shape.form.rings]
        for polygon in polygons:
            target.addPolygon(polygon)
            target.closeSubpath()
        if shape.stops == "one-way":
            kerbs.append((polygons[0].boundingRect(), shape.side))
    kerbs.sort(key=lambda kerb: (kerb[0].top(), kerb[0].left()))
    return Solids(walls.simplified(), one_way.simplified(), tuple(kerbs))


def _shapes_near(project: Project, level: Level, area: Rect) -> Iterator[Shape]:
    """What stops walkers of tiles and props that stay, in pixels of the level."""
    tile = project.rules.tile
    columns, rows = area.width // tile.width, area.height // tile.height
    cells = Rect(area.x // tile.width, area.y // tile.height, columns, rows)
    for layer in filter(attrgetter("stops"), level.layers):
        numbers, orientations = layer.cells.window(cells)
        for row, column in np.argwhere(numbers).tolist():
            found = project.find(int(numbers[row, column]))
            if found is not None and found[1].shapes:
                foot = (cells.x + column) * tile.width, (cells.y + row + 1) * tile.height
                yield from _placed(found[1], int(orientations[row, column]), foot)
        for prop in layer.props:
            found = project.find(prop.piece)
            near = found is not None and prop_area(project, prop).intersection(area).area
            if found is not None and near and body_of(project, prop) == "fixed":
                for shape in posed_shapes(found[1], prop):
                    if shape.stops != "sensor":
                        yield shape.moved(prop.x, prop.y)


def _placed(piece: Piece, orientation: int, foot: tuple[int, int]) -> Iterator[Shape]:
    """The shapes of a tile that stands on the lower left corner of its cell."""
    size = piece.rect.size
    high = size.width if orientation & SWAPPED else size.height
    for shape in piece.shapes or ():
        if shape.stops != "sensor":
            turned = placed_shape(shape, partial(turned_point, size=size, orientation=orientation))
            yield turned.moved(foot[0], foot[1] - high)


def _unscaled(brush: QBrush, factor: float) -> QBrush:
    """The brush at the screen's own scale, under a painter that enlarges."""
    result = QBrush(brush)
    result.setTransform(QTransform.fromScale(1 / factor, 1 / factor))
    return result
