"""Texts that lie beside a picture and may list what is on it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

from rushweed.core.folder.inside import read_anywhere
from rushweed.core.gather.pictures import ENDINGS
from rushweed.core.gather.rectangle_lists import LARGEST
from rushweed.core.values import Refusal

USUAL = {".json", ".xml", ".plist", ".csv", ".tsv", ".txt"}
"""What texts mostly end in; they are looked at first."""
MOST_LOOKED_THROUGH = 32
"""So many texts of a folder are looked through for the name of a picture's file."""


def texts_beside(picture: Path) -> Iterator[bytes]:
    """The texts that may list what is on a picture: those of its name, then those in its folder
    that name the picture's file."""
    of_its_name = {picture.stem, picture.name}
    yield from (_text(path) for path in _files_of(picture.parent) if path.stem in of_its_name)
    named = picture.name.encode()
    yield from (text for text in _texts_of(picture.parent) if named in text)


def _files_of(folder: Path) -> tuple[Path, ...]:
    """The files of a folder that are no pictures, those that are texts by their name first."""
    try:
        return _listed(folder, folder.stat().st_mtime_ns)
    except OSError:
        return ()


@lru_cache(maxsize=4)
def _listed(folder: Path, changed: int) -> tuple[Path, ...]:
    """A folder's files as it was then: pictures come by the hundred from one."""
    found = (path for path in folder.iterdir() if path.suffix.lower() not in ENDINGS)
    files = filter(Path.is_file, found)
    return tuple(sorted(files, key=lambda path: (path.suffix.lower() not in USUAL, path)))


def _texts_of(folder: Path) -> tuple[bytes, ...]:
    paths = _files_of(folder)[:MOST_LOOKED_THROUGH]
    try:
        return _looked_through(tuple((path, path.stat().st_mtime_ns) for path in paths))
    except OSError:
        return ()


@lru_cache(maxsize=2)
def _looked_through(stamped: tuple[tuple[Path, int], ...]) -> tuple[bytes, ...]:
    return tuple(_text(path) for path, _ in stamped)


def _text(path: Path) -> bytes:
    try:
        return read_anywhere(path, LARGEST)
    except (OSError, Refusal):
        return b""
