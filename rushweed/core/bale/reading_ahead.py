"""The pictures of many sheets, read by several processes before they are asked for."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from mmap import mmap

import numpy as np

from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.pictures import Picture
from rushweed.core.processes import share_out
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal


def read_ahead(art: Art, sheets: Sequence[Sheet], jobs: int) -> None:
    """Have so many processes read the pictures of sheets into the memory of `art`, as many as it
    has room for. What cannot be read is left to whoever asks for it."""
    waiting = list(_with_room(art, sheets))
    if len(waiting) < 2:
        return

    def read(number: int) -> bool:
        sheet, room = waiting[number]
        try:
            picture = art.picture(sheet)
        except Refusal:
            return False
        if picture.shape == room.shape:
            room[:] = picture
        return picture.shape == room.shape

    for (sheet, room), done in zip(waiting, share_out(read, len(waiting), jobs), strict=True):
        if done:
            room.setflags(write=False)
            art.memory.keep(picture_key(sheet), room)


def _with_room(art: Art, sheets: Sequence[Sheet]) -> Iterator[tuple[Sheet, Picture]]:
    """The sheets that were not read yet, each with room for its pixels that processes share."""
    free = art.memory.free
    for key, sheet in {picture_key(sheet): sheet for sheet in sheets}.items():
        size = sheet.size.width * sheet.size.height * 4
        if 0 < size <= free and art.memory.find(key) is None:
            free -= size
            room = np.frombuffer(mmap(-1, size), np.uint8)
            yield sheet, room.reshape(sheet.size.height, sheet.size.width, 4)
