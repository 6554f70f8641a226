"""Loose pieces, against SciPy's labelling alone."""

from __future__ import annotations

import numpy as np
from measuring import Result, ratio
from scipy import ndimage

from rushweed.core.cut.loose import Mask, loose_pieces
from rushweed.core.project.sheet import LoosePieces

SIDE, STEP = 2048, 64


def measure() -> Result:
    """A sheet of 1024 round bodies, no two of one size."""
    mask = bodies()
    expected = (SIDE // STEP) ** 2
    assert len(loose_pieces(mask, LoosePieces())) == expected

    def label() -> None:
        labels, _ = ndimage.label(mask, np.ones((3, 3), bool))
        ndimage.find_objects(labels)

    what = f"{expected} loose pieces on {SIDE} × {SIDE} px, against labelling alone"
    return ratio(what, lambda: loose_pieces(mask, LoosePieces()), label, 1.6)


def bodies() -> Mask:
    draw = np.random.default_rng(8)
    down, across = np.mgrid[:STEP, :STEP] - STEP // 2
    mask = np.zeros((SIDE, SIDE), bool)
    for top in range(0, SIDE, STEP):
        for left in range(0, SIDE, STEP):
            wide, high = draw.uniform(8, 29, 2)
            body = (across / wide) ** 2 + (down / high) ** 2 < 1
            mask[top : top + STEP, left : left + STEP] = body
    return mask
