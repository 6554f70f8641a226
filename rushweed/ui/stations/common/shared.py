"""What several stations say and ask alike."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

from rushweed.ui.text import counted

Value = TypeVar("Value")


def common(values: Iterable[Value]) -> Value | None:
    """The one value all share, or None where they differ or there are none."""
    found = set(values)
    return found.pop() if len(found) == 1 else None


def sheets_words(names: tuple[str, ...]) -> str:
    """“keeper” or “3 sheets”."""
    return names[0] if len(names) == 1 else counted(len(names), "sheet", "sheets")
