"""The pixels of a project's sheets, read when first asked for."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any, TypeVar

import numpy as np

from rushweed.core.gather.archive import Archive
from rushweed.core.gather.colour_key import apply_key
from rushweed.core.gather.fitting import fitted
from rushweed.core.gather.kept import Kept
from rushweed.core.gather.memory import Memory
from rushweed.core.gather.pictures import Picture, content_hash, decode, read_inside
from rushweed.core.gather.recolouring import recoloured
from rushweed.core.gather.redrawing import redrawn
from rushweed.core.gather.true_pixel import enlarged, shrunk
from rushweed.core.orientation import turned
from rushweed.core.project.own_size import StandingSheet
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Redrawn, Sheet, Source
from rushweed.core.values import Rect, Refusal, Size

Value = TypeVar("Value")


class Art:
    """Reads pictures from a project's folder and keeps what it made of them."""

    def __init__(
        self,
        folder: Path,
        memory: Memory | None = None,
        keeps: bool = False,
        archive: Archive | None = None,
    ) -> None:
        """With `keeps`, copies of the files are kept so that older versions can be shown. What is
        found in pixels is kept in `archive` as well."""
        self.folder = folder
        self.memory = memory or Memory()
        self.archive = archive
        self._keeps = keeps
        self._strange: set[str] = set()

    def source(self, source: Source) -> Picture:
        """The pixels of one file as stored. Raises Refusal when it is gone or damaged."""
        return self.memory.get(("source", source.content), lambda: self._read(source))

    def stored(self, sheet: Sheet) -> Picture:
        """The sheet's sources side by side, brought back to the pixels they were drawn with where
        somebody wanted that; nothing else applied."""
        return self.stored_as(sheet, sheet.redrawn)

    def stored_as(self, sheet: Sheet, how: Redrawn | None) -> Picture:
        """The same, brought back in another way or not at all."""
        if how is None:
            return self.gathered(sheet)
        key = ("redrawn", tuple(source.content for source in sheet.sources), how)
        return self.memory.get(key, lambda: self._brought_back(sheet, how))

    def gathered(self, sheet: Sheet) -> Picture:
        """The sheet as gathered: its sources side by side, nothing applied."""
        if len(sheet.sources) == 1:
            return self.source(sheet.sources[0])
        key = ("row", tuple(source.content for source in sheet.sources))
        return self.memory.get(key, lambda: side_by_side([self.source(s) for s in sheet.sources]))

    def picture(self, sheet: Sheet) -> Picture:
        """The sheet as drawn: colour key made clear, one pixel for each drawn pixel."""
        return self.memory.get(picture_key(sheet), lambda: self._drawn(sheet))

    def check(self, sheet: Sheet) -> None:
        """Make sure that a sheet's picture can be read, without reading it again where nothing
        changed since it could. Raises Refusal."""
        if all(map(self._is_intact, sheet.sources)):
            key = ("readable", picture_key(sheet))
            self.found(sheet, bool, key, lambda: self.picture(sheet) is not None)
        else:
            self.picture(sheet)

    def piece(self, sheet: Sheet, piece: Piece) -> Picture:
        """One piece's pixels; what lies past the picture's edge is clear."""
        if not isinstance(sheet, StandingSheet):
            return cut_out(self.picture(sheet), piece.rect)
        whole = cut_out(self.picture(sheet.drawn), sheet.rects[piece.number])
        return fitted(whole, piece.rect.size, "nearest")

    def number(self, project: Project, number: int) -> Picture | None:
        """The pixels of the piece with that number, or None when there is no such piece."""
        found = project.find(number)
        return self.piece(*found) if found else None

    def found(self, sheet: Sheet, form: Any, key: Hashable, compute: Callable[[], Value]) -> Value:
        """Something of a type that was found in a sheet's pixels before, or is found now. `key`
        must say, in its `repr` too, all that it depends on."""
        archive = self.archive
        if archive is None:
            return self.memory.get(key, compute)
        keeps = partial(self.is_true, sheet)
        return self.memory.get(key, lambda: archive.get(form, key, compute, keeps))

    def is_true(self, sheet: Sheet) -> bool:
        """Whether a sheet's pixels are, as far as they were read, those that were taken in."""
        return self._strange.isdisjoint(source.content for source in sheet.sources)

    def put(self, data: bytes, picture: Picture) -> None:
        """Keep pixels that were just decoded from these bytes."""
        self._put(content_hash(data), data, picture)

    def _put(self, content: str, data: bytes, picture: Picture) -> None:
        if self._keeps:
            Kept(self.folder).keep(content, data)
        self.memory.keep(("source", content), picture)

    def put_list(self, content: str, text: bytes) -> None:
        """Keep the text that lists what is on the picture file with that content."""
        if self._keeps and text:
            Kept(self.folder).keep_list(content, text)
        self.memory.keep(("list", content), text)

    def list_of(self, content: str) -> bytes:
        """The text that lists what is on the picture file with that content, or an empty one."""
        return self.memory.get(("list", content), lambda: Kept(self.folder).find_list(content))

    def has(self, source: Source) -> bool:
        """Whether the pixels that were taken in are at hand."""
        kept = Kept(self.folder).has(source.content)
        return kept or content_hash(self._on_disk(source)) == source.content

    def _brought_back(self, sheet: Sheet, how: Redrawn) -> Picture:
        """The sheet's sources brought back; numbered frames each by itself, side by side."""
        if len(sheet.sources) == 1:
            return redrawn(self.gathered(sheet), how)
        each = replace(how, size=Size(how.size.width // len(sheet.sources), how.size.height))
        return side_by_side([redrawn(self.source(source), each) for source in sheet.sources])

    def _drawn(self, sheet: Sheet) -> Picture:
        drawn = apply_key(shrunk(self.stored(sheet), sheet.pixel), sheet.colour_key)
        asked = sheet.orientation, sheet.enlarged, sheet.recoloured, sheet.fitted
        if asked == (0, 1, None, None):
            return drawn
        result = enlarged(turned(drawn, sheet.orientation), sheet.enlarged)
        if sheet.recoloured is not None:
            result = recoloured(result, sheet.recoloured)
        if sheet.fitted is not None:
            result = fitted(result, sheet.size, sheet.fitted.way)
        result.setflags(write=False)
        return result

    def _read(self, source: Source) -> Picture:
        """The pixels that were taken in; if nobody kept them, those the file holds now."""
        data = Kept(self.folder).find(source.content)
        if data is not None:
            return decode(data, source.path)
        data = read_inside(self.folder, source.path)
        picture = decode(data, source.path)
        if content_hash(data) == source.content:
            self._put(source.content, data, picture)
        elif picture.shape[:2] != (source.size.height, source.size.width):
            raise Refusal(
                "“{path}” changed its size outside. Take it in, in Gather under Changes.",
                path=source.path,
            )
        else:
            self._strange.add(source.content)
        return picture

    def _is_intact(self, source: Source) -> bool:
        """Whether the project's file holds what was taken in; asked anew when it is written."""
        try:
            status = (self.folder / source.path).stat()
        except OSError:
            return False
        key = ("intact", source.path, source.content, status.st_size, status.st_mtime_ns)
        return self.memory.get(key, lambda: content_hash(self._on_disk(source)) == source.content)

    def _on_disk(self, source: Source) -> bytes:
        try:
            return read_inside(self.folder, source.path)
        except Refusal:
            return b""


def is_as_stored(sheet: Sheet) -> bool:
    """Whether nothing is made of the pixels that are stored."""
    usual = (1, None, 0, 1, None, None)
    return _made_of_pixels(sheet) == usual


def _made_of_pixels(sheet: Sheet) -> tuple[object, ...]:
    """What a sheet's picture depends on beyond the pixels that are stored."""
    return (
        sheet.pixel,
        sheet.colour_key,
        sheet.orientation,
        sheet.enlarged,
        sheet.recoloured,
        sheet.fitted,
    )


def picture_key(sheet: Sheet) -> tuple[object, ...]:
    """What the sheet's picture depends on: equal keys have equal pixels."""
    contents = tuple(source.content for source in sheet.sources)
    return ("picture", contents, sheet.redrawn, *_made_of_pixels(sheet))


def piece_key(sheet: Sheet, piece: Piece) -> tuple[object, ...]:
    """What a piece's pixels depend on: equal keys have equal pixels."""
    if isinstance(sheet, StandingSheet):
        return (picture_key(sheet), piece.rect.size, sheet.rects[piece.number])
    return (picture_key(sheet), piece.rect)


def cut_out(picture: Picture, rect: Rect) -> Picture:
    """The pixels of a rectangle; what lies past the picture's edge is clear."""
    height, width = picture.shape[:2]
    if rect.x >= 0 and rect.y >= 0 and rect.right <= width and rect.bottom <= height:
        return picture[rect.y : rect.bottom, rect.x : rect.right]
    result = np.zeros((rect.height, rect.width, 4), np.uint8)
    left, top = max(rect.x, 0), max(rect.y, 0)
    right, bottom = min(rect.right, width), min(rect.bottom, height)
    if right > left and bottom > top:
        place = np.s_[top - rect.y : bottom - rect.y, left - rect.x : right - rect.x]
        result[place] = picture[top:bottom, left:right]
    result.setflags(write=False)
    return result


def side_by_side(pictures: list[Picture]) -> Picture:
    """Pictures in one row, left to right, standing on a common lower edge."""
    height = max(picture.shape[0] for picture in pictures)
    width = sum(picture.shape[1] for picture in pictures)
    row = np.zeros((height, width, 4), np.uint8)
    x = 0
    for picture in pictures:
        row[height - picture.shape[0] :, x : x + picture.shape[1]] = picture
        x += picture.shape[1]
    row.setflags(write=False)
    return row
