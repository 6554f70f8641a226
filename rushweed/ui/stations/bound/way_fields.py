"""How one gets on in a tile, for the brush: on foot, climbing, swimming, and what carries one."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from rushweed.core.project.facts import Current, Moves
from rushweed.core.words import said, say
from rushweed.ui.shell.controls import Chips, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper

MOVES: dict[Moves, str] = {"climbs": "Climbs", "swims": "Swims", "walks": "On foot"}
FASTEST = 100


class WayFields(Group):
    """`changed` tells that another way is painted."""

    changed = pyqtSignal()

    def __init__(self, number: int) -> None:
        super().__init__(number, say("Way"))
        self.moves: Moves = "climbs"
        self._chips = Chips(said(MOVES), name=say("One gets on"))
        self._chips.show_value(self.moves)
        self._chips.entered.connect(self._take)
        self._across = self._current(say("Carries to the right"))
        self._down = self._current(say("Carries down"))
        self.add(row(self._chips, None))
        self.add(row(label(say("Carries to the right")), None, self._across))
        self.add(row(label(say("Carries down")), None, self._down))

    @property
    def current(self) -> Current:
        """What carries whoever is in it."""
        return Current(float(self._across.value or 0), float(self._down.value or 0))

    def _current(self, name: str) -> Stepper:
        made = Stepper(name, say("units/s"), -FASTEST, FASTEST, 0.5, whole=False, width=112)
        made.show_value(0.0)
        made.entered.connect(lambda value: self.changed.emit())
        return made

    def _take(self, moves: Moves) -> None:
        self.moves = moves
        self._chips.show_value(moves)
        self.changed.emit()
