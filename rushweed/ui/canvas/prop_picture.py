"""Props of a layer on the screen."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.drawing import drawing_order, frame_of, repeats
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.prop_index import PropIndex
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.sheet_images import Images

SMALLEST_PROP = 0.75
MOST_PROPS = 6000
LARGEST = 1 << 22
"""Props that cover more pixels are sized and turned by the painter: the lens must not wait."""


class PropPicture:
    """Draws those props that can be seen."""

    def __init__(self, images: Images) -> None:
        self._images = images
        self._index = PropIndex()

    def draw(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        level: Level,
        layer: Layer,
        shown: Rect,
        seconds: float | None,
    ) -> None:
        """Draw a layer's props in an area of its plane, at rest or after so many seconds."""
        if not layer.props:
            return
        if layer.is_backdrop:
            places = list(range(len(layer.props)))
        else:
            least = SMALLEST_PROP / canvas.view.scale
            places = self._index.within(project, layer.props, shown, least)[-MOST_PROPS:]
        for place in drawing_order(level, layer, places):
            prop = layer.props[place]
            if seconds is not None:
                prop = replace(prop, piece=frame_of(project, prop, seconds))
            self._draw_one(painter, canvas, project, layer, prop, shown)

    def _draw_one(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        layer: Layer,
        prop: Prop,
        shown: Rect,
    ) -> None:
        place = prop_area(project, prop)
        opacity = painter.opacity()
        painter.setOpacity(opacity * prop.opacity)
        if place.area > LARGEST and not layer.is_backdrop:
            self._draw_large(painter, canvas, project, layer, prop)
            painter.setOpacity(opacity)
            return
        image = self._images.prop(project, prop, layer.tint)
        for rect in repeats(layer, place, shown):
            painter.drawImage(canvas.to_screen(rect), image, QRectF(image.rect()))
        painter.setOpacity(opacity)

    def _draw_large(
        self, painter: QPainter, canvas: Canvas, project: Project, layer: Layer, prop: Prop
    ) -> None:
        """The piece, not sized or turned, under a painter that does so."""
        plain = replace(prop, across=1, down=1, angle=0)
        image = self._images.prop(project, plain, layer.tint)
        about, scale = prop_area(project, replace(prop, x=0, y=0, angle=0)), canvas.view.scale
        painter.save()
        painter.translate(QPointF(*canvas.view.to_screen(prop.x, prop.y)))
        painter.rotate(prop.angle)
        target = QRectF(*(side * scale for side in about))
        painter.drawImage(target, image, QRectF(image.rect()))
        painter.restore()
