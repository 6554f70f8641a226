"""What several stations say and ask alike."""

from __future__ import annotations

from rushweed.core.words import counted


def sheets_words(names: tuple[str, ...]) -> str:
    """“keeper” or “3 sheets”."""
    return names[0] if len(names) == 1 else counted(len(names), "sheet", "sheets")
