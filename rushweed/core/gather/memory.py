"""What was computed from pixels, kept while there is room.

Keys hold the content's hash and all settings, so nothing kept here is ever wrong: other content
or settings are another key.
"""

from __future__ import annotations

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from threading import RLock
from typing import Any, TypeVar, cast

from rushweed.core.owner_limits import limit as set_limit
from rushweed.core.resting import rest

Value = TypeVar("Value")


USUAL = 896
"""MiB that are kept where the limits do not say otherwise: a picture of 8192 × 8192 px as it is
stored and as it is drawn, and its image for the screen, with room for more."""
SMALL = 64 * 1024
"""Values of fewer bytes do not count: a large picture must not drive out what was found in it."""
MOST_SMALL = 100_000


@dataclass(slots=True)
class _Turn:
    """Computing one value: one thread at a time, which may ask for the same while it does."""

    lock: AbstractContextManager[bool] = field(default_factory=RLock)
    takers: int = 0


class Memory:
    """A store bounded in bytes; what was not asked for the longest goes first."""

    def __init__(self, limit: int = 0) -> None:
        """Without a limit it takes what `memory` in the limits says, in MiB, else what is usual."""
        self._limit = limit or set_limit("memory", USUAL) * 1024**2
        self._held = 0
        self._times: Counter[int] = Counter()
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._small: OrderedDict[Hashable, Any] = OrderedDict()
        self._turns: dict[Hashable, _Turn] = {}
        self._lock = RLock()

    def get(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """The kept value, or a new one from `compute`; what another thread is just computing is
        waited for."""
        with self._lock:
            if self._has(key):
                return cast(Value, self._recalled(key))
        rest()
        with self._lock:
            turn = self._turns.setdefault(key, _Turn())
            turn.takers += 1
        try:
            with turn.lock:
                return self._computed(key, compute)
        finally:
            with self._lock:
                turn.takers -= 1
                if not turn.takers:
                    del self._turns[key]

    def _computed(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """The value of a key whose turn it is, which somebody may have computed meanwhile."""
        with self._lock:
            if self._has(key):
                return cast(Value, self._recalled(key))
        value = compute()
        with self._lock:
            self._keep(key, value)
        return value

    def _has(self, key: Hashable) -> bool:
        return key in self._values or key in self._small

    def _recalled(self, key: Hashable) -> Any:
        """A kept value that somebody needs once more."""
        if key in self._values:
            self._values.move_to_end(key)
            return self._values[key][0]
        self._small.move_to_end(key)
        return self._small[key]

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
        if key in self._values:
            self._let_go(*self._values.pop(key))
        self._values[key] = (value, size)
        self._times[id(value)] += 1
        if self._times[id(value)] == 1:  # one value under several keys is held once
            self._held += size
        while self._held > self._limit and len(self._values) > 1:
            self._let_go(*self._values.popitem(last=False)[1])

    def _let_go(self, value: Any, size: int) -> None:
        self._times[id(value)] -= 1
        if not self._times[id(value)]:
            del self._times[id(value)]
            self._held -= size


def _size_of(value: Any) -> int:
    """The bytes of what says how many it has: an array by `nbytes`, a picture of the screen by
    `sizeInBytes`, a file by its length."""
    if isinstance(value, bytes):
        return len(value)
    if hasattr(value, "sizeInBytes"):
        return int(value.sizeInBytes())
    return int(getattr(value, "nbytes", 0))
