"""When Python looks for garbage."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def without_collecting() -> Iterator[None]:
    """Many small lists at once would have the collector walk through all of them again and again,
    though none of them is garbage."""
    collects = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collects:
            gc.enable()
