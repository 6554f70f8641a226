"""What stands for a sheet in a small square."""

from __future__ import annotations

from collections.abc import Hashable

from rushweed.core.gather.archive import Archive
from rushweed.core.gather.art import Art, cut_out, picture_key
from rushweed.core.gather.fitting import fitted
from rushweed.core.gather.pictures import Picture, decode, encode_png
from rushweed.core.pixels import box_around
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Rect, Refusal, Size

ASKED = 512
"""A larger picture is asked by samples where something is drawn."""
SAMPLES = 2
"""A thinned out pixel is the mean of about so many, each way."""
TILES = 2
"""A tileset shows so many tiles side by side, or more."""
FIRST = 8
"""Of so many pieces one is taken that shows anything."""
SMALL = 1 << 16
"""The thumbnail of a sheet of no more pixels is made as soon as it could be looked for on disk."""
QUICK = 1
"""The effort with which a thumbnail is packed for the disk."""


def thumbnail_key(sheet: Sheet, side: int) -> Hashable:
    """All that decides what a thumbnail shows."""
    first = tuple(piece.rect for piece in sheet.pieces[:FIRST])
    return ("thumbnail", picture_key(sheet), sheet.kind, first, side)


def known_thumbnail(art: Art, sheet: Sheet, side: int) -> Picture | None:
    """The thumbnail of an earlier sitting, or None."""
    archive = _archive(art, sheet)
    data = archive.find(thumbnail_key(sheet, side)) if archive is not None else None
    try:
        return None if data is None else decode(data, sheet.name)
    except Refusal:
        return None


def thumbnail(art: Art, sheet: Sheet, side: int) -> Picture:
    """The first piece that shows anything, with nothing around it; of tilesets and of what is not
    cut, the upper left part of what is drawn. What is larger than twice the side, in pixels, is
    thinned out to about that. Kept for later sittings. Raises Refusal for a picture that cannot be
    read."""
    made = _thinned(_shown(art, sheet, side), side)
    archive = _archive(art, sheet)
    if archive is not None and art.is_true(sheet):
        archive.keep(thumbnail_key(sheet, side), encode_png(made, QUICK))
    return made


def _archive(art: Art, sheet: Sheet) -> Archive | None:
    """Where the thumbnail of a sheet is kept, if it is."""
    return art.archive if sheet.size.area > SMALL else None


def _shown(art: Art, sheet: Sheet, side: int) -> Picture:
    """The part of a sheet's picture that stands for it."""
    picture = art.picture(sheet)
    if sheet.pieces and sheet.kind != "tileset":
        for piece in sheet.pieces[:FIRST]:
            drawn = _drawn(picture, piece.rect)
            if drawn is not None:
                return cut_out(picture, drawn)
    whole = Rect(0, 0, picture.shape[1], picture.shape[0])
    drawn = _drawn(picture, whole) or whole
    most = min(drawn.width, drawn.height)
    if sheet.pieces:
        most = min(most, max(side, TILES * max(sheet.pieces[0].rect.size)))
    most = max(most, min(side, max(drawn.size)))
    corner = Rect(drawn.x, drawn.y, min(most, drawn.width), min(most, drawn.height))
    return cut_out(picture, corner)


def _drawn(picture: Picture, area: Rect) -> Rect | None:
    """The rectangle around about all that is drawn in an area; None where nothing is."""
    step = max(1, max(area.size) // ASKED)
    return _drawn_at(picture, area, step) or (_drawn_at(picture, area, 1) if step > 1 else None)


def _drawn_at(picture: Picture, area: Rect, step: int) -> Rect | None:
    seen = cut_out(picture, area)[::step, ::step, 3] > 0
    box = box_around(seen)
    if box is None:
        return None
    around = Rect(box.x * step, box.y * step, box.width * step, box.height * step)
    return around.moved(area.x, area.y).intersection(area)


def _thinned(picture: Picture, side: int) -> Picture:
    """A picture that is larger than twice the side as means of its pixels, or of every so manieth
    of them: nobody waits for a mean of millions."""
    height, width = picture.shape[:2]
    by = max(height, width) // (2 * side)
    if by < 2:
        return picture
    step = max(1, by // SAMPLES)
    return fitted(
        picture[::step, ::step], Size(max(1, width // by), max(1, height // by)), "smoothed"
    )
