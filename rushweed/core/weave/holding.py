"""Drawing leaves tiles alone that serve another purpose.

Of tiles whose sheet nobody has bound yet nothing is known: they replace and are replaced.
"""

from __future__ import annotations

from functools import cache, partial

import numpy as np

from rushweed.core.project.cells import CHUNK, Cells, Key
from rushweed.core.project.project import Project
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


def known_purpose(project: Project, number: int) -> str:
    """What a tile is for; empty where nobody has said it of any tile of its sheet."""
    found = project.find(number)
    if found is None or not any(piece.shapes for piece in found[0].pieces):
        return ""
    return purpose_of(project, number)
