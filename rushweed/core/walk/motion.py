"""What is held, and where the walker is: the state that goes from step to step."""

from __future__ import annotations

from dataclasses import dataclass

from rushweed.core.walk.bodies import BodyState

LONG_AGO = 1 << 20
"""So many steps are longer ago than anybody waits."""


@dataclass(frozen=True, slots=True)
class Keys:
    """What is held during a step."""

    left: bool = False
    right: bool = False
    up: bool = False
    down: bool = False
    jump: bool = False
    run: bool = False


@dataclass(frozen=True, slots=True)
class Motion:
    """Where the walker is, how fast in pixels per second, and what carries it.

    `on` is the number of the piece it stands on, 0 in the air; `blocked` of the one that stopped
    it sideways in the last step, `bumped` of the one its head hit, 0 for none. `body` is the place
    of the body it stands on among those of the level, -1 for none. `off` and `asked` count the
    steps since it left the ground and since a jump was asked for. `drift` is how fast, in pixels
    per second, what it stood on last carried it sideways; it goes on with that through the air.
    `climbing` says that it holds on to a ladder, `swims` that it is in water, `flown` how many
    jumps it made in the air.
    """

    x: float
    y: float
    speed_x: float = 0.0
    speed_y: float = 0.0
    on: int = 0
    blocked: int = 0
    facing: int = 1
    jump_held: bool = False
    steps: int = 0
    bumped: int = 0
    body: int = -1
    facing_down: int = 0
    off: int = LONG_AGO
    asked: int = LONG_AGO
    bodies: tuple[BodyState, ...] = ()
    drift: float = 0.0
    climbing: bool = False
    swims: bool = False
    flown: int = 0

    @property
    def grounded(self) -> bool:
        return self.on != 0
