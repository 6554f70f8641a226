"""Block compression and palettes of sheets of 1024 × 1024 px."""

from __future__ import annotations

from time import perf_counter, process_time

import numpy as np
from guessing import creatures
from measuring import Result

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression import bc1
from rushweed.core.gauge.compression.treated import choices, treat
from rushweed.core.project.rules import Compression, Treatment

SIDE = 1024
LEAST, LONGEST = 4.0, 0.4
ROUNDS = 5


def measure() -> list[Result]:
    """BC1 on one core, and how long each choice takes until something of it can be seen."""
    sheet = creatures(SIDE)
    return [*(_measure_bc1(name, art) for name, art in _arts(sheet)), _measure_choices(sheet)]


def _arts(sheet: Picture) -> list[tuple[str, Picture]]:
    ramp = np.indices((SIDE, SIDE)).sum(axis=0)[..., None] // np.array([8, 9, 11, 1])
    soft = (ramp + np.random.default_rng(1).integers(0, 12, (SIDE, SIDE, 4))) % 256
    soft[..., 3] = 255
    return [("pixel art", sheet), ("noisy soft art", soft.astype(np.uint8))]


def _measure_bc1(name: str, picture: Picture) -> Result:
    """By the time one core works for it; the best of some rounds, since others use it too."""
    taken = []
    for _ in range(ROUNDS):
        begin = process_time()
        list(bc1.encode(picture))
        taken.append(process_time() - begin)
    speed = SIDE * SIDE / min(taken) / 1e6
    what = f"BC1 of {name}, {SIDE} × {SIDE} px, on one core"
    return Result(what, f"{speed:.1f} Mpx/s", f"≥ {LEAST:g} Mpx/s", speed >= LEAST)


def _measure_choices(picture: Picture) -> Result:
    """The slowest choice, until its first picture is there, rough or not."""
    worst = (0.0, "")
    for choice in choices(Compression()):
        begin = perf_counter()
        steps = treat(picture, Treatment("Any", compression=choice))
        next(treated for _, treated in steps if treated is not None)
        worst = max(worst, (perf_counter() - begin, f"{choice.form}, {choice.colours} colours"))
    what = f"Any choice of compression on {SIDE} × {SIDE} px, to be seen ({worst[1]} the slowest)"
    return Result(what, f"{worst[0]:.2f} s", f"≤ {LONGEST} s", worst[0] <= LONGEST)
