"""What may come from anybody: damaged files, made-up projects, links, and a process that ends."""

from __future__ import annotations

import os

LONG = os.environ.get("RUSHWEED_HOSTILE") == "long"


def amount(few: int, many: int) -> int:
    """How many tries: a few with every change, many in the longer run."""
    return many if LONG else few
