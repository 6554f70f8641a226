"""What a bundle was made of, so that a second build of the same writes nothing.

Nothing but the standard library is used here: an unchanged project is told at once. A stamp is
input like any other file: one that is not right counts as none.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from rushweed import __version__
from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import parts_of

STAMP = f"{saving.HIDDEN}/built.json"
HEAD = "project.rushweed"
LARGEST = 64 << 20


@dataclass(frozen=True, slots=True)
class Stamp:
    """The fingerprint of what a bundle was made of, the SHA-256 of each of its files, and the names
    of files of the bundle before it that are still there for those who read it. `over` says what of
    it is more than its recipe allows."""

    key: str = ""
    files: Mapping[str, str] = field(default_factory=dict)
    before: tuple[str, ...] = ()
    over: tuple[str, ...] = ()

    def to_bytes(self) -> bytes:
        """As it is kept beside a bundle."""
        body = {
            "key": self.key,
            "files": dict(self.files),
            "before": self.before,
            "over": self.over,
        }
        return json.dumps(body, indent=1).encode()


def fingerprint(folder: Path, recipe: str, held: Mapping[str, bytes] | None = None) -> str:
    """A hash of all that a bundle of a recipe is made of: the program's version and the content of
    every file of the project. The files of a project that is held in memory are those of `held`,
    by their paths, whatever the folder has."""
    inside = Inside(folder)
    whole = hashlib.sha256(f"{__version__}\n{recipe}\n".encode())
    contents = held if held is not None else _project(inside)
    beside = _read(inside, [*inside.names("templates"), *inside.names("art", deep=True)])
    for name, data in (*sorted(contents.items()), *beside):
        whole.update(f"{name}\n".encode())
        whole.update(hashlib.sha256(data).digest())
    return whole.hexdigest()


def is_fresh(target: Path, key: str) -> bool:
    """Whether a folder holds the bundle of that fingerprint, file by file, and nothing was left to
    do by a build that was cut short."""
    inside = Inside(target)
    if inside.holds(saving.PLAN):
        return False
    stamp = read_stamp(inside)
    return stamp.key == key and all(
        _hash(inside, name) == content for name, content in stamp.files.items()
    )


def stamp_of(
    key: str, files: Mapping[str, bytes], before: Iterable[str] = (), over: Iterable[str] = ()
) -> Stamp:
    """What is to be kept beside a bundle."""
    hashes = {name: hashlib.sha256(data).hexdigest() for name, data in sorted(files.items())}
    return Stamp(key, hashes, tuple(before), tuple(over))


def read_stamp(inside: Inside) -> Stamp:
    """What was kept beside a bundle; an empty one when there is none, or none that is right."""
    try:
        body = json.loads(inside.read(STAMP, LARGEST))
        before = tuple(body.get("before", ()))
        for name in (*body["files"], *before):
            if parts_of(name)[0] == saving.HIDDEN:
                return Stamp()
        files = {name: str(body["files"][name]) for name in body["files"]}
        return Stamp(str(body["key"]), files, before, tuple(map(str, body.get("over", ()))))
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return Stamp()


def _project(inside: Inside) -> dict[str, bytes]:
    """The project's own files, as one save left them."""
    with saving.at_rest(inside, HEAD):
        names = [HEAD, *inside.names("sheets", ".json"), *inside.names("levels", ".json")]
        return dict(_read(inside, names))


def _read(inside: Inside, names: list[str]) -> Iterator[tuple[str, bytes]]:
    for name in names:
        try:
            yield name, inside.read(name)
        except FileNotFoundError:
            continue


def _hash(inside: Inside, name: str) -> str:
    data = inside.find(name)
    return "" if data is None else hashlib.sha256(data).hexdigest()
