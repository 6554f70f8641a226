"""What was computed from pixels, kept while there is room.

Keys hold the content's hash and all settings, so nothing kept here is ever wrong: other content
or settings are another key.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import RLock
from typing import Any, TypeVar

Value = TypeVar("Value")


class Memory:
    """A store bounded in bytes; what was not asked for the longest goes first."""

    def __init__(self, limit: int = 768 * 1024 * 1024) -> None:
        self._limit = limit
        self._held = 0
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._lock = RLock()

    def get(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """The kept value, or a new one from `compute`."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                value: Value = self._values[key][0]
                return value
        value = compute()
        with self._lock:
            self._keep(key, value)
        return value

    def _keep(self, key: Hashable, value: Any) -> None:
        size = int(getattr(value, "nbytes", 1024))
        self._held += size - self._values.pop(key, (None, 0))[1]
        self._values[key] = (value, size)
        while self._held > self._limit and len(self._values) > 1:
            _, (_, freed) = self._values.popitem(last=False)
            self._held -= freed
