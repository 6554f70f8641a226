"""Which rectangles of a list are the pieces of a picture: the picture tells.

A list says nothing about what its numbers mean that could be relied on. Whatever two fields may be
a place and a length across, and two others down, are tried: rectangles that lie within the picture,
hardly over each other, and together hold what is drawn are its pieces. Names such as `x` or `left`
only say what is tried first.

    place, length     | x |----- w -----|            place, end    | left |-----------| right
    from below        y counts from the lower edge   turned        w and h change places
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import groupby, islice, permutations
from typing import NamedTuple

import numpy as np

from rushweed.core.arrays import Mask, Reals, Whole
from rushweed.core.gather.rectangle_lists import Series, names_of, series_in
from rushweed.core.values import Rect, Size

MOST_SERIES, MOST_TRIED, MOST_ALIKE, LOOKED_AT = 8, 16, 8, 48
HELD, HELD_BY_NAME = 0.95, 0.5
"""So much of what is drawn lies in rectangles whose fields have other names, and in those whose
fields are called as everybody calls them."""
OVERLAP = 0.35
"""Rectangles lie over each other by no more of their area: figures on shelves interlock a bit."""
ENOUGH = 0.9
"""So much of a series are rectangles, all in all."""
ROLES: tuple[frozenset[str], ...] = (
    frozenset({"x", "left", "l", "x0", "x1", "minx", "xmin", "px"}),
    frozenset({"y", "top", "t", "y0", "y1", "miny", "ymin", "py"}),
    frozenset({"w", "width", "wide", "sizex"}),
    frozenset({"h", "height", "high", "sizey"}),
    frozenset({"right", "r", "x2", "maxx", "xmax"}),
    frozenset({"bottom", "b", "y2", "maxy", "ymax"}),
)


class Listed(NamedTuple):
    """A piece that a list tells: its place, and its name there."""

    rect: Rect
    name: str


_Fit = tuple[float, tuple[Listed, ...]]
"""How well rectangles fit a picture, 0 for not at all, and what they are."""


class _Way(NamedTuple):
    """Fields for x, y, and either width and height or right and bottom."""

    fields: tuple[str, str, str, str]
    ends: bool
    called_so: int


def listed_pieces(data: bytes, mask: Mask, pixel: int = 1) -> tuple[Listed, ...]:
    """The pieces of a picture as a text beside it lists them, each place once; none where no list
    in it fits. `mask`, of shape (height, width), says where something is drawn; the text speaks of
    pixels `pixel` times as small."""
    size = Size(mask.shape[1] * pixel, mask.shape[0] * pixel)
    found: list[_Fit] = [(0.0, ())]
    for series in sorted(series_in(data), key=len, reverse=True)[:MOST_SERIES]:
        for _, ways in groupby(_ways(series, size), key=lambda way: way.called_so):
            fits = [_fitting(series, way, mask, pixel) for way in ways]
            found += fits
            if any(worth for worth, _ in fits):
                break
    return max(found, key=lambda fit: fit[0])[1]


def _ways(series: Series, size: Size) -> list[_Way]:
    """What the fields may mean, the likeliest first; each as far as a look at some entries does not
    speak against it."""
    most = Counter(name for entry in series for name in entry.numbers)
    fields = [name for name, count in most.items() if count > ENOUGH * len(series)]
    groups: dict[str, list[str]] = {}
    for name in fields:
        groups.setdefault(_path(name), []).append(name)
    if len(groups) > 1:
        groups["*"] = fields
    some = series[:: -(-len(series) // LOOKED_AT)]
    told = {name: np.array([e.numbers.get(name, np.nan) for e in some]) for name in fields}
    ways = [way for group in groups.values() for way in _ways_of(group[:MOST_ALIKE])]
    ways.sort(key=lambda way: -way.called_so)
    fit = (way for way in ways if _may_be(np.stack([told[f] for f in way.fields], 1), way, size))
    return list(islice(fit, MOST_TRIED))


def _ways_of(fields: Sequence[str]) -> Iterator[_Way]:
    for chosen in permutations(fields, 4):
        for ends in (False, True):
            roles = (0, 1, 4, 5) if ends else (0, 1, 2, 3)
            called = sum(_is_called(f, ROLES[r]) for f, r in zip(chosen, roles, strict=True))
            yield _Way(chosen, ends, called)


def _sized(told: Reals, way: _Way) -> Reals:
    """Rows of x, y, width and height, of rows of what a way's fields tell."""
    return np.hstack([told[:, :2], told[:, 2:] - told[:, :2]]) if way.ends else told


def _may_be(told: Reals, way: _Way, size: Size) -> bool:
    """Whether some rectangles lie in a picture of that size and hardly over each other; what is the
    dearest to tell comes last."""
    boxes = _sized(told[~np.isnan(told).any(axis=1)], way)
    if not len(boxes) or boxes[:, :2].min() < 0 or boxes[:, 2:].min() <= 0:
        return False
    if boxes.max() > max(size):
        return False
    boxes = np.unique(boxes, axis=0)
    low, high = boxes[:, :2], boxes[:, :2] + boxes[:, 2:]
    shared = np.minimum(high[:, None], high) - np.maximum(low[:, None], low)
    over = shared.clip(0).prod(axis=2).sum() - boxes[:, 2:].prod(axis=1).sum()
    return bool(over / 2 <= OVERLAP * boxes[:, 2:].prod(axis=1).sum())


def _path(name: str) -> str:
    """The way to a field without its last step; numbered fields of one thing are together."""
    return name.rpartition(".")[0]


def _is_called(name: str, role: frozenset[str]) -> bool:
    last = name.rpartition(".")[2].lower()
    return last.replace("_", "").replace("-", "") in role


def _fitting(series: Series, way: _Way, mask: Mask, pixel: int) -> _Fit:
    """How well the rectangles of a series fit that are told by some fields."""
    chosen = [entry for entry in series if entry.has(way.fields)]
    told = _sized(np.array([[e.numbers[name] for name in way.fields] for e in chosen]), way)
    boxes = np.round(told / pixel).astype(np.int64)
    if not np.allclose(boxes * pixel, told, atol=0.01):
        return 0.0, ()
    sides = [np.array([entry.flags.get(f, False) for entry in chosen]) for f in _flags(series)]
    names = names_of(chosen)
    best: _Fit = (0.0, ())
    for turned in (None, *sides):
        for below in (False, True):
            tried = boxes.copy()
            if turned is not None:
                tried[turned, 2:] = tried[turned, 3:1:-1]
            if below:
                tried[:, 1] = mask.shape[0] - tried[:, 1] - tried[:, 3]
            worth = _worth(tried, mask, way.called_so) - 0.01 * (below + (turned is not None))
            if worth > best[0]:
                best = worth, _once(tried, names)
    return best


def _flags(series: Series) -> list[str]:
    """Fields that are true for some and not for others."""
    names = sorted({name for entry in series for name in entry.flags})
    return [n for n in names if len({entry.flags.get(n, False) for entry in series}) == 2][:2]


def _worth(boxes: Whole, mask: Mask, called_so: int) -> float:
    """How well rectangles, rows of x, y, width and height, fit what is drawn; 0 for not at all."""
    boxes = np.unique(boxes, axis=0)
    x, y, wide, high = boxes.T
    height, width = mask.shape
    inside = (x >= 0) & (y >= 0) & (x + wide <= width) & (y + high <= height)
    if not len(boxes) or not inside.all() or min(wide.min(), high.min()) < 1:
        return 0.0
    edges = np.zeros((height + 1, width + 1), np.int32)
    for down, across, sign in ((y, x, 1), (y + high, x, -1), (y, x + wide, -1)):
        np.add.at(edges, (down, across), sign)
    np.add.at(edges, (y + high, x + wide), 1)
    covered = edges.cumsum(axis=0).cumsum(axis=1)[:-1, :-1] > 0
    drawn = max(int(np.count_nonzero(mask)), 1)
    held = np.count_nonzero(covered & mask) / drawn
    over = 1 - np.count_nonzero(covered) / float((wide * high).sum())
    if over > OVERLAP or held < (HELD_BY_NAME if called_so == 4 else HELD):
        return 0.0
    return float(held - over / 2 + called_so / 8)


def _once(boxes: Whole, names: Sequence[str]) -> tuple[Listed, ...]:
    """Each place once, under the first of its names, in the order of the list."""
    found: dict[Rect, str] = {}
    for box, name in zip(boxes.tolist(), names, strict=True):
        found.setdefault(Rect(*box), name)
    return tuple(Listed(rect, name) for rect, name in found.items())
