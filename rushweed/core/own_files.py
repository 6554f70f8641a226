"""The one way to small files of the user's own, such as settings: whatever lies in their place, a
pipe or something very large, nobody waits for it."""

from __future__ import annotations

import os
import stat
from pathlib import Path

LARGEST = 4 << 20
"""Bytes of such a file."""


def own_bytes(file: Path) -> bytes:
    """The bytes of a plain file. Raises OSError for what is none, or is too large."""
    handle = os.open(file, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    with os.fdopen(handle, "rb") as opened:
        status = os.fstat(handle)
        if not stat.S_ISREG(status.st_mode):
            raise OSError(f"{file.name} is no plain file")
        if status.st_size > LARGEST:
            raise OSError(f"{file.name} is too large")
        return opened.read()


def own_text(file: Path) -> str:
    """The text of a plain file. Raises OSError as above, and ValueError for what is no text."""
    return own_bytes(file).decode("utf-8")
