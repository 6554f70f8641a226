"""Levels on the screen: layers as images of whole chunks, changed cell by cell."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from rushweed.core.project.cells import CHUNK, Chunk, Key
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect
from rushweed.core.weave.drawing import shifted, standing_point, view_around
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.sheet_picture import Images

MOST_CHUNKS = 192
FEW = 256
FADED = 0.28


@dataclass(slots=True)
class _Drawn:
    """A chunk as it was drawn: its cells then, its image, and cells with tiles of other sizes."""

    chunk: Chunk
    image: QImage
    large: list[tuple[int, int]]


class LevelPicture:
    """Draws a level onto a canvas, each layer where the game shows it at the level's start."""

    def __init__(self, images: Images) -> None:
        self._images = images
        self._drawn: OrderedDict[tuple[str, int, Key], _Drawn] = OrderedDict()
        self._sheets: object = None

    def draw(
        self, painter: QPainter, canvas: Canvas, project: Project, level: Level, bright: int = -1
    ) -> None:
        """Draw all visible layers; with `bright`, all but that one are faded."""
        if self._sheets is not project.sheets:
            self._drawn.clear()
            self._sheets = project.sheets
        background = level.background or project.rules.background
        painter.fillRect(canvas.rect(), QColor(*background[:3]))
        for index, layer in enumerate(level.layers):
            if layer.visible:
                faded = bright not in (-1, index)
                painter.setOpacity(layer.opacity * (FADED if faded else 1.0))
                self.draw_layer(painter, canvas, project, level, index)
        painter.setOpacity(1.0)

    def draw_layer(
        self, painter: QPainter, canvas: Canvas, project: Project, level: Level, index: int
    ) -> None:
        layer = level.layers[index]
        seen = canvas.visible()
        dx, dy = rest_offset(project, level, layer)
        shown = Rect(seen.x - dx, seen.y - dy, seen.width, seen.height)
        painter.save()
        painter.translate(dx * canvas.view.scale, dy * canvas.view.scale)
        self._draw_chunks(painter, canvas, project, level.name, index, layer, shown)
        for prop in layer.props:
            self._draw_prop(painter, canvas, project, layer, prop, shown)
        painter.restore()

    def _draw_chunks(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        level: str,
        index: int,
        layer: Layer,
        shown: Rect,
    ) -> None:
        width, height = project.rules.tile
        cells = Rect(
            shown.x // width - 2,
            shown.y // height - 1,
            shown.width // width + 5,
            shown.height // height + 8,
        )
        for key, chunk in layer.cells.chunks_in(cells):
            drawn = self._chunk(project, (level, index, key), chunk)
            place = Rect(
                key[0] * CHUNK * width, key[1] * CHUNK * height, CHUNK * width, CHUNK * height
            )
            seen = place.intersection(shown)
            if seen.area:
                source = QRectF(seen.x - place.x, seen.y - place.y, seen.width, seen.height)
                painter.drawImage(canvas.to_screen(seen), drawn.image, source)
            for row, column in drawn.large:
                number, orientation = int(chunk[0][row, column]), int(chunk[1][row, column])
                image = self._images.number(project, number, orientation)
                x = place.x + column * width
                y = place.y + (row + 1) * height - image.height()
                painter.drawImage(
                    canvas.to_screen(Rect(x, y, image.width(), image.height())),
                    image,
                    QRectF(image.rect()),
                )

    def _chunk(self, project: Project, key: tuple[str, int, Key], chunk: Chunk) -> _Drawn:
        drawn = self._drawn.get(key)
        if drawn is None:
            size = project.rules.tile
            image = QImage(
                CHUNK * size.width, CHUNK * size.height, QImage.Format.Format_ARGB32_Premultiplied
            )
            image.fill(0)
            drawn = _Drawn((np.zeros_like(chunk[0]), np.zeros_like(chunk[1])), image, [])
            self._drawn[key] = drawn
            if len(self._drawn) > MOST_CHUNKS:
                self._drawn.popitem(last=False)
        if drawn.chunk[0] is not chunk[0] or drawn.chunk[1] is not chunk[1]:
            self._redraw(project, drawn, chunk)
        self._drawn.move_to_end(key)
        return drawn

    def _redraw(self, project: Project, drawn: _Drawn, chunk: Chunk) -> None:
        """Draw the cells that differ from what was drawn before."""
        width, height = project.rules.tile
        different = (drawn.chunk[0] != chunk[0]) | (drawn.chunk[1] != chunk[1])
        large = set(drawn.large)
        painter = QPainter(drawn.image)
        for row, column in np.argwhere(different).tolist():
            x, y = column * width, row * height
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Clear)
            painter.fillRect(x, y, width, height, QColor(0, 0, 0, 0))
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
            large.discard((row, column))
            number = int(chunk[0][row, column])
            if not number:
                continue
            image = self._images.number(project, number, int(chunk[1][row, column]))
            if (image.width(), image.height()) == (width, height):
                painter.drawImage(x, y, image)
            else:
                large.add((row, column))
        painter.end()
        drawn.chunk = chunk
        drawn.large = sorted(large)

    def _draw_prop(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        layer: Layer,
        prop: Prop,
        shown: Rect,
    ) -> None:
        image = self._images.number(project, prop.piece, prop.orientation)
        place = prop_rect(project, prop, image.width(), image.height())
        if layer.repeated:
            first = shown.x - (shown.x - place.x) % place.width
            spots = range(first, shown.right, place.width)
        else:
            spots = range(place.x, place.x + 1)
        for x in spots:
            rect = Rect(x, place.y, place.width, place.height)
            if rect.intersection(shown).area:
                painter.drawImage(canvas.to_screen(rect), image, QRectF(image.rect()))


def prop_rect(project: Project, prop: Prop, width: int, height: int) -> Rect:
    """Where a prop's picture lies in its layer."""
    found = project.find(prop.piece)
    pivot = standing_point(found[1] if found else None, project, prop.orientation)
    return Rect(int((prop.x - pivot.x) // 1), int((prop.y - pivot.y) // 1), width, height)


def rest_offset(project: Project, level: Level, layer: Layer) -> tuple[int, int]:
    """How far a layer's plane is moved, in pixels, as the game shows it at the level's start."""
    view = view_around(level.start or Point(0, 0), project.rules.resolution)
    plane = shifted(layer, view)
    return view.x - plane.x, view.y - plane.y
