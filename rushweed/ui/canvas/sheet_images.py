"""Sheets on the screen: their pictures as images, kept as long as there is room."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import replace

from PyQt6.QtGui import QImage

from rushweed.core.gather.art import Art, cut_out, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.thumbnails import thumbnail
from rushweed.core.orientation import turned
from rushweed.core.project.level import Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Colour, Refusal
from rushweed.core.weave.drawing import UNPOSED, Scene, missing
from rushweed.core.weave.posing import pose_of
from rushweed.ui.canvas.images import to_image

LARGE = 4_000_000
"""Nobody waits for the image of a sheet of more pixels."""


class Images:
    """Images of sheets and pieces for the screen, kept in the same bounded store as their
    pixels. `load` is told of a large sheet that is wanted and not at hand: its image, and those of
    its pieces, are clear until `make` was called for it."""

    def __init__(self, art: Art) -> None:
        self.art = art
        self.load: Callable[[Sheet], object] | None = None

    def sheet(self, sheet: Sheet) -> QImage:
        """The sheet's picture as drawn. A red square when it cannot be read."""
        key = picture_key(sheet)
        return self._later(sheet, key) or self._get(key, lambda: self.art.picture(sheet))

    def stored(self, sheet: Sheet) -> QImage:
        """The sheet's picture as gathered."""
        key = _stored_key(sheet)
        return self._later(sheet, key) or self._get(key, lambda: self.art.stored(sheet))

    def make(self, sheet: Sheet) -> None:
        """Have the sheet's images at hand from now on; in any thread."""
        image = self._get(picture_key(sheet), lambda: self.art.picture(sheet))
        if self.art.picture(sheet) is self.art.stored(sheet):
            self.art.memory.keep(("image", _stored_key(sheet)), image)
        else:
            self._get(_stored_key(sheet), lambda: self.art.stored(sheet))

    def piece(self, sheet: Sheet, piece: Piece, orientation: int = 0) -> QImage:
        """One piece, turned and flipped."""
        later = self._later(sheet, picture_key(sheet))
        return later or self._piece(sheet, piece, orientation)

    def thumbnail(self, sheet: Sheet, side: int) -> QImage:
        """What stands for a sheet in a square of so many pixels; about twice as large at most."""
        later = self._later(sheet, picture_key(sheet))
        return later or self._thumbnail(sheet, side)

    def _later(self, sheet: Sheet, key: Hashable) -> QImage | None:
        """What is shown of a large sheet until it is at hand."""
        if self.load is None or not is_large(sheet) or self.art.memory.find(("image", key)):
            return None
        self.load(sheet)
        clear = QImage(1, 1, QImage.Format.Format_ARGB32_Premultiplied)
        clear.fill(0)
        return clear

    def _piece(self, sheet: Sheet, piece: Piece, orientation: int) -> QImage:
        key = (picture_key(sheet), piece.rect, orientation)
        return self._get(
            key, lambda: turned(cut_out(self.art.picture(sheet), piece.rect), orientation)
        )

    def _thumbnail(self, sheet: Sheet, side: int) -> QImage:
        first = sheet.pieces[0].rect if sheet.pieces else None
        key = ("thumbnail", picture_key(sheet), sheet.kind, first, side)
        return self._get(key, lambda: thumbnail(self.art, sheet, side))

    def number(self, project: Project, number: int, orientation: int = 0) -> QImage:
        """The piece with that number; a red square when there is none."""
        found = project.find(number)
        if found is None:
            return self._get(("missing", project.rules.tile), lambda: missing(*project.rules.tile))
        return self._piece(*found, orientation)

    def prop(self, project: Project, prop: Prop, tint: Colour | None = None) -> QImage:
        """A prop as it stands, under its own tint and another; as wide and high as its area."""
        found = project.find(prop.piece)
        plain = replace(UNPOSED, orientation=prop.orientation)
        pose = pose_of(prop)
        if found is None or (pose == plain and prop.tint is None and tint is None):
            return self.number(project, prop.piece, prop.orientation)
        sheet, piece = found
        key = picture_key(sheet), piece.rect, piece.standing, piece.borders, pose, prop.tint, tint
        return self._get(key, lambda: Scene(project, self.art).prop(prop, tint))

    def _get(self, key: Hashable, picture: Callable[[], Picture]) -> QImage:
        try:
            return self.art.memory.get(("image", key), lambda: to_image(picture()))
        except Refusal:
            return to_image(missing(32, 32))


def is_large(sheet: Sheet) -> bool:
    """Whether it takes so long to read a sheet's picture that nobody should wait for it."""
    return max(sheet.size.area, sheet.stored_size.area) > LARGE


def _stored_key(sheet: Sheet) -> Hashable:
    contents = tuple(source.content for source in sheet.sources)
    return ("stored", contents, sheet.redrawn)
