"""Texts that lie beside a picture and may list what is on it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

from rushweed.core.folder.inside import read_anywhere
from rushweed.core.gather.rectangle_lists import LARGEST, series_in

ENDINGS = (".json", ".xml", ".plist", ".csv", ".tsv", ".txt")
MOST_LOOKED_THROUGH = 32
"""So many texts of a folder are looked through for the name of a picture's file."""


def list_beside(picture: Path) -> bytes:
    """The text that lists things on a picture: one of its name, else one in its folder that names
    the picture's file. Empty where there is none."""
    return next((text for text in _texts(picture) if series_in(text)), b"")


def _texts(picture: Path) -> Iterator[bytes]:
    for ending in ENDINGS:
        for path in (picture.with_suffix(ending), picture.with_name(picture.name + ending)):
            if path.is_file():
                yield _text(path)
    named = picture.name.encode()
    yield from (text for text in _texts_of(picture.parent) if named in text)


def _texts_of(folder: Path) -> tuple[bytes, ...]:
    try:
        return _looked_through(folder, folder.stat().st_mtime_ns)
    except OSError:
        return ()


@lru_cache(maxsize=2)
def _looked_through(folder: Path, changed: int) -> tuple[bytes, ...]:
    """The texts of a folder as it was then: pictures come by the hundred from one."""
    paths = sorted(path for path in folder.iterdir() if path.suffix.lower() in ENDINGS)
    return tuple(_text(path) for path in paths[:MOST_LOOKED_THROUGH] if path.is_file())


def _text(path: Path) -> bytes:
    try:
        return read_anywhere(path, LARGEST)
    except OSError:
        return b""
