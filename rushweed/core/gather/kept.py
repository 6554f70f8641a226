"""Copies of picture files as they were taken in, so that an undo finds its pixels again.

They lie in the project's hidden folder, which version control leaves alone, named by content.
"""

from __future__ import annotations

from collections.abc import Collection
from contextlib import suppress
from pathlib import Path

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.saving import HIDDEN, hidden_folder
from rushweed.core.gather.pictures import content_hash
from rushweed.core.values import Refusal

PLACE = f"{HIDDEN}/kept"
LIST = ".list"


class Kept:
    """The copies of one project's folder. A disk that cannot take them is not in the way."""

    def __init__(self, folder: Path) -> None:
        self._inside = Inside(folder)

    def keep(self, content: str, data: bytes) -> None:
        """Keep a file's bytes; `content` is their SHA-256 in hexadecimal."""
        try:
            if not self.has(content):
                hidden_folder(self._inside)
                self._inside.write(f"{PLACE}/{content}", data)
        except (OSError, Refusal):
            return

    def has(self, content: str) -> bool:
        """Whether there is a copy with that content."""
        return self._inside.holds(f"{PLACE}/{content}")

    def find(self, content: str) -> bytes | None:
        """The bytes with that content, or None; a copy that a crash cut short does not count."""
        data = self._inside.find(f"{PLACE}/{content}")
        return data if data is not None and content_hash(data) == content else None

    def keep_list(self, content: str, text: bytes) -> None:
        """Keep the text that lists what is on the picture with that content."""
        with suppress(OSError, Refusal):
            hidden_folder(self._inside)
            self._inside.write(f"{PLACE}/{content}{LIST}", text)

    def find_list(self, content: str) -> bytes:
        """The text that lists what is on the picture with that content; empty where none does."""
        return self._inside.find(f"{PLACE}/{content}{LIST}") or b""

    def copy_to(self, folder: Path) -> None:
        """Have the same copies in another project's folder."""
        others = Kept(folder)
        for content in self._contents():
            data = self.find(content)
            if data is not None:
                others.keep(content, data)

    def forget_others(self, contents: Collection[str]) -> None:
        """Remove all copies but those with one of these contents."""
        for content in self._contents():
            if content.removesuffix(LIST) not in contents:
                self._inside.remove(f"{PLACE}/{content}")

    def _contents(self) -> list[str]:
        return [name.removeprefix(f"{PLACE}/") for name in self._inside.names(PLACE)]
