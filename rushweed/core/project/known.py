"""What a project's files held when they were read or written last.

Saving compares with it, so that what somebody else wrote meanwhile, a colleague's pull under an
open window, is neither taken back nor removed.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.project.head import HEAD
from rushweed.core.values import Refusal
from rushweed.core.words import some


class Changed(Refusal):
    """Files were changed by somebody else since they were read; their paths in the folder."""

    def __init__(self, names: Iterable[str]) -> None:
        self.names = tuple(sorted(names))
        super().__init__(
            "{names} changed outside since the project was opened. Say first which is to count: "
            "theirs, mine, or both.",
            names=some(self.names),
        )


@dataclass(frozen=True, slots=True)
class Known:
    """The SHA-256 of each file that was read or written, by its path inside the folder."""

    digests: Mapping[str, bytes] = field(default_factory=dict)

    @classmethod
    def of(cls, files: Mapping[str, bytes]) -> Known:
        """What is known once these files are written."""
        return cls({name: digest(data) for name, data in files.items()})

    @classmethod
    def listed(cls, inside: Inside) -> Known:
        """What lies in a folder now, of the files that its head lists."""
        return cls._read(inside, (HEAD, *listed_in(inside)))

    @classmethod
    def lying(cls, inside: Inside) -> Known:
        """What lies in a folder now of the files that may be a project's, listed or not."""
        return cls._read(inside, (HEAD, *lying_in(inside)))

    @classmethod
    def _read(cls, inside: Inside, names: Iterable[str]) -> Known:
        found = {}
        for name in names:
            try:
                found[name] = digest(saving.read(inside, name))
            except (OSError, Refusal):
                continue
        return cls(found)

    def changed(self, inside: Inside, wanted: Mapping[str, bytes] | None = None) -> frozenset[str]:
        """The files that are not what they were, unless they are what is `wanted` there already;
        and those that would be written over what nobody has read."""
        found = set()
        for name in self.digests.keys() | (wanted or {}).keys():
            there = inside.find(name)
            ours = wanted.get(name) if wanted is not None else None
            same = there is None if name not in self.digests else _is(there, self.digests[name])
            if not same and (ours is None or there != ours):
                found.add(name)
        return frozenset(found)


def digest(data: bytes) -> bytes:
    """The SHA-256 of a file's bytes."""
    return hashlib.sha256(data).digest()


def listed_in(inside: Inside) -> list[str]:
    """The files of sheets and levels that the head of a folder lists; none where it cannot be
    read."""
    try:
        head = json.loads(saving.read(inside, HEAD))
        listed = [(kind, head.get(f"{kind}s", ())) for kind in ("sheet", "level")]
        return [f"{kind}s/{stem}.{kind}.json" for kind, stems in listed for stem in stems]
    except (OSError, Refusal, ValueError, TypeError, AttributeError, RecursionError):
        return []


def lying_in(inside: Inside) -> list[str]:
    """The files of sheets and levels that lie in a folder."""
    return [*inside.names("sheets", ".sheet.json"), *inside.names("levels", ".level.json")]


def unlisted_in(inside: Inside) -> list[str]:
    """The files of sheets and levels that lie in a folder and that its head does not list."""
    listed = set(listed_in(inside))
    return [name for name in lying_in(inside) if name not in listed]


def _is(data: bytes | None, known: bytes) -> bool:
    return data is not None and digest(data) == known
