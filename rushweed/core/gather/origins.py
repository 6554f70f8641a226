"""Where pictures were gathered from on this machine, and what was last taken in from there.

This is not part of the project: another machine has other folders. It lies in the hidden folder.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.saving import HIDDEN, hidden_folder

LIST = f"{HIDDEN}/origins"


@dataclass(frozen=True, slots=True)
class Origin:
    """A file outside the project, and the SHA-256 of what it held when it was taken in."""

    path: str
    content: str


class Origins:
    """The origins of one project's pictures, by the path of the picture in the project."""

    def __init__(self, folder: Path) -> None:
        self._inside = Inside(folder)

    def all(self) -> dict[str, Origin]:
        """Every origin that is known; the last word on each counts."""
        try:
            lines = self._inside.read(LIST).decode().splitlines()
        except (OSError, ValueError):
            return {}
        known = {}
        for line in lines:
            try:
                inside, path, content = map(str, json.loads(line))
            except (ValueError, TypeError, RecursionError):
                continue
            known[inside] = Origin(path, content)
        return known

    def remember(self, origins: dict[str, Origin]) -> None:
        """Add to the list. A disk that cannot take it is not in the way of the work."""
        lines = [
            json.dumps([inside, origin.path, origin.content]) for inside, origin in origins.items()
        ]
        try:
            hidden_folder(self._inside)
            self._inside.add_to(LIST, "".join(f"{line}\n" for line in lines).encode())
        except (OSError, ValueError):
            return
