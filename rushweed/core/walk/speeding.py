"""How fast a walker is a step later: speeding up, braking, sinking, each in its own time."""

from __future__ import annotations

from rushweed.core.walk.bodies import STEP


def approached(speed: float, wanted: float, full: float, seconds: float) -> float:
    """The speed a step later on its way to `wanted`, where it takes `seconds` from rest to the
    speed `full`; at once for none."""
    if seconds <= 0 or speed == wanted:
        return wanted
    most = full / seconds * STEP
    apart = wanted - speed
    if abs(apart) <= most:
        return wanted
    return speed + most if apart > 0 else speed - most
