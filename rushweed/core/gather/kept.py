"""Copies of picture files as they were taken in, so that an undo finds its pixels again.

They lie in the project's hidden folder, which version control leaves alone, named by content.
"""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from rushweed.core.gather.pictures import content_hash
from rushweed.core.project.saving import HIDDEN, hidden_folder


class Kept:
    """The copies of one project's folder. A disk that cannot take them is not in the way."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def keep(self, content: str, data: bytes) -> None:
        """Keep a file's bytes; `content` is their SHA-256 in hexadecimal."""
        target = self._place(content)
        try:
            if not target.exists():
                hidden_folder(self._folder)
                target.parent.mkdir(exist_ok=True)
                beside = target.with_suffix(".new")
                beside.write_bytes(data)
                beside.replace(target)
        except OSError:
            return

    def has(self, content: str) -> bool:
        """Whether there is a copy with that content."""
        return self._place(content).is_file()

    def find(self, content: str) -> bytes | None:
        """The bytes with that content, or None; a copy that a crash cut short does not count."""
        try:
            data = self._place(content).read_bytes()
        except OSError:
            return None
        return data if content_hash(data) == content else None

    def copy_to(self, folder: Path) -> None:
        """Have the same copies in another project's folder."""
        others = Kept(folder)
        for path in self._place("").glob("*"):
            others.keep(path.name, path.read_bytes())

    def forget_others(self, contents: Collection[str]) -> None:
        """Remove all copies but those with one of these contents."""
        for path in self._place("").glob("*"):
            if path.name not in contents:
                path.unlink(missing_ok=True)

    def _place(self, content: str) -> Path:
        return self._folder / HIDDEN / "kept" / content
