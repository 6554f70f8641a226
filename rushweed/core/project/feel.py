"""How a walker speeds up, flies, climbs and swims, and how the view follows it, as it is stored."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from rushweed.core.value_ranges import Rate, Seconds, Share, within

JumpsInAir = Annotated[int, within(0, 8)]


@dataclass(frozen=True, slots=True)
class Feel:
    """Seconds, units, and units per second; 0 is off, or at once.

    `speed_up` is how long it takes from rest to walking speed on the ground, `brake` from that to
    rest, `in_air` both in the air; to a run and from it as much longer. It goes at `run` while the
    key for it is held, falls at most at `falls`, and jumps so many `jumps` more before it lands. A
    jump slips past the corner of a ceiling that is in its way by at most `corner_correction`. On
    ladders it goes at `climbs`, in water at `swims`, and `sinks` there.
    """

    speed_up: Seconds = 0.0
    brake: Seconds = 0.0
    in_air: Seconds = 0.0
    run: Rate = 0.0
    falls: Rate = 0.0
    jumps: JumpsInAir = 0
    corner_correction: Share = 0.0
    climbs: Rate = 2.5
    swims: Rate = 2.5
    sinks: Rate = 1.0


@dataclass(frozen=True, slots=True)
class Following:
    """How the game's view follows the walker: not while it stays within a part of the view, `free`
    of its width and height in the middle; and `stays` within the level where that is larger."""

    free_across: Share = 0.0
    free_down: Share = 0.0
    stays: bool = False
