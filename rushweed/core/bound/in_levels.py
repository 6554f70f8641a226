"""Where levels use a tile, and which tiles lie side by side there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from rushweed.core.bound.neighbours import gap_between
from rushweed.core.gather.pictures import Picture
from rushweed.core.orientation import turned
from rushweed.core.project.facts import Side
from rushweed.core.project.project import Project
from rushweed.core.values import Rect

Tile = tuple[int, int]
"""A piece's number and its orientation."""
LARGEST = 4_000_000
"""Larger layers are not searched."""


@dataclass(frozen=True, slots=True)
class Pair:
    """Two tiles that meet in a level, the second to the right of or below the first, how often,
    and how much worse they meet than pixels inside of them, 0 to 255."""

    first: Tile
    second: Tile
    side: Side
    count: int
    gap: float


def around_in_level(project: Project, number: int) -> tuple[tuple[Tile, ...], ...] | None:
    """The three by three tiles, row by row, about the first place where a level uses a piece."""
    for level in project.levels:
        for layer in level.layers:
            place = next(layer.cells.places_of({number}), None)
            if place is not None:
                column, row = place
                numbers, orientations = layer.cells.window(Rect(column - 1, row - 1, 3, 3))
                return tuple(
                    tuple(zip(*line, strict=True))
                    for line in zip(numbers.tolist(), orientations.tolist(), strict=True)
                )
    return None


def worst_pairs(project: Project, pictures: Mapping[int, Picture], most: int = 12) -> list[Pair]:
    """The tiles that meet worst where they lie side by side in levels, the worst first.

    `pictures` holds straight alpha pixels by number; pairs with other tiles are left out.
    """
    counts: dict[tuple[Tile, Tile, Side], int] = {}
    for pair, count in _pairs(project, set(pictures)):
        counts[pair] = counts.get(pair, 0) + count
    found = []
    for (first, second, side), count in counts.items():
        one = turned(pictures[first[0]], first[1])
        other = turned(pictures[second[0]], second[1])
        if one.shape == other.shape:
            found.append(Pair(first, second, side, count, gap_between(one, other, side)))
    return sorted(found, key=lambda pair: (-pair.gap, -pair.count, pair.first))[:most]


def _pairs(project: Project, known: set[int]) -> Iterator[tuple[tuple[Tile, Tile, Side], int]]:
    wanted = np.array(sorted(known), np.int64)
    for level in project.levels:
        for layer in level.layers:
            area = layer.cells.bounds()
            if not area.area or area.area > LARGEST:
                continue
            numbers, orientations = layer.cells.window(area)
            codes = np.where(
                np.isin(numbers, wanted), numbers.astype(np.int64) * 8 + orientations, 0
            )
            sides: tuple[tuple[Side, np.ndarray, np.ndarray], ...] = (
                ("right", codes[:, :-1], codes[:, 1:]),
                ("below", codes[:-1], codes[1:]),
            )
            for side, here, there in sides:
                both = (here > 0) & (there > 0)
                pairs, counts = np.unique(here[both] << 32 | there[both], return_counts=True)
                for pair, count in zip(pairs.tolist(), counts.tolist(), strict=True):
                    first, second = divmod(pair, 1 << 32)
                    yield (divmod(first, 8), divmod(second, 8), side), count
