"""What a choice makes of the part of a large picture that is on the screen, before all of it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.treated import treat
from rushweed.core.project.rules import Sides, Treatment
from rushweed.core.values import Rect, Size

BLOCK = 4
MOST = 1 << 21
"""Pixels of a part that are tried at once."""


def part_of(seen: Rect, size: Size) -> Rect | None:
    """What is tried of a picture of that size while `seen` is on the screen: whole blocks of four;
    None where that would be too much or nothing."""
    left, top = max(seen.x, 0) // BLOCK * BLOCK, max(seen.y, 0) // BLOCK * BLOCK
    right = min(-(-seen.right // BLOCK) * BLOCK, size.width)
    bottom = min(-(-seen.bottom // BLOCK) * BLOCK, size.height)
    part = Rect(left, top, max(right - left, 0), max(bottom - top, 0))
    return part if 0 < part.area <= MOST else None


def treat_part(picture: Picture, treatment: Treatment, part: Rect) -> Iterator[Picture | None]:
    """The part as the choice makes it, step by step, rough at first. Compression in blocks does
    the very same with it as with the whole; palettes and lossy WebP choose by the part alone."""
    cut = picture[part.y : part.bottom, part.x : part.right]
    sides: Sides = "any" if treatment.sides == "any" else "multiple of four"
    alone = replace(treatment, sides=sides, mipmaps=False)
    for _, treated in treat(np.ascontiguousarray(cut), alone):
        yield None if treated is None else treated.picture
