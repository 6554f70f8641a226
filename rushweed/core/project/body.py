"""How a body moves in a level, as it is stored."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rushweed.core.value_ranges import Seconds
from rushweed.core.values import Point

BodyKind = Literal["fixed", "pushed", "falls", "hinged", "travels"]
Easing = Literal["even", "eased"]
Way = Literal["there and back", "round"]


@dataclass(frozen=True, slots=True)
class Path:
    """Where a body travels: points in pixels from where it stands, y down, one way in `seconds`.

    It goes there and back, or round from the last point to the first. `eased` begins and ends
    slowly.
    """

    points: tuple[Point, ...]
    seconds: Seconds = 4.0
    easing: Easing = "even"
    way: Way = "there and back"


@dataclass(frozen=True, slots=True)
class Body:
    """What a piece does as a prop: it stays, can be pushed, falls, turns about its pivot, or
    travels along its path."""

    kind: BodyKind = "fixed"
    path: Path | None = None
