"""Loose pieces as a person counts them: bits in one cell of a grid that is plain to see are one."""

from __future__ import annotations

from rushweed.core.cut.regions import Boxes, in_cells
from rushweed.core.cut.seeing.readings import Ranked
from rushweed.core.project.sheet import EvenCells, LoosePieces

LEAST_SHARE = 0.4
"""How probable a grid must be, so that bits are counted by its cells."""
LIKELIEST = 3


def told_apart(ranked: Ranked, regions: Boxes) -> LoosePieces:
    """How loose pieces of a picture are best told apart: by the cells of a grid that is plain to
    see, else by empty space alone."""
    for reading in ranked.readings[:LIKELIEST]:
        layout = reading.layout
        if not isinstance(layout, EvenCells) or reading.share < LEAST_SHARE:
            continue
        if in_cells(regions, layout) is not None:
            return LoosePieces(within=layout)
    return LoosePieces()
