"""Which code read the pictures: so that figures that were measured with other code are known."""

from __future__ import annotations

import hashlib
import re
from pathlib import Path

CORE = Path(__file__).parent.parent / "rushweed" / "core"
PARTS = ("cut", "gather")
SAID = re.compile(r'"""[\s\S]*?"""|^\s*#.*$', re.MULTILINE)
"""Docstrings and lines of comment, which change nothing that is read."""


def reading_code(core: Path = CORE) -> str:
    """The first digits of a hash over all modules that take pictures in and cut them."""
    whole = hashlib.sha256()
    for part in PARTS:
        for path in sorted((core / part).rglob("*.py")):
            whole.update(f"{path.relative_to(core).as_posix()}\n".encode())
            whole.update(SAID.sub("", path.read_text(encoding="utf-8")).encode())
    return whole.hexdigest()[:12]
