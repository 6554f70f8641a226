"""Loose pieces as a person counts them: bits in one cell of a grid that is plain to see are one,
and where all are alike, one that is as large as several is several that touch."""

from __future__ import annotations

import numpy as np

from rushweed.core.cut.parting import Mask, parted
from rushweed.core.cut.regions import Boxes, in_cells
from rushweed.core.cut.seeing.readings import Ranked
from rushweed.core.project.sheet import EvenCells, LoosePieces

LEAST_SHARE = 0.4
"""How probable a grid must be, so that bits are counted by its cells."""
LIKELIEST = 3
FEWEST_ALIKE, MOSTLY, NEARLY = 4, 0.6, 0.2
"""Of so many regions at least this part is within so much of the usual width and height."""


def told_apart(ranked: Ranked, mask: Mask, regions: Boxes) -> LoosePieces:
    """How loose pieces of a picture are best told apart: by the cells of a grid that is plain to
    see, else by empty space, and by thin places where most are alike in size."""
    for reading in ranked.readings[:LIKELIEST]:
        layout = reading.layout
        if not isinstance(layout, EvenCells) or reading.share < LEAST_SHARE:
            continue
        if in_cells(regions, layout) is not None:
            return LoosePieces(within=layout)
    large = regions[regions[:, 4] >= LoosePieces().least]
    touching = are_alike(large) and len(parted(mask, large)) > len(large)
    return LoosePieces(parted=touching)


def are_alike(regions: Boxes) -> bool:
    """Whether most regions are of one size."""
    if len(regions) < FEWEST_ALIKE:
        return False
    sides = regions[:, 2:4] - regions[:, :2]
    near = np.abs(sides - np.median(sides, axis=0)) <= NEARLY * np.median(sides, axis=0)
    return bool(near.all(axis=1).mean() >= MOSTLY)
