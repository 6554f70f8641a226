"""Drawing leaves tiles alone that serve another purpose.

Of tiles whose sheet nobody has bound yet nothing is known: they replace and are replaced.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable

import numpy as np

from rushweed.core.gather.art import Art
from rushweed.core.project.cells import CHUNK, Cells, Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.purposes import Purposes, purpose_of


def leave_others(
    purposes: Purposes, before: Cells, after: Cells, purpose: str
) -> tuple[Cells, int]:
    """Cells after drawing, with all tiles as they were that serve another purpose than what was
    drawn; and how many these are."""
    back: dict[Key, tuple[int, int]] = {}
    for key, (numbers, turns) in before.chunks.items():
        now = after.chunks.get(key)
        if now is not None and now[0] is numbers and now[1] is turns:
            continue
        there = before.numbers_in(key) - {0}
        others = [n for n in there if purposes.known(n) not in ("", purpose)]
        if not others:
            continue
        gone = numbers > 0
        if now is not None:
            gone &= (now[0] != numbers) | (now[1] != turns)
        for row, column in np.argwhere(gone & np.isin(numbers, others)).tolist():
            place = key[0] * CHUNK + column, key[1] * CHUNK + row
            back[place] = int(numbers[row, column]), int(turns[row, column])
    return (after.painted(back), len(back)) if back else (after, 0)


def first_purpose(purposes: Purposes, cells: Cells, places: Iterable[Key]) -> str:
    """What the first tile at some places is for of which that is known; empty for none."""
    numbers = (cells.at(*place)[0] for place in places)
    told = (purposes.known(number) for number in numbers if number)
    return next(filter(None, told), "")


def belongs_behind(project: Project, art: Art, numbers: Collection[int]) -> bool:
    """Whether pieces hide all that is behind them without being anything to stand on: a wall of a
    room, a sky. A piece that cannot be read hides nothing."""
    if any(purpose_of(project, number) != "decoration" for number in numbers):
        return False
    for number in numbers:
        try:
            picture = art.number(project, number)
        except Refusal:
            return False
        if picture is None or not (picture[..., 3] == 255).all():
            return False
    return bool(numbers)


def punched(
    purposes: Purposes, level: Level, index: int, numbers: Collection[int], area: Rect
) -> tuple[str, str, int | None] | None:
    """Whether painting with pieces on an area of a layer replaces tiles that serve another
    purpose: their purpose, that of the brush, and the layer that fits better (None when a new one
    would). None when nothing is lost, as far as that is known."""
    layers = level.layers
    brush = {purposes.of(number) for number in numbers}
    held, _ = layers[index].cells.window(area)
    there = {purposes.of(number) for number in set(held[held > 0].tolist())}
    if len(brush) != 1 or "" in brush or not there - {*brush, ""}:
        return None
    wanted = brush.pop()
    fitting = [
        place
        for place, layer in enumerate(layers)
        if place != index
        and not layer.locked
        and layer.visible
        and layer.parallax == 1
        and not layer.cells.window(area)[0].any()
        and purposes.main(layer) == wanted
    ]
    best = min(fitting, key=lambda place: (place < index, abs(place - index)), default=None)
    return sorted(there - {wanted, ""})[0], wanted, best
