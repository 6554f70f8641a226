"""What may come from anybody: damaged files, made-up projects, links, and a process that ends."""

from __future__ import annotations

import os
from collections import Counter

LONG = os.environ.get("RUSHWEED_HOSTILE") == "long"
TRIED: Counter[str] = Counter()
"""How often what was tried, by its words in docs/hostile.md."""


def amount(few: int, many: int) -> int:
    """How many tries: a few with every change, many in the longer run."""
    return many if LONG else few


def tried(what: str, times: int = 1) -> None:
    """Count a try for the table; one that fails is counted, too."""
    TRIED[what] += times
