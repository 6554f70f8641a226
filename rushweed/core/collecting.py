"""When Python looks for garbage."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator
from contextlib import contextmanager


def nothing() -> None:
    """Leave what was made to the collector."""


after_many: Callable[[], object] = nothing
"""What is done where many things were made at once, before the collector may look at them: whoever
must not wait for it sets this."""


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
            after_many()
            gc.enable()
