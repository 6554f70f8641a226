"""The file at the head of a project's folder, and what can be told from it at a glance."""

from __future__ import annotations

import json
import os
from pathlib import Path

from rushweed.core.folder.inside import Inside
from rushweed.core.values import Refusal

HEAD = "project.rushweed"
LARGE = 2 << 20
"""Bytes of sheets and levels that are read while one waits."""


def is_project(folder: Path) -> bool:
    """Whether a folder holds the head of a project; one that cannot be looked into does not."""
    return os.path.lexists(folder / HEAD)


def is_large(folder: Path) -> bool:
    """Whether there is so much in a project's folder that reading it takes a while."""
    return sum(map(_size, (*folder.glob("sheets/*"), *folder.glob("levels/*")))) > LARGE


def _size(path: Path) -> int:
    try:
        return path.lstat().st_size
    except OSError:
        return 0


def glance(folder: Path) -> tuple[str, tuple[str, ...]]:
    """A project's name and its sheets' names, before anything else is read; of what is broken, the
    folder's name and none."""
    try:
        body = json.loads(Inside(folder).read(HEAD))
        return str(body["name"]), tuple(str(name) for name in body["sheets"])
    except (Refusal, OSError, ValueError, KeyError, TypeError, RecursionError):
        return folder.name, ()
