"""Which code read the pictures: so that figures that were measured with other code are known."""

from __future__ import annotations

import ast
import hashlib
import re
from pathlib import Path

CORE = Path(__file__).parent.parent / "rushweed" / "core"
FIRST, PARTS = "rushweed.core.cut.seeing.packs", ("rushweed.core.cut.", "rushweed.core.gather.")
SAID = re.compile(r'"""[\s\S]*?"""|^\s*#.*$', re.MULTILINE)
"""Docstrings and lines of comment, which change nothing that is read."""


def reading_code(core: Path = CORE) -> str:
    """The first digits of a hash over all modules of cutting and taking in that reading a picture
    next to others needs."""
    whole = hashlib.sha256()
    for name in sorted(_needed(core)):
        path = _path(core, name)
        whole.update(f"{path.relative_to(core).as_posix()}\n".encode())
        whole.update(SAID.sub("", path.read_text(encoding="utf-8")).encode())
    return whole.hexdigest()[:12]


def _needed(core: Path) -> set[str]:
    """The modules that are imported from the first one on."""
    needed, waiting = {FIRST}, [FIRST]
    while waiting:
        tree = ast.parse(_path(core, waiting.pop()).read_text(encoding="utf-8"))
        for node in ast.walk(tree):
            name = node.module if isinstance(node, ast.ImportFrom) else None
            if name and name.startswith(PARTS) and name not in needed:
                needed.add(name)
                waiting.append(name)
    return needed


def _path(core: Path, name: str) -> Path:
    return core.parent.parent.joinpath(*name.split(".")).with_suffix(".py")
