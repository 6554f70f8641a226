"""Which parts of its tiles belong to a hem's area, read from their rims.

A side goes on where what lies at the tile's edge is what lies in its middle; a corner between two
such sides belongs where it is not cut by the rim. What is clear is rim. Where nothing is, colours
that are met in the middles of tiles are the area's, and those that are met at edges alone are not.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from contextlib import suppress

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Mask, Reals
from rushweed.core.gather.pictures import Picture

Sides = tuple[bool, bool, bool, bool]
CLEAR_EDGES = 0.05
"""So much of all edges is clear where clearness tells what is rim."""
KINDS = 12
"""Colours are told apart in so many groups."""
SEEN = 12
"""Of each group so many pixels of middles have to be seen, for chance not to tell."""
AT_HOME = 0.4
"""A group of colours is the area's when it is met in middles at least so often as at edges."""
JOINED, HALF = 0.55, 0.5
"""The share of an edge, and of anything else, that is the area's where they belong."""
BROAD, NARROW = 5, 16
"""A middle is so small a part of a tile's side; rims of nearly half a tile leave but little."""
THICK = 0.3
"""Rims of more than this part of a side leave the area but little of an edge."""
MOST_PIXELS = 20_000


def read_marks(pictures: Mapping[int, Picture]) -> dict[int, int]:
    """The nine parts of each tile as bits, three for each row from the upper left. Pictures are
    straight alpha, of shape (height, width, 4)."""
    readings = []
    for parts in (BROAD, NARROW):
        areas = _areas(list(pictures.values()), parts)
        if sum(_middle(area, parts).mean() < HALF for area in areas) * 4 <= len(areas):
            readings.append(_by_edges(areas))
    if readings:
        marks = max(readings, key=lambda found: len(set(found)))
    else:
        marks = [_by_ninths(area) for area in _areas(list(pictures.values()), BROAD)]
    return dict(zip(pictures, marks, strict=True))


def _by_edges(areas: Sequence[Mask]) -> list[int]:
    """The parts of tiles whose middles are the area's."""
    joined = [_joined(area, BROAD) for area in areas]
    rim = _rim(areas, joined)
    height, width = areas[0].shape
    if rim[0] > THICK * width or rim[1] > THICK * height:
        joined = [_joined(area, NARROW) for area in areas]
        rim = _rim(areas, joined)
    return [_parts(area, one, rim) for area, one in zip(areas, joined, strict=True)]


def _areas(pictures: Sequence[Picture], parts: int) -> list[Mask]:
    """Where each tile shows the area, which is met in so small a part of their middles."""
    drawn = [picture[..., 3] > 127 for picture in pictures]
    edges = np.concatenate([line for mask in drawn for line in _edges(mask)])
    if (~edges).mean() >= CLEAR_EDGES:
        return drawn
    return _by_colour(pictures, parts)


def _edges(array: npt.NDArray[np.generic]) -> tuple[npt.NDArray[np.generic], ...]:
    """The outermost lines: left, right, top, bottom."""
    return array[:, 0], array[:, -1], array[0], array[-1]


def _middle(array: npt.NDArray[np.generic], parts: int) -> npt.NDArray[np.generic]:
    """The innermost pixels of a tile."""
    height, width = array.shape[:2]
    return array[_innermost(height, parts), _innermost(width, parts)]


def _innermost(side: int, parts: int) -> slice:
    """So small a part of a side in its middle, two pixels at least where it is even."""
    room = max(2 - side % 2, side // parts)
    room += (side - room) % 2
    return slice((side - room) // 2, (side + room) // 2)


def _by_colour(pictures: Sequence[Picture], parts: int) -> list[Mask]:
    """The pixels whose colours are met in the middles of tiles as often as at their edges."""
    from scipy.cluster.vq import vq

    colours = [picture[..., :3].astype(np.float64) for picture in pictures]
    flat = np.concatenate([one.reshape(-1, 3) for one in colours])
    step = max(1, len(flat) // MOST_PIXELS)
    seen = sum(_middle(one, parts)[..., 0].size for one in colours)
    kinds = min(max(2, min(KINDS, seen // SEEN)), len(np.unique(flat[::step], axis=0)))
    groups = _groups(flat[::step], kinds)
    kinds = len(groups)
    labels = [vq(one.reshape(-1, 3), groups)[0].reshape(one.shape[:2]) for one in colours]
    middles = np.bincount(
        np.concatenate([_middle(one, parts).ravel() for one in labels]), minlength=kinds
    ).astype(np.float64)
    edges = np.bincount(
        np.concatenate([line for one in labels for line in _edges(one)]), minlength=kinds
    ).astype(np.float64)
    at_home = middles / max(middles.sum(), 1) >= AT_HOME * edges / max(edges.sum(), 1)
    return [at_home[one] for one in labels]


def _groups(colours: Reals, kinds: int) -> Reals:
    """The middles of so many groups of colours; of fewer, where one would be empty."""
    from scipy.cluster.vq import ClusterError, kmeans2

    while kinds > 1:
        with suppress(ClusterError):
            found, _ = kmeans2(colours, kinds, minit="++", rng=7, missing="raise")
            return np.asarray(found, np.float64)
        kinds -= 1
    whole: Reals = colours.mean(axis=0, keepdims=True)
    return whole


def _joined(area: Mask, parts: int) -> Sides:
    """Whether the area goes on at the left, right, top and bottom: where the middle of the tile
    shows it, the middle of the edge does, too."""
    height, width = area.shape
    tall, wide = _innermost(height, parts), _innermost(width, parts)
    across, down = area[tall, width // 2], area[height // 2, wide]
    shares = (
        _share(area[tall, 0], across),
        _share(area[tall, -1], across),
        _share(area[0, wide], down),
        _share(area[-1, wide], down),
    )
    left, right, top, bottom = (share >= JOINED for share in shares)
    return left, right, top, bottom


def _share(edge: Mask, middle: Mask) -> float:
    return float(edge[middle].mean()) if middle.any() else float(edge.mean())


def _rim(areas: Sequence[Mask], joined: Sequence[Sides]) -> tuple[int, int]:
    """How wide and high the rim is, where the area ends."""
    wide: list[int] = []
    high: list[int] = []
    for area, (left, right, top, bottom) in zip(areas, joined, strict=True):
        height, width = area.shape
        row, column = area[height // 2], area[:, width // 2]
        for line, ends, found in (
            (row, not left, wide),
            (row[::-1], not right, wide),
            (column, not top, high),
            (column[::-1], not bottom, high),
        ):
            if ends and line.any():
                found.append(int(line.argmax()))
    height, width = areas[0].shape
    usual = max(1, width // 8), max(1, height // 8)
    rim_wide = int(np.median(wide)) if wide else usual[0]
    rim_high = int(np.median(high)) if high else usual[1]
    return max(1, rim_wide), max(1, rim_high)


def _parts(area: Mask, joined: Sides, rim: tuple[int, int]) -> int:
    left, right, top, bottom = joined
    wide, high = rim
    tall, across = slice(0, high), slice(0, wide)
    low, far = slice(-high, None), slice(-wide, None)
    corners = (
        (1, left and top, area[tall, across]),
        (4, right and top, area[tall, far]),
        (64, left and bottom, area[low, across]),
        (256, right and bottom, area[low, far]),
    )
    parts = 16 if _middle(area, NARROW).mean() >= HALF else 0
    for bit, belongs in ((8, left), (32, right), (2, top), (128, bottom)):
        parts |= bit if belongs else 0
    for bit, between, corner in corners:
        parts |= bit if between and corner.mean() >= HALF else 0
    return parts


def _by_ninths(area: Mask) -> int:
    """For tiles whose middles may lie outside: each ninth of which half belongs."""
    ninths = [
        part.mean() >= HALF if part.size else False
        for rows in np.array_split(area, 3, axis=0)
        for part in np.array_split(rows, 3, axis=1)
    ]
    return sum(1 << place for place, belongs in enumerate(ninths) if belongs)
