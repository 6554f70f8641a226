"""Drawing leaves tiles alone that serve another purpose.

Of tiles whose sheet nobody has bound yet nothing is known: they replace and are replaced.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence

import numpy as np

from rushweed.core.gather.art import Art
from rushweed.core.project.cells import CHUNK, Cells, Key
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.purposes import Purposes, purpose_of

Takers = Sequence[Sequence[Collection[int]]]
"""Rows of cells with the pieces of which one is laid in each, 0 where nothing is."""


def leave_others(
    purposes: Purposes,
    before: Cells,
    after: Cells,
    rubbed: str = "",
    own: frozenset[int] = frozenset(),
) -> tuple[Cells, frozenset[Key]]:
    """Cells after drawing, with all tiles as they were that serve another purpose than what would
    take their place; and where these are. Where nothing does, they are left that serve another
    purpose than `rubbed`, if that is told. Tiles of `own` take each other's place."""
    back: dict[Key, tuple[int, int]] = {}
    for key, (numbers, turns) in before.chunks.items():
        new = after.chunks.get(key)
        if new is not None and new[0] is numbers and new[1] is turns:
            continue
        now = new[0] if new is not None else np.zeros_like(numbers)
        gone = (numbers > 0) & (now != numbers)
        for old, taker in np.unique(np.stack([numbers[gone], now[gone]]), axis=1).T.tolist():
            served = purposes.known(taker) if taker else rubbed
            if {"", served} & {purposes.known(old)} or not served or {old, taker} <= own:
                continue
            for row, column in np.argwhere(gone & (numbers == old) & (now == taker)).tolist():
                place = key[0] * CHUNK + column, key[1] * CHUNK + row
                back[place] = old, int(turns[row, column])
    return (after.painted(back) if back else after), frozenset(back)


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
    purposes: Purposes, level: Level, index: int, takers: Takers, place: Key
) -> tuple[str, str, int | None] | None:
    """Whether painting on a layer, cell by cell with one of some pieces each, replaces tiles that
    serve another purpose: their purpose, that of what takes their place, and the layer that fits
    better (None when a new one would). None when nothing is lost, as far as that is known."""
    layers = level.layers
    area = Rect(*place, len(takers[0]), len(takers))
    held, _ = layers[index].cells.window(area)
    clashes = set()
    for olds, row in zip(held.tolist(), takers, strict=True):
        for old, numbers in zip(olds, row, strict=True):
            served = {purposes.of(number) for number in numbers if number}
            if old and len(served) == 1 and "" not in served:
                clashes |= {(purposes.of(old), *served)}
    clashes = {pair for pair in clashes if pair[0] not in ("", pair[1])}
    if not clashes:
        return None
    there, wanted = min(clashes)
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
    return there, wanted, best
