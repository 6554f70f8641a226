"""What a walker is in: air, a ladder, water, and what carries it there."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from rushweed.core.project.facts import Moves
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.turning import STILL, turned_current


class Medium(NamedTuple):
    """How one gets on at a place, what carries one there in units per second across and down, and
    the piece that says so, 0 for none."""

    moves: Moves = "walks"
    across: float = 0.0
    down: float = 0.0
    piece: int = 0


AIR = Medium()


class Mediums:
    """The tiles of a level that one climbs, swims, or is carried in, by place."""

    def __init__(self, project: Project, level: Level) -> None:
        self._tile = project.rules.tile
        self._facts = {
            piece.number: piece.facts
            for _, piece in project.pieces()
            if piece.facts.moves != "walks" or piece.facts.current != STILL
        }
        self._layers = [
            layer
            for layer in reversed(level.layers)
            if layer.is_walked and not layer.cells.used().isdisjoint(self._facts)
        ]

    def __bool__(self) -> bool:
        return bool(self._layers)

    def at(self, x: float, y: float) -> Medium:
        """What is at a place, the foremost tile first."""
        if not self._layers:
            return AIR
        cell = int(x // self._tile.width), int(y // self._tile.height)
        for layer in self._layers:
            number, orientation = layer.cells.at(*cell)
            facts = self._facts.get(number)
            if facts is not None:
                current = turned_current(facts.current, orientation)
                return Medium(facts.moves, current.across, current.down, number)
        return AIR

    def cells(self) -> Iterator[tuple[int, int, Medium]]:
        """Column, row, and what is there, of every cell that is not plain air."""
        numbers = frozenset(self._facts)
        width, height = self._tile
        for cell in {key for layer in self._layers for key in layer.cells.places_of(numbers)}:
            yield *cell, self.at((cell[0] + 0.5) * width, (cell[1] + 0.5) * height)

    def row_top(self, y: float) -> float:
        """Where the row of cells begins that a height lies in."""
        return float(y // self._tile.height * self._tile.height)
