"""Work that makes many small things at once, in Python all through."""

from __future__ import annotations

import gc
import sys
from _thread import allocate_lock  # as in `threading`, of which a start needs nothing else
from collections.abc import Callable, Iterator
from contextlib import contextmanager

SOON = 0.0005
"""Seconds for which work with short turns may keep the interpreter that another thread wants. A
window lets go of it at every step, and with the usual 0.005 takes 60 to 76 ms for a dozen steps,
0.1 ms of work, beside the writing of a large sheet; mostly 5 ms so."""


def nothing() -> None:
    """Leave what was made to the collector."""


after_many: Callable[[], object] = nothing
"""What is done where many things were made at once, before the collector may look at them: whoever
must not wait for it sets this."""

_lock = allocate_lock()
_collects: list[bool] = []
_turns: list[float] = []
"""How it was before each work that is under way: whether the collector was at work, and how long a
turn was."""


@contextmanager
def in_bulk() -> Iterator[None]:
    """Many small things at once would have the collector walk through all of them again and again,
    though none of them is garbage."""
    with _lock:
        _collects.append(gc.isenabled())
        gc.disable()
    try:
        yield
    finally:
        with _lock:
            collects = _collects.pop()
            if collects and not _collects:
                after_many()
                gc.enable()


@contextmanager
def in_short_turns() -> Iterator[None]:
    """Other threads have the interpreter back soon. Work on pixels lets go of it by itself, and is
    only held up by that."""
    with _lock:
        _turns.append(sys.getswitchinterval())
        sys.setswitchinterval(SOON)
    try:
        yield
    finally:
        with _lock:
            usual = _turns.pop()
            if not _turns:
                sys.setswitchinterval(usual)
