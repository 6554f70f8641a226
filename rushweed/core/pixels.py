"""What is asked of pixels everywhere: where something is drawn, and where it changes."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Bytes, Indices, Mask, packed
from rushweed.core.values import Rect


def box_around(mask: Mask) -> Rect | None:
    r"""The least rectangle around what is set in a mask of shape (height, width); None for nothing.

        . . . . .
        . . # . .        x 1, y 1
        . # . # .   ->   width 3, height 2
        . . . . .

    >>> box_around(np.array([[0, 0, 0], [0, 1, 1]], bool))
    Rect(x=1, y=1, width=2, height=1)
    """
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    if not len(rows):
        return None
    left, top = int(columns[0]), int(rows[0])
    return Rect(left, top, int(columns[-1]) + 1 - left, int(rows[-1]) + 1 - top)


def changes(picture: Bytes) -> tuple[Indices, Indices]:
    """The columns and the rows of a picture, (height, width, 4), that differ from the one before.

    >>> picture = np.eye(2, 3, dtype=np.uint8)[..., None].repeat(4, axis=2)
    >>> [places.tolist() for places in changes(picture)]
    [[1, 2], [1]]
    """
    words = packed(picture)
    across = np.flatnonzero((words[:, 1:] != words[:, :-1]).any(axis=0)) + 1
    down = np.flatnonzero((words[1:] != words[:-1]).any(axis=1)) + 1
    return across, down
