"""A bundle that follows its project: made anew at every change, of what changed alone."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from threading import Condition
from typing import Any

from rushweed.core.bale.bundle import MANIFEST_FILE, Bundle, make_bundle
from rushweed.core.bale.comparing import Difference, compare
from rushweed.core.bale.levels_apart import joined
from rushweed.core.bulk import in_bulk
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import LEAST_EFFORT, content_hash
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe

MOST_TOLD = 200
"""So many differences are told one by one."""


@dataclass(frozen=True, slots=True)
class Edition:
    """A bundle as it is now: its number, its files, their SHA-256, and what is other than in the
    one before."""

    number: int = 0
    files: Mapping[str, bytes] = field(default_factory=dict)
    hashes: Mapping[str, str] = field(default_factory=dict)
    differences: tuple[Difference, ...] = ()

    def told(self) -> bytes:
        """What listeners get, as JSON: the number, the files that changed, and what differs."""
        body = {
            "edition": self.number,
            "changed": [
                {"kind": one.kind, "name": one.name, "how": one.how}
                for one in self.differences[:MOST_TOLD]
            ],
            "words": [one.words for one in self.differences[:MOST_TOLD]],
        }
        return json.dumps(body, ensure_ascii=False).encode()


class FreshBundle:
    """Holds the newest edition, for any number of readers in other threads."""

    def __init__(self) -> None:
        self._changed = Condition()
        self.edition = Edition()
        self._known: dict[str, Any] = {}

    @in_bulk()
    def follow(
        self,
        project: Project,
        art: Art,
        recipe: Recipe,
        templates: Mapping[str, str] | None = None,
    ) -> Edition:
        """Make the bundle of a project as it is now. Where no file is other than before, the
        edition stays. Its pages are made in a hurry, with more bytes than those of a bundle that
        is built. Raises Refusal as making one does; the last one is kept then."""
        made = make_bundle(project, art, recipe, templates, LEAST_EFFORT)
        return self._publish(made)

    def _publish(self, made: Bundle) -> Edition:
        """Take a bundle for the newest edition."""
        manifest = content_hash(made.files[MANIFEST_FILE])
        hashes = {**made.manifest["files"], MANIFEST_FILE: manifest}
        last = self.edition
        if hashes == last.hashes:
            return last
        known, self._known = self._known, _whole(made)
        told = tuple(compare(known, self._known)) if last.files else ()
        edition = Edition(last.number + 1, made.files, hashes, told)
        with self._changed:
            self.edition = edition
            self._changed.notify_all()
        return edition

    def wait(self, number: int, seconds: float) -> Edition | None:
        """The newest edition once it is another than that number; None when none comes in time."""
        with self._changed:
            come = self._changed.wait_for(lambda: self.edition.number != number, seconds)
            return self.edition if come else None


def _whole(made: Bundle) -> dict[str, Any]:
    """A manifest with its levels, wherever they lie."""
    return joined(made.manifest, lambda name: json.loads(made.files[name]))
