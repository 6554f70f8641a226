"""What is left of each piece once what is empty around it is cut off: found anew only where a
picture is other than it was."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from hashlib import blake2b
from operator import attrgetter

from rushweed.core.arrays import packed
from rushweed.core.gather.art import Art, cut_out, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.pixels import box_around
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Rect, Size

RECT = attrgetter("rect")
BYTES = 400
"""About what a piece's own takes in memory."""


@dataclass(frozen=True, slots=True)
class Inside:
    """Where a piece lies in its part, how large it is untrimmed, and where what is left of it
    begins in that."""

    rect: Rect
    size: Size
    offset: Point = Point(0, 0)


@dataclass(frozen=True, slots=True)
class Trim:
    """What is kept of a piece: where in its picture, what that is of the piece, and a hash of its
    pixels."""

    box: Rect
    inside: Inside
    digest: bytes


@dataclass(frozen=True, slots=True, eq=False)
class _Last:
    """The trims of a sheet as it was the last time it was asked for."""

    picture: Hashable
    rects: tuple[Rect, ...]
    trims: tuple[Trim, ...]

    @property
    def nbytes(self) -> int:
        return BYTES * len(self.trims)


def trims_of(art: Art, sheet: Sheet, trimmed: bool) -> tuple[Trim, ...]:
    """The trims of a sheet's pieces, in their order; the pieces whole unless they are `trimmed`.
    Raises Refusal for a picture that cannot be read."""
    picture, key = art.picture(sheet), picture_key(sheet)
    rects = tuple(map(RECT, sheet.pieces))
    place = ("trims", sheet.name, trimmed)
    last: _Last | None = art.memory.find(place)
    if last is not None and last.rects == rects and last.picture == key:
        return last.trims
    before = art.memory.find(last.picture) if last is not None and last.rects == rects else None
    if last is not None and before is not None and before.shape == picture.shape:
        trims = _renewed(last.trims, rects, before, picture, trimmed)
    else:
        trims = tuple(_trim(picture, rect, trimmed) for rect in rects)
    art.memory.keep(place, _Last(key, rects, trims))
    return trims


def digest(picture: Picture) -> bytes:
    """A hash (BLAKE2) of the pixels, which together would take as much room as all pictures do."""
    return blake2b(picture.tobytes(), digest_size=32).digest()


def _renewed(
    trims: Sequence[Trim], rects: Sequence[Rect], before: Picture, now: Picture, trimmed: bool
) -> tuple[Trim, ...]:
    """The trims of a picture that differs from the one before at places."""
    area = box_around(packed(now) != packed(before))
    if area is None:
        return tuple(trims)
    return tuple(
        _trim(now, rect, trimmed) if rect.intersection(area).area else trim
        for rect, trim in zip(rects, trims, strict=True)
    )


def _trim(picture: Picture, rect: Rect, trimmed: bool) -> Trim:
    piece = cut_out(picture, rect)
    kept = _drawn(piece) if trimmed else Rect(0, 0, *rect.size)
    box = Rect(rect.x + kept.x, rect.y + kept.y, kept.width, kept.height)
    inside = Inside(Rect(0, 0, *kept.size), rect.size, Point(kept.x, kept.y))
    return Trim(box, inside, digest(cut_out(piece, kept)))


def _drawn(picture: Picture) -> Rect:
    """The rectangle around all that shows anything; one clear pixel where nothing does."""
    return box_around(picture[..., 3] > 0) or Rect(0, 0, 1, 1)
