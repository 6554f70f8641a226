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
SLOW, TAKEN = 1.35, 0.03
"""Quiet is a machine that is at most so much slower than it was at its best, and of which at most
this share is taken away."""
PATIENCE, TRIES = 45, 2
"""Seconds for which quiet is waited for, and how often what is disturbed is measured in all."""
Part = Callable[[], list[Result]]


class Quiet:
    """Measures parts one by one, and keeps how disturbed those were that are told: how much slower
    than at its best the machine was around them, and which share of it was taken away."""

    def __init__(self) -> None:
        self._best = min(_pace() for _ in range(LOOPS))
        self.slow, self.taken = 1.0, 0.0

    def measure(self, part: Part) -> list[Result]:
        """What a part measures, once more where it was disturbed; the least disturbed is told."""
        tries = []
        while len(tries) < TRIES:
            self._wait()
            tries.append(self._try(part))
            slow, taken, _ = tries[-1]
            if slow <= SLOW and taken <= TAKEN:
                break
        slow, taken, results = min(tries, key=lambda one: (one[1] > TAKEN, one[0] + one[1]))
        self.slow, self.taken = max(self.slow, slow), max(self.taken, taken)
        return results

    def all_of(self, parts: Sequence[Part]) -> list[Result]:
        """What several parts measure."""
        return [result for part in parts for result in self.measure(part)]

    def _try(self, part: Part) -> tuple[float, float, list[Result]]:
        before, at, began = self._slowness(), _stolen(), time.monotonic()
        results = part()
        took = time.monotonic() - began
        taken = (_stolen() - at) / max(took, 0.01)
        slow = max(before, self._slowness())
        print(f"{took:5.0f} s  {slow:.2f} ×  {taken:.1%}  {results[0].what}", file=sys.stderr)
        return slow, taken, results

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
