"""Boxes around bodies that move, to find which of many may be somewhere without asking each one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Protocol

import numpy as np


class Placed(Protocol):
    """Where a body is, and by how much it is turned."""

    @property
    def x(self) -> float: ...
    @property
    def y(self) -> float: ...
    @property
    def angle(self) -> int: ...


Box = tuple[float, float, float, float]
"""Left, top, right and bottom from the pivot."""


class BodyBoxes:
    """The boxes of all bodies where they are; those without any are nowhere."""

    def __init__(self, boxes: Sequence[Box | None], states: Sequence[Placed]) -> None:
        self._boxes = boxes
        self._areas = np.full((4, len(boxes)), np.nan)
        for number, state in enumerate(states):
            self.move(number, state)

    def move(self, number: int, state: Placed) -> None:
        """A body is elsewhere now."""
        box = self._boxes[number]
        if box is None:
            return
        left, top, right, bottom = box
        if state.angle:
            reach = math.hypot(max(-left, right), max(-top, bottom))
            left, top, right, bottom = -reach, -reach, reach, reach
        x, y = state.x, state.y
        self._areas[:, number] = (x + left, y + top, x + right, y + bottom)

    def touching(self, left: float, top: float, right: float, bottom: float) -> list[int]:
        """The bodies whose boxes share something with an area, its rim included."""
        lefts, tops, rights, bottoms = self._areas
        found = (lefts <= right) & (rights >= left) & (tops <= bottom) & (bottoms >= top)
        numbers: list[int] = found.nonzero()[0].tolist()
        return numbers
