"""What a bundle was made of, so that a second build of the same writes nothing.

Nothing but the standard library is used here: an unchanged project is told at once.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator, Mapping
from pathlib import Path

from rushweed import __version__

STAMP = ".rushweed/built.json"
PROJECT = ("project.rushweed", "sheets/*.json", "levels/*.json")
BESIDE = ("templates/*", "art/**/*")


def fingerprint(folder: Path, recipe: str, held: Mapping[str, bytes] | None = None) -> str:
    """A hash of all that a bundle of a recipe is made of: the program's version and the content of
    every file of the project. The files of a project that is held in memory are those of `held`,
    by their paths, whatever the folder has."""
    whole = hashlib.sha256(f"{__version__}\n{recipe}\n".encode())
    contents = dict(held) if held is not None else dict(_read(folder, PROJECT))
    for name, data in (*sorted(contents.items()), *_read(folder, BESIDE)):
        whole.update(f"{name}\n".encode())
        whole.update(hashlib.sha256(data).digest())
    return whole.hexdigest()


def is_fresh(target: Path, key: str) -> bool:
    """Whether a folder holds the bundle of that fingerprint, file by file."""
    stamp = read_stamp(target)
    if stamp.get("key") != key:
        return False
    files = stamp.get("files")
    return isinstance(files, dict) and all(
        _hash(target / name) == content for name, content in files.items()
    )


def stamp_of(key: str, files: Mapping[str, bytes]) -> bytes:
    """What is kept beside a bundle."""
    hashes = {name: hashlib.sha256(data).hexdigest() for name, data in sorted(files.items())}
    return json.dumps({"key": key, "files": hashes}, indent=1).encode()


def read_stamp(target: Path) -> dict[str, object]:
    """What was kept beside a bundle; empty when there is none."""
    try:
        stamp = json.loads((target / STAMP).read_bytes())
    except (OSError, ValueError):
        return {}
    return stamp if isinstance(stamp, dict) else {}


def _read(folder: Path, patterns: tuple[str, ...]) -> Iterator[tuple[str, bytes]]:
    """The files of some patterns, by their paths inside the folder."""
    for pattern in patterns:
        for path in sorted(path for path in folder.glob(pattern) if path.is_file()):
            yield path.relative_to(folder).as_posix(), path.read_bytes()


def _hash(path: Path) -> str:
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""
