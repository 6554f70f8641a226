"""Measuring while the machine is our own: shared ones change their pace from minute to minute."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from measuring import Result

STAT, STOLEN = Path("/proc/stat"), 8
"""Where Linux tells what processors were at, and in which word for how long they were taken away
while there was work for them (proc(5))."""
LOOP, LOOPS = 300_000, 5
SLOW, PATIENCE = 1.35, 20
"""Quiet is a machine that is at most so much slower than at its best; so many seconds it is waited
for."""
Part = Callable[[], list[Result]]


class Quiet:
    """Measures parts one by one, and keeps how disturbed they were: how much slower than at its
    best the machine was before or after them, and which share of a processor was taken away."""

    def __init__(self) -> None:
        self._best = min(_pace() for _ in range(LOOPS))
        self.slow: list[float] = []
        self.taken: list[float] = []

    def measure(self, part: Part) -> list[Result]:
        """What a part measures, begun when the machine is quiet."""
        self._wait()
        before, at, began = self._slowness(), _stolen(), time.monotonic()
        results = part()
        took = time.monotonic() - began
        self.taken.append((_stolen() - at) / max(took, 0.01))
        self.slow.append(max(before, self._slowness()))
        told = f"{took:5.0f} s  {self.slow[-1]:.2f} ×  {self.taken[-1]:.1%}  {results[0].what}"
        print(told, file=sys.stderr, flush=True)
        return results

    def all_of(self, parts: Sequence[Part]) -> list[Result]:
        """What several parts measure."""
        return [result for part in parts for result in self.measure(part)]

    def _wait(self) -> None:
        end = time.monotonic() + PATIENCE
        while self._slowness() > SLOW and time.monotonic() < end:
            time.sleep(1)

    def _slowness(self) -> float:
        """How much slower the machine is than at its best."""
        now = min(_pace() for _ in range(LOOPS))
        self._best = min(self._best, now)
        return now / self._best


def _pace() -> float:
    """How long a plain loop takes."""
    began = time.perf_counter()
    for _ in range(LOOP):
        pass
    return time.perf_counter() - began


def _stolen() -> float:
    """Seconds for which processors were taken away since the machine began; 0 where none tells."""
    try:
        return int(STAT.read_text().split()[STOLEN]) / 100
    except (OSError, IndexError, ValueError):
        return 0.0
