"""The pixels of what stands in the lens: as the game will draw them, as drawn, or under a light."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from rushweed.core.cut.reshaping import unfitted
from rushweed.core.gather.art import cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.costs import LOSSLESS, known_treated
from rushweed.core.gauge.lighting import companions, lit, normals_of
from rushweed.core.orientation import turned
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Rect, Refusal
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.desk import Desk
from rushweed.ui.shell.lens_shown import Figure

LIGHT_HEIGHT = 12.0
"""How far the light is before the picture, in the picture's pixels."""


class FigurePixels:
    """`untreated` shows figures as drawn. `on_unknown` is told of a sheet whose compressed picture
    was not made yet and is wanted."""

    def __init__(self, desk: Desk, images: Images, on_unknown: Callable[[str], None]) -> None:
        self._desk, self._images, self._on_unknown = desk, images, on_unknown
        self.untreated = False

    def picture(self, figure: Figure) -> Picture:
        """A figure's own pixels, clear as long as its large sheet is not at hand. Refused where its
        art cannot be read."""
        if not self._images.is_at_hand(figure.sheet):
            return np.zeros((figure.piece.rect.height, figure.piece.rect.width, 4), np.uint8)
        return self._as_drawn(figure) if self.untreated else self._treated(figure)

    def lit(self, figure: Figure, picture: Picture, light: Point) -> Picture:
        """Its picture under a light at a place of it, if it has a normal map."""
        companion = companions(self._desk.project).get(figure.sheet.name)
        if companion is None:
            return picture
        try:
            normals = normals_of(self._desk.art, figure.sheet, companion)
        except Refusal:
            return picture
        return lit(picture, cut_out(normals, figure.piece.rect), light, LIGHT_HEIGHT)

    def _treated(self, figure: Figure) -> Picture:
        art, sheet = self._desk.art, figure.sheet
        treatment = treatment_of(self._desk.project, sheet)
        choice = self._desk.looked_at or treatment.compression
        known = known_treated(art, sheet, replace(treatment, compression=choice))
        if known is not None:
            return cut_out(known.picture, figure.piece.rect)
        if choice.form not in LOSSLESS:
            self._on_unknown(sheet.name)
        return art.piece(sheet, figure.piece)

    def _as_drawn(self, figure: Figure) -> Picture:
        sheet = figure.sheet
        drawn = unfitted(sheet)
        piece = next(p for p in drawn.pieces if p.number == figure.piece.number)
        rect = Rect(*(side * sheet.pixel // sheet.enlarged for side in piece.rect))
        return cut_out(turned(self._desk.art.stored(sheet), sheet.orientation), rect)
