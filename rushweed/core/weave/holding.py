"""Drawing leaves tiles alone that serve another purpose.

Of tiles whose sheet nobody has bound yet nothing is known: they replace and are replaced.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from functools import cache, partial

import numpy as np

from rushweed.core.gather.art import Art
from rushweed.core.project.cells import CHUNK, Cells, Key
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.weave.levels import purpose_of


def leave_others(project: Project, before: Cells, after: Cells, purpose: str) -> tuple[Cells, int]:
    """Cells after drawing, with all tiles as they were that serve another purpose than what was
    drawn; and how many these are."""
    told = cache(partial(known_purpose, project))
    back: dict[Key, tuple[int, int]] = {}
    for key, (numbers, turns) in before.chunks.items():
        now = after.chunks.get(key)
        if now is not None and now[0] is numbers and now[1] is turns:
            continue
        gone = numbers > 0
        if now is not None:
            gone &= (now[0] != numbers) | (now[1] != turns)
        others = [n for n in np.unique(numbers[gone]).tolist() if told(n) not in ("", purpose)]
        for row, column in np.argwhere(gone & np.isin(numbers, others)).tolist():
            place = key[0] * CHUNK + column, key[1] * CHUNK + row
            back[place] = int(numbers[row, column]), int(turns[row, column])
    return (after.painted(back), len(back)) if back else (after, 0)


def first_purpose(project: Project, cells: Cells, places: Iterable[Key]) -> str:
    """What the first tile at some places is for of which that is known; empty for none."""
    numbers = (cells.at(*place)[0] for place in places)
    purposes = (known_purpose(project, number) for number in numbers if number)
    return next(filter(None, purposes), "")


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


def known_purpose(project: Project, number: int) -> str:
    """What a tile is for; empty where nobody has said it of it, or of any tile of its sheet."""
    found = project.find(number)
    if found is None:
        return ""
    sheet, piece = found
    if piece.shapes is None and not any(other.shapes for other in sheet.pieces):
        return ""
    return purpose_of(project, number)
