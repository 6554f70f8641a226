"""Where many walkers are, and what each of them does: the state that goes from step to step."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import AnyWhole, Mask, Reals
from rushweed.core.walk.many_movers import NOTHING


@dataclass
class Walkers:
    """Where many walkers are and how fast they go, in pixels and seconds; arrays of shape (count,).

    `on` and `blocked` are the numbers of slabs, `by_itself` says that one came near what only a
    walker by itself can be told about, and that what is said of it else is not true.
    """

    x: Reals
    y: Reals
    speed_x: Reals
    speed_y: Reals
    on: AnyWhole
    blocked: AnyWhole
    by_itself: Mask

    @classmethod
    def standing(cls, x: Reals, y: Reals) -> Walkers:
        """At rest at these places."""
        still, count = np.zeros(len(x)), len(x)
        on, blocked = np.zeros(count, np.int64), np.full(count, NOTHING)
        return cls(x, y, still, still.copy(), on, blocked, np.zeros(count, bool))

    def only(self, which: Mask | AnyWhole) -> Walkers:
        """These alone."""
        return Walkers(*(value[which] for value in vars(self).values()))

    def and_more(self, others: Walkers) -> Walkers:
        """These, and then others."""
        pairs = zip(vars(self).values(), vars(others).values(), strict=True)
        return Walkers(*(np.concatenate(pair) for pair in pairs))

    def put(self, which: Mask | AnyWhole, others: Walkers) -> None:
        """Others in the places of these."""
        for name, value in vars(self).items():
            value[which] = getattr(others, name)


@dataclass(frozen=True, slots=True)
class Plans:
    """What each of many walkers does: the ways it steers at first and then (-1, 0, 1), whether it
    runs, and whether it jumps; who does not jump drops through what carries from above alone."""

    first: AnyWhole
    then: AnyWhole
    runs: Mask
    jumps: Mask

    def only(self, which: Mask | AnyWhole) -> Plans:
        """Those of these alone."""
        return Plans(self.first[which], self.then[which], self.runs[which], self.jumps[which])

    def and_more(self, others: Plans) -> Plans:
        """These, and then others."""
        names = self.__slots__
        return Plans(*(np.concatenate((getattr(self, n), getattr(others, n))) for n in names))


class Again:
    """Which of some walkers jump once more in the air: they let go of the key at the top, and then
    press it again."""

    def __init__(self, jumps: Mask, most: int) -> None:
        self._jumps, self._most = jumps, most
        self._held, self._made = jumps.copy(), np.zeros(len(jumps), np.int64)

    def keep(self, which: Mask) -> None:
        """These alone."""
        self._jumps, self._held = self._jumps[which], self._held[which]
        self._made = self._made[which]

    def jump(self, speed_y: Reals) -> Mask:
        """Which of them do so in this step."""
        lets_go = self._held & (speed_y >= 0)
        found: Mask = self._jumps & ~self._held & (self._made < self._most)
        self._held = self._jumps & ~lets_go
        self._made += found
        return found
