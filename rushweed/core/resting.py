"""Work that nobody waits for, which rests while somebody is at something."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from time import monotonic, sleep

MOMENT, NAP = 0.1, 0.01
"""Seconds for which one is at something after each touch, and between two looks at that."""


class _Worker(threading.local):
    """Whether what a thread does gives way."""

    gives_way = False


_worker = _Worker()
_touched = [0.0]


def touch() -> None:
    """Somebody is at something."""
    _touched[0] = monotonic()


@contextmanager
def giving_way() -> Iterator[None]:
    """What this thread does meanwhile rests where it may."""
    _worker.gives_way = True
    try:
        yield
    finally:
        _worker.gives_way = False


def rest() -> None:
    """A place where work that gives way may rest: as long as somebody is at something. Who waits
    for it meanwhile is at nothing, so that none waits for long."""
    if _worker.gives_way:
        while monotonic() - _touched[0] < MOMENT:
            sleep(NAP)
