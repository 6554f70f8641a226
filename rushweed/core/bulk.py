"""Work that makes many small things at once, in Python all through."""

from __future__ import annotations

import gc
import sys
from _thread import allocate_lock  # as in `threading`, of which a start needs nothing else
from collections.abc import Callable, Iterator
from contextlib import contextmanager

SOON = 0.0005
"""Seconds for which such work may keep the interpreter that another thread wants. A window lets go
of it at every step, and with the usual 0.005 takes 60 to 76 ms for a dozen steps, 0.1 ms of work,
beside the writing of a large sheet; 5 ms so. Beside work on pixels, which lets go of it by itself,
the usual turn holds a window less."""


def nothing() -> None:
    """Leave what was made to the collector."""


after_many: Callable[[], object] = nothing
"""What is done where many things were made at once, before the collector may look at them: whoever
must not wait for it sets this."""

_lock = allocate_lock()
_usual: list[tuple[bool, float]] = []
"""Whether the collector was at work and how long a turn was, for each that is under way."""


@contextmanager
def in_bulk() -> Iterator[None]:
    """Many small things at once would have the collector walk through all of them again and again,
    though none of them is garbage. Other threads have their turn soon meanwhile."""
    with _lock:
        _usual.append((gc.isenabled(), sys.getswitchinterval()))
        gc.disable()
        sys.setswitchinterval(SOON)
    try:
        yield
    finally:
        with _lock:
            collects, turn = _usual.pop()
            if not _usual:
                sys.setswitchinterval(turn)
                if collects:
                    after_many()
                    gc.enable()
