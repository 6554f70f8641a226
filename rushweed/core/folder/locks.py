"""Locks on a folder, held by one writer or by many readers; they end with the process."""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager

from rushweed.core.folder.inside import Inside

LOOK_AGAIN = 0.005
"""Seconds between two looks at a lock that others hold."""


class Held(Exception):  # noqa: N818 - not a fault, only an answer
    """Others hold the lock."""


class Lock:
    """A lock file inside a folder. Locks are advisory, as flock(2) makes them: they are given up
    by the system when their holder ends, however it ends."""

    def __init__(self, inside: Inside, name: str) -> None:
        self._inside, self._name = inside, name
        self._handle: int | None = None

    def acquire(self, shared: bool = False, patience: float = 0.0) -> None:
        """Take the lock, alone or `shared` with others who share it. Raises Held when it is not
        free within so many seconds, OSError where there can be none."""
        handle = self._inside.lock_file(self._name, shared)
        until = time.monotonic() + patience
        while True:
            try:
                fcntl.flock(handle, (fcntl.LOCK_SH if shared else fcntl.LOCK_EX) | fcntl.LOCK_NB)
            except BlockingIOError as problem:
                if time.monotonic() >= until:
                    os.close(handle)
                    raise Held from problem
                time.sleep(LOOK_AGAIN)
            except OSError:
                os.close(handle)
                raise
            else:
                self._handle = handle
                return

    def release(self) -> None:
        """Give the lock up; safe to call twice."""
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None


@contextmanager
def locked(inside: Inside, name: str, patience: float = 0.0) -> Iterator[None]:
    """Hold a lock alone for a while; see `Lock.acquire`."""
    lock = Lock(inside, name)
    lock.acquire(patience=patience)
    try:
        yield
    finally:
        lock.release()
