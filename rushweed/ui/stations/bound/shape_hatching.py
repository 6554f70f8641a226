"""Shapes hatched over the pieces of the sheet."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from rushweed.ui.canvas.hatching import LARGE, Stamps, draw_shape
from rushweed.ui.stations.common.shape_marks import draw_corners
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

LARGE_FROM = 6
"""From this scale on shapes are hatched heavily and their corners are marked."""


class ShapeHatching:
    """Small shapes are drawn with stamps that are made once for a scale."""

    def __init__(self, canvas: SheetCanvas) -> None:
        self._canvas = canvas
        self._stamps = Stamps()

    def paint(self, painter: QPainter, shown: bool) -> None:
        """Paint the shapes, if they are shown, and the corners of the one selected piece."""
        canvas, scale = self._canvas, self._canvas.view.scale
        large = scale >= LARGE_FROM
        if shown:
            self._paint_shapes(painter, scale, large)
        selected = canvas.selected_pieces()
        if large and len(selected) == 1:
            draw_corners(painter, canvas, selected[0])

    def _paint_shapes(self, painter: QPainter, scale: float, large: bool) -> None:
        self._stamps.begin(painter, scale)
        for _, piece in self._canvas.seen_pieces(painter):
            if not piece.shapes:
                continue
            corner = self._canvas.view.to_screen(piece.rect.x, piece.rect.y)
            if large:
                for shape in piece.shapes:
                    draw_shape(painter, shape, corner.x, corner.y, scale, LARGE)
            else:
                self._stamps.draw(painter, piece.shapes, corner.x, corner.y)
