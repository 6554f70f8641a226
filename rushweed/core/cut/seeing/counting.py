"""Loose pieces as a person counts them: bits in one cell of a grid that is plain to see are one,
and where all are alike, one that is as large as several is several that touch."""

from __future__ import annotations

from rushweed.core.arrays import Mask
from rushweed.core.cut.bits import with_bits
from rushweed.core.cut.parting import are_alike, parted
from rushweed.core.cut.regions import Boxes, in_cells
from rushweed.core.cut.seeing.ranked import Ranked
from rushweed.core.project.sheet import EvenCells, LoosePieces

LEAST_SHARE = 0.4
"""How probable a grid must be, so that bits are counted by its cells."""
LIKELIEST = 3


def told_apart(ranked: Ranked, mask: Mask, regions: Boxes) -> LoosePieces:
    """How loose pieces of a picture are best told apart: by the cells of a grid that is plain to
    see, else by empty space, and by thin places where most are alike in size. `regions` is all that
    hangs together in the mask."""
    for reading in ranked.readings[:LIKELIEST]:
        layout = reading.layout
        if not isinstance(layout, EvenCells) or reading.share < LEAST_SHARE:
            continue
        if reading.columns * reading.rows < 2:
            continue
        if in_cells(regions, layout) is not None:
            return LoosePieces(within=layout)
    joined = with_bits(mask, regions)
    large = joined[joined[:, 4] >= LoosePieces().least]
    parts = parted(mask, large)
    touching = len(parts) > len(large) and (are_alike(large) or are_alike(parts))
    return LoosePieces(bits=len(joined) < len(regions), parted=touching)
