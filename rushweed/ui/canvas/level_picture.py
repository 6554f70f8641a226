"""Levels on the screen: chunks of layers as images, in the size that the zoom asks for."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field
from time import perf_counter

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter

from rushweed.core.project.cells import CHUNK, Cells, Chunk, Key
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.values import Colour, Point, Rect
from rushweed.core.weave.drawing import (
    cells_that_reach,
    frames_now,
    shifted,
    view_around,
)
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.prop_picture import PropPicture
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.canvas.tile_atlas import Fineness, TileAtlas

MOST_BYTES = 192 << 20
"""Chunk images are kept up to this size, the latest seen."""
FULL_FROM, QUARTER_FROM = 0.5, 0.1
"""From these scales on chunks are drawn whole, and a quarter as large; below, a pixel a cell."""
BLOCK = 16
"""Of a pixel a cell, so many chunks a side are one image."""
SURE, BUDGET = 40, 0.006
"""So many chunks are made for each picture; then as many as so many seconds allow, and the rest
for the next ones."""
FADED = 0.28
MOST_ATLASES = 8
"""Tints whose tiles are kept at hand."""


@dataclass(slots=True)
class _Drawn:
    """A part of a layer as it was drawn, with the cells of tiles that are not as large as one."""

    of: object
    image: QImage
    large: list[tuple[int, int]]
    smaller: dict[int, QImage] = field(default_factory=dict)


class LevelPicture:
    """Draws a level onto a canvas, each layer where the game shows it at the level's start. It is
    at rest, unless `seconds` says since when its animations play."""

    def __init__(self, images: Images) -> None:
        self._images = images
        self._drawn: OrderedDict[tuple[object, ...], _Drawn] = OrderedDict()
        self._bytes = 0
        self._atlases: OrderedDict[tuple[Colour | None, frozenset[int]], TileAtlas] = OrderedDict()
        self._props = PropPicture(images)
        self.seconds: float | None = None
        self._made_of: tuple[object, object] | None = None
        self._began, self._made, self._left_over = 0.0, 0, False

    def draw(
        self, painter: QPainter, canvas: Canvas, project: Project, level: Level, bright: int = -1
    ) -> None:
        """Draw all visible layers; with `bright`, all but that one are faded."""
        project = in_levels(project)
        if (
            self._made_of is None
            or self._made_of[0] is not project.sheets
            or self._made_of[1] != project.rules.tile
        ):
            self._forget()
        self._made_of = (project.sheets, project.rules.tile)
        self._began, self._made, self._left_over = perf_counter(), 0, False
        background = level.background or project.rules.background
        painter.fillRect(canvas.rect(), QColor(*background[:3]))
        for index, layer in enumerate(level.layers):
            if layer.visible:
                faded = bright not in (-1, index)
                painter.setOpacity(layer.opacity * (FADED if faded else 1.0))
                self.draw_layer(painter, canvas, project, level, index)
        painter.setOpacity(1.0)
        if self._left_over:
            canvas.update()

    def draw_layer(
        self, painter: QPainter, canvas: Canvas, project: Project, level: Level, index: int
    ) -> None:
        layer = level.layers[index]
        seen = canvas.visible()
        dx, dy = rest_offset(project, level, layer)
        shown = Rect(seen.x - dx, seen.y - dy, seen.width, seen.height)
        painter.save()
        scale = canvas.view.scale
        painter.translate(dx * scale, dy * scale)
        plays = self.seconds is not None and scale >= FULL_FROM
        now = frames_now(project, self.seconds or 0) if plays else {}
        key = (level.name, index, layer.tint, frozenset(now))
        if scale < QUARTER_FROM:
            self._draw_dots(painter, canvas, project, layer, shown, key)
        else:
            fineness: Fineness = "full" if scale >= FULL_FROM else "quarter"
            atlas = self._atlas(project, layer.tint, frozenset(now))
            atlas.now = now
            self._draw_chunks(painter, canvas, project, layer, shown, key, fineness, atlas)
        self._props.draw(painter, canvas, project, level, layer, shown, self.seconds)
        painter.restore()

    # -- cells ------------------------------------------------------------------------

    def _draw_chunks(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        layer: Layer,
        shown: Rect,
        key: tuple[object, ...],
        fineness: Fineness,
        atlas: TileAtlas,
    ) -> None:
        width, height = project.rules.tile
        cells = cells_that_reach(project, layer, shown)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, fineness != "full")
        if not atlas.puts_together(fineness):
            self._draw_cells(painter, canvas, project, layer, cells, atlas)
            return
        size = atlas.sizes[fineness]
        for place_in, chunk in layer.cells.chunks_in(cells):
            drawn = self._chunk((*key, place_in, fineness), chunk, atlas, fineness)
            if drawn is None:
                continue
            place = Rect(
                place_in[0] * CHUNK * width,
                place_in[1] * CHUNK * height,
                CHUNK * width,
                CHUNK * height,
            )
            seen = place.intersection(shown)
            if seen.area:
                across, down = size.width / width, size.height / height
                source = QRectF(
                    (seen.x - place.x) * across,
                    (seen.y - place.y) * down,
                    seen.width * across,
                    seen.height * down,
                )
                painter.drawImage(canvas.to_screen(seen), drawn.image, source)
            for row, column in drawn.large:
                code = int(chunk[0][row, column]) * 8 + int(chunk[1][row, column])
                foot = place.x + column * width, place.y + (row + 1) * height
                _draw_standing(painter, canvas, atlas.tile(code), *foot)

    def _draw_cells(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        layer: Layer,
        cells: Rect,
        atlas: TileAtlas,
    ) -> None:
        """Cells too large to be put together, one by one."""
        width, height = project.rules.tile
        codes = _codes(layer.cells, cells)
        for row, column in np.argwhere(codes).tolist():
            foot = (cells.x + column) * width, (cells.y + row + 1) * height
            _draw_standing(painter, canvas, atlas.tile(int(codes[row, column])), *foot)

    def _chunk(
        self, key: tuple[object, ...], chunk: Chunk, atlas: TileAtlas, fineness: Fineness
    ) -> _Drawn | None:
        """A chunk's image, made or mended; None where there is no time for it now."""
        drawn = self._drawn.get(key)
        if drawn is not None and drawn.of is chunk:
            self._drawn.move_to_end(key)
            return drawn
        if drawn is None and self._is_late():
            return None
        codes = chunk[0].astype(np.int64) * 8 + chunk[1]
        if drawn is not None and self._mend(drawn, chunk, codes, atlas, fineness):
            return drawn
        self._made += 1
        odd = [code for code in np.unique(codes).tolist() if code and atlas.is_large(code)]
        spots = np.argwhere(np.isin(codes, odd)).tolist() if odd else []
        large = [(row, column) for row, column in spots]
        return self._keep(key, _Drawn(chunk, atlas.image(codes, fineness), large))

    def _mend(
        self, drawn: _Drawn, chunk: Chunk, codes: np.ndarray, atlas: TileAtlas, fineness: Fineness
    ) -> bool:
        """Draw the cells anew that differ from what was drawn; False where that would be many."""
        before = drawn.of
        assert isinstance(before, tuple)
        different = np.argwhere((before[0] != chunk[0]) | (before[1] != chunk[1])).tolist()
        if len(different) > CHUNK:
            return False
        size = atlas.sizes[fineness]
        large = set(drawn.large)
        painter = QPainter(drawn.image)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        for row, column in different:
            code = codes[row : row + 1, column : column + 1]
            image = atlas.image(code, fineness)
            painter.drawImage(column * size.width, row * size.height, image)
            large.discard((row, column))
            if code[0, 0] and atlas.is_large(int(code[0, 0])):
                large.add((row, column))
        painter.end()
        drawn.of, drawn.large = chunk, sorted(large)
        return True

    def _draw_dots(
        self,
        painter: QPainter,
        canvas: Canvas,
        project: Project,
        layer: Layer,
        shown: Rect,
        key: tuple[object, ...],
    ) -> None:
        """A pixel for each cell, in blocks of many chunks."""
        width, height = project.rules.tile
        side = BLOCK * CHUNK
        atlas = self._atlas(project, layer.tint, frozenset())
        area = Rect(
            shown.x // width,
            shown.y // height,
            shown.width // width + 2,
            shown.height // height + 2,
        ).intersection(layer.cells.bounds())
        if not area.area:
            return
        for row in range(area.y // side, (area.bottom - 1) // side + 1):
            for column in range(area.x // side, (area.right - 1) // side + 1):
                drawn = self._block((*key, (column, row), "dot"), layer.cells, (column, row), atlas)
                place = Rect(
                    column * side * width, row * side * height, side * width, side * height
                )
                if drawn is not None:
                    image = self._smaller(drawn, canvas.view.scale * max(width, height))
                    painter.drawImage(canvas.to_screen(place), image, QRectF(image.rect()))

    def _smaller(self, drawn: _Drawn, cell: float) -> QImage:
        """A block's image, halved as often as it stays as large as it is seen; `cell` is the size
        of a cell on the screen."""
        side, image = BLOCK * CHUNK, drawn.image
        while image.width() > 64 and image.width() / 2 >= side * cell:
            half = image.width() // 2
            smaller = drawn.smaller.get(half)
            if smaller is None:
                smaller = image.scaled(
                    half,
                    half,
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
                drawn.smaller[half] = smaller
            image = smaller
        return image

    def _block(
        self, key: tuple[object, ...], cells: Cells, block: Key, atlas: TileAtlas
    ) -> _Drawn | None:
        drawn = self._drawn.get(key)
        if drawn is not None and drawn.of is cells:
            return drawn
        if drawn is None and self._is_late():
            return None
        side = BLOCK * CHUNK
        if drawn is not None and isinstance(drawn.of, Cells):
            changed = [
                place
                for place in _chunks_of(block)
                if drawn.of.chunks.get(place) is not cells.chunks.get(place)
            ]
            painter = QPainter(drawn.image)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            for place in changed:
                x, y = place[0] * CHUNK, place[1] * CHUNK
                part = _codes(cells, Rect(x, y, CHUNK, CHUNK))
                corner = x - block[0] * side, y - block[1] * side
                painter.drawImage(*corner, atlas.image(part, "dot"))
            painter.end()
            drawn.of = cells
            drawn.smaller.clear()
            return drawn
        self._made += SURE // 4
        area = Rect(block[0] * side, block[1] * side, side, side)
        return self._keep(key, _Drawn(cells, atlas.image(_codes(cells, area), "dot"), []))

    # -- what is kept --------------------------------------------------------------------

    def _atlas(self, project: Project, tint: Colour | None, animated: frozenset[int]) -> TileAtlas:
        key = tint, animated
        if key not in self._atlases:
            self._atlases[key] = TileAtlas(self._images, project, tint, animated)
            if len(self._atlases) > MOST_ATLASES:  # a tint that is dragged goes through many
                self._atlases.popitem(last=False)
        self._atlases.move_to_end(key)
        return self._atlases[key]

    def _is_late(self) -> bool:
        """Whether the rest has to wait for the next picture."""
        late = self._made >= SURE and perf_counter() - self._began > BUDGET
        self._left_over |= late
        return late

    def _keep(self, key: tuple[object, ...], drawn: _Drawn) -> _Drawn:
        old = self._drawn.pop(key, None)
        self._bytes += drawn.image.sizeInBytes() - (old.image.sizeInBytes() if old else 0)
        self._drawn[key] = drawn
        while self._bytes > MOST_BYTES and len(self._drawn) > 1:
            _, gone = self._drawn.popitem(last=False)
            self._bytes -= gone.image.sizeInBytes()
        return drawn

    def _forget(self) -> None:
        self._drawn.clear()
        self._atlases.clear()
        self._bytes = 0


def _draw_standing(painter: QPainter, canvas: Canvas, image: QImage, x: int, foot: int) -> None:
    """A tile whose lower left corner is at a place of the level."""
    rect = Rect(x, foot - image.height(), image.width(), image.height())
    painter.drawImage(canvas.to_screen(rect), image, QRectF(image.rect()))


def rest_offset(project: Project, level: Level, layer: Layer) -> tuple[int, int]:
    """How far a layer's plane is moved, in pixels, as the game shows it at the level's start."""
    view = view_around(level.start or Point(0, 0), project.rules.resolution)
    plane = shifted(layer, view)
    return view.x - plane.x, view.y - plane.y


def _codes(cells: Cells, area: Rect) -> np.ndarray:
    numbers, orientations = cells.window(area)
    codes: np.ndarray = numbers.astype(np.int64) * 8 + orientations
    return codes


def _chunks_of(block: Key) -> list[Key]:
    return [
        (block[0] * BLOCK + column, block[1] * BLOCK + row)
        for row in range(BLOCK)
        for column in range(BLOCK)
    ]
