"""Sheets on the screen: their pictures as images, kept as long as there is room."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import replace
from typing import cast

from PyQt6.QtGui import QImage

from rushweed.core.gather.art import Art, is_as_stored, picture_key, piece_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.thumbnails import known_thumbnail, thumbnail, thumbnail_key
from rushweed.core.orientation import turned
from rushweed.core.project.level import Prop
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Colour, Refusal
from rushweed.core.weave.drawing import UNPOSED, Scene, missing
from rushweed.core.weave.posing import pose_of
from rushweed.ui.canvas.images import to_image

LARGE = 4_000_000
"""Nobody waits for the image of a sheet of more pixels."""
GLIMPSED = 250_000
"""The same where it is only one of many on the screen."""


class Images:
    """Images of sheets and pieces for the screen, kept in the same bounded store as their
    pixels. `load` is told of a sheet that is wanted, not at hand and large for its place: its
    image, and those of its pieces, are clear until `make` was called for it."""

    def __init__(self, art: Art) -> None:
        self.art = art
        self.load: Callable[[Sheet], object] | None = None
        self._unreadable: set[Hashable] = set()

    def is_at_hand(self, sheet: Sheet) -> bool:
        """Whether nobody has to wait for the sheet's pixels; else they are asked for."""
        return self._is_there(sheet, picture_key(sheet))

    def make(self, sheet: Sheet) -> None:
        """Have the sheet's pixels and its image at hand from now on; in any thread."""
        key = picture_key(sheet)
        try:
            picture = self.art.picture(sheet)
        except Refusal:
            self._unreadable.add(key)
        else:
            self._unreadable.discard(key)
            self._get(key, lambda: picture)

    def sheet(self, sheet: Sheet) -> QImage:
        """The sheet's picture as drawn. A red square when it cannot be read."""
        key = picture_key(sheet)
        if not self._is_there(sheet, ("image", key)):
            return _clear()
        return self._get(key, lambda: self.art.picture(sheet))

    def one_of_many(self, sheet: Sheet) -> QImage:
        """The same where many are shown together: as gathered as long as it is not cut."""
        if not self._is_there(sheet, ("image", picture_key(sheet)), GLIMPSED):
            return _clear()
        return self.stored(sheet) if sheet.layout is None else self.sheet(sheet)

    def stored(self, sheet: Sheet) -> QImage:
        """The sheet's picture as gathered."""
        if is_as_stored(sheet):
            return self.sheet(sheet)
        contents = tuple(source.content for source in sheet.sources)
        return self._get(("stored", contents, sheet.redrawn), lambda: self.art.stored(sheet))

    def piece(self, sheet: Sheet, piece: Piece, orientation: int = 0) -> QImage:
        """One piece, turned and flipped."""
        key = _piece_key(sheet, piece, orientation)
        return self._at_hand(sheet, key, lambda: self._piece(sheet, piece, orientation))

    def thumbnail(self, sheet: Sheet, side: int) -> QImage:
        """What stands for a sheet in a square of so many pixels; about twice as large at most."""
        key = thumbnail_key(sheet, side)
        kept = self.art.memory.find(("image", key))
        if kept is not None:
            return cast(QImage, kept)
        known = known_thumbnail(self.art, sheet, side)
        if known is not None:
            return self._get(key, lambda: known)
        if not self._is_there(sheet, picture_key(sheet), GLIMPSED):
            return _clear()
        return self._get(key, lambda: thumbnail(self.art, sheet, side))

    def _at_hand(self, sheet: Sheet, key: Hashable, picture: Callable[[], Picture]) -> QImage:
        """The image if it is kept or nobody has to wait for it, else a clear one."""
        if self.art.memory.find(("image", key)) is None and not self.is_at_hand(sheet):
            return _clear()
        return self._get(key, picture)

    def _is_there(self, sheet: Sheet, kept: Hashable, most: int = LARGE) -> bool:
        """Whether something of the sheet is kept under a key, or nobody has to wait for it, as it
        has no more pixels than that; else the sheet is asked for."""
        if self.load is None or not is_large(sheet, most):
            return True
        if picture_key(sheet) in self._unreadable or self.art.memory.find(kept) is not None:
            return True
        self.load(sheet)
        return False

    def _piece(self, sheet: Sheet, piece: Piece, orientation: int) -> Picture:
        return turned(self.art.piece(sheet, piece), orientation)

    def number(self, project: Project, number: int, orientation: int = 0) -> QImage:
        """The piece with that number as levels show it; a red square when there is none."""
        found = in_levels(project).find(number)
        if found is None:
            return self._get(("missing", project.rules.tile), lambda: missing(*project.rules.tile))
        key = _piece_key(*found, orientation)
        return self._get(key, lambda: self._piece(*found, orientation))

    def prop(self, project: Project, prop: Prop, tint: Colour | None = None) -> QImage:
        """A prop as it stands, under its own tint and another; as wide and high as its area."""
        found = in_levels(project).find(prop.piece)
        plain = replace(UNPOSED, orientation=prop.orientation)
        pose = pose_of(prop)
        if found is None or (pose == plain and prop.tint is None and tint is None):
            return self.number(project, prop.piece, prop.orientation)
        sheet, piece = found
        key = piece_key(sheet, piece), piece.standing, piece.borders, pose, prop.tint, tint
        return self._get(key, lambda: Scene(project, self.art).prop(prop, tint))

    def _get(self, key: Hashable, picture: Callable[[], Picture]) -> QImage:
        try:
            return self.art.memory.get(("image", key), lambda: to_image(picture()))
        except Refusal:
            return to_image(missing(32, 32))


def is_large(sheet: Sheet, most: int = LARGE) -> bool:
    """Whether it takes so long to read a sheet's picture that nobody should wait for it."""
    return max(sheet.size.area, sheet.stored_size.area) > most


def _clear() -> QImage:
    clear = QImage(1, 1, QImage.Format.Format_ARGB32_Premultiplied)
    clear.fill(0)
    return clear


def _piece_key(sheet: Sheet, piece: Piece, orientation: int) -> Hashable:
    return piece_key(sheet, piece), orientation
