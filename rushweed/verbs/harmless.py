"""Output in which no name steers the terminal."""

from __future__ import annotations

import io
import re
from typing import TextIO

STEERING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff]")
"""Control characters but for tab and line break, those that turn the direction of writing, and
halves of characters, which cannot be written at all."""


class Harmless(io.TextIOBase):
    """A text stream that writes such characters as JSON would escape them."""

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream

    def write(self, text: str) -> int:
        self._stream.write(STEERING.sub(lambda found: f"\\u{ord(found[0]):04x}", text))
        return len(text)

    def flush(self) -> None:
        self._stream.flush()

    def isatty(self) -> bool:
        return self._stream.isatty()

    @property
    def encoding(self) -> str:  # type: ignore[override]
        return self._stream.encoding
