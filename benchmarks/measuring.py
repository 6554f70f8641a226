"""Timing two things in one run, since the machines are noisy, and saying it as a ratio."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Result:
    """One line of the table of speed."""

    what: str
    measured: str
    target: str
    met: bool


def seconds(work: Callable[[], object]) -> float:
    """How long one run takes."""
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def best_of(
    work: Callable[[], object], reference: Callable[[], object], rounds: int = 7
) -> tuple[float, float]:
    """The best time of each, taken by turns."""
    pairs = [(seconds(work), seconds(reference)) for _ in range(rounds)]
    return min(pair[0] for pair in pairs), min(pair[1] for pair in pairs)


def ratio(
    what: str,
    work: Callable[[], object],
    reference: Callable[[], object],
    most: float,
    rounds: int = 7,
) -> Result:
    """Compare some work with a reference."""
    mine, other = best_of(work, reference, rounds)
    told = f"{mine / other:.2f} × ({mine * 1000:.0f} ms against {other * 1000:.0f} ms)"
    return Result(what, told, f"≤ {most:g} ×", mine / other <= most)


def slow_end(what: str, steps: list[float], most: float) -> Result:
    """The 95th percentile of many times, in milliseconds."""
    end = statistics.quantiles(steps, n=20)[-1] * 1000
    middle = statistics.median(steps) * 1000
    return Result(
        what, f"p95 {end:.1f} ms, median {middle:.1f} ms", f"p95 ≤ {most:g} ms", end <= most
    )
