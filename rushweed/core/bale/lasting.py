"""Names that have a file's content in them: such a file never changes, so that whoever read a
manifest finds all it names, although another bundle has taken its place meanwhile."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import PurePosixPath

from rushweed.core.gather.pictures import content_hash

LENGTH = 16
"""Digits of the content's hash in a name."""


def lasting_name(name: str, data: bytes) -> str:
    """The name of a file with its content in it."""
    path = PurePosixPath(name)
    return str(path.with_name(f"{path.stem}.{content_hash(data)[:LENGTH]}{path.suffix}"))


def lasting_among(hashes: Mapping[str, str]) -> list[str]:
    """The names that have their content in them, of files by name with the SHA-256 of each."""
    return [name for name, content in hashes.items() if f".{content[:LENGTH]}." in name]
