"""What was computed from pixels, kept while there is room.

Keys hold the content's hash and all settings, so nothing kept here is ever wrong: other content
or settings are another key.
"""

from __future__ import annotations

import os
from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import RLock
from typing import Any, TypeVar

from rushweed.core.limits import limit as set_limit

Value = TypeVar("Value")


MOST = 1024**3
LEAST = 768 * 1024**2
SMALL = 64 * 1024
"""Values of fewer bytes do not count: a large picture must not drive out what was found in it."""
MOST_SMALL = 100_000


class Memory:
    """A store bounded in bytes; what was not asked for the longest goes first."""

    def __init__(self, limit: int = 0) -> None:
        """Without a limit it takes what `memory` in the limits says, in MiB, else a sixth of the
        machine's memory, within reason."""
        usual = min(MOST, max(LEAST, _machine_memory() // 6))
        self._limit = limit or set_limit("memory", usual // 1024**2) * 1024**2
        self._held = 0
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._small: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = RLock()

    def get(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """The kept value, or a new one from `compute`."""
        with self._lock:
            value: Value
            if key in self._values:
                self._values.move_to_end(key)
                value = self._values[key][0]
                return value
            if key in self._small:
                self._small.move_to_end(key)
                value = self._small[key]
                return value
        value = compute()
        with self._lock:
            self._keep(key, value)
        return value

    def find(self, key: Hashable) -> Any:
        """The kept value, or None."""
        with self._lock:
            if key in self._values:
                return self._values[key][0]
            return self._small.get(key)

    def keep(self, key: Hashable, value: Any) -> None:
        """Keep a value that was computed elsewhere."""
        with self._lock:
            self._keep(key, value)

    @property
    def free(self) -> int:
        """So many bytes can be kept without anything having to go."""
        return max(0, self._limit - self._held)

    def _keep(self, key: Hashable, value: Any) -> None:
        size = _size_of(value)
        if size < SMALL:
            self._small[key] = value
            if len(self._small) > MOST_SMALL:
                self._small.popitem(last=False)
            return
        self._held += size - self._values.pop(key, (None, 0))[1]
        self._values[key] = (value, size)
        while self._held > self._limit and len(self._values) > 1:
            _, (_, freed) = self._values.popitem(last=False)
            self._held -= freed


def _size_of(value: Any) -> int:
    """The bytes of what says how many it has: an array by `nbytes`, a picture of the screen by
    `sizeInBytes`."""
    if hasattr(value, "sizeInBytes"):
        return int(value.sizeInBytes())
    return int(getattr(value, "nbytes", 0))


def _machine_memory() -> int:
    """All the memory of this machine, in bytes."""
    return os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
