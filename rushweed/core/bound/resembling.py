"""Tiles of another size or hand that are meant to be the same: likeness after scaling, silhouette,
and place in a block."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import Literal, NamedTuple

import numpy as np
from PIL import Image

from rushweed.core.arrays import Floats, Mask, Words
from rushweed.core.cut.likeness import part, pixels
from rushweed.core.orientation import FLIPPED
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.values import Size

SIDE = 16
"""Tiles are compared at this many pixels a side."""
ALIKE, CLEARLY = 0.07, 0.75
"""Scaled tiles whose premultiplied colours differ by less, of 1, are alike; clearly so when the
next best of another decision differs by more than the best, divided by this."""
SAME_OUTLINE = 0.9
"""Silhouettes that share this part of their union are one."""
FULL = 0.97
"""The silhouette of a tile of which more is drawn tells nothing."""
ASPECT = 1.15

Blocks = Sequence[Sequence[int]]
How = Literal["scaled", "silhouette", "place"]


class Resemblance(NamedTuple):
    """A piece of another sheet that one of ours, once mirrored or not, is likely meant to be."""

    number: int
    of: int
    orientation: int
    how: How
    sure: bool


def resembling(
    words: Words, ours: Sequence[Piece], other_words: Words, theirs: Sequence[Piece]
) -> Iterator[Resemblance]:
    """For each of their pieces the one of ours that it is most like at one size, as drawn or
    mirrored; unsure where only the silhouettes are alike, or where another one, about which
    something else was decided, is nearly as like.

    Pictures are given as `likeness.shown` makes them.
    """
    known = [(piece, 0) for piece in ours] + [(piece, FLIPPED) for piece in ours]
    plain = [_features(part(words, piece.rect)) for piece in ours]
    stack = np.stack([*plain, *(one[:, ::-1] for one in plain)]) if plain else np.empty((0,))
    for piece in theirs:
        drawn = part(other_words, piece.rect)
        fitting = [n for n, (one, _) in enumerate(known) if _fits(one.rect.size, piece.rect.size)]
        if not drawn.any() or not fitting:
            continue
        feature = _features(drawn)
        among = stack[fitting]
        apart = np.abs(among - feature).mean(axis=(1, 2, 3))
        best = int(apart.argmin())
        of, orientation = known[fitting[best]]
        if apart[best] < ALIKE:
            rivals = [
                far
                for n, far in zip(fitting, apart, strict=True)
                if _decision(known[n][0]) != _decision(of)
            ]
            sure = not rivals or apart[best] < CLEARLY * min(rivals)
            yield Resemblance(piece.number, of.number, orientation, "scaled", bool(sure))
            continue
        outline = _best_outline(among[..., 3] > 0.5, feature[..., 3] > 0.5)
        if outline is not None:
            of, orientation = known[fitting[outline]]
            yield Resemblance(piece.number, of.number, orientation, "silhouette", False)


def same_places(
    sheet: Sheet, ours: Iterable[int], other: Sheet, blocks: Blocks, other_blocks: Blocks
) -> Iterator[Resemblance]:
    """Pieces at the same place of sheets with as many rows and columns, else of blocks of as many
    tiles, which are given by the numbers of their pieces; never sure."""
    wanted = set(ours)
    if _counts(sheet) == _counts(other) != (0, 0):
        places = {(p.row, p.column): p.number for p in sheet.pieces if p.number in wanted}
        for piece in other.pieces:
            if (piece.row, piece.column) in places:
                of = places[piece.row, piece.column]
                yield Resemblance(piece.number, of, 0, "place", False)
        return
    known = [block for block in blocks if wanted & set(block)]
    for theirs in other_blocks if known else ():
        for number, of in zip(theirs, known[0], strict=False):
            if of in wanted:
                yield Resemblance(number, of, 0, "place", False)


def _features(words: Words) -> Floats:
    """A tile at the common size, colours multiplied with alpha, from 0 to 1; of shape (SIDE, SIDE,
    4)."""
    image = Image.fromarray(pixels(words)).convert("RGBa")
    small = image.resize((SIDE, SIDE), Image.Resampling.BOX)
    whole = np.frombuffer(small.tobytes(), np.uint8).reshape(SIDE, SIDE, 4)
    return whole.astype(np.float32) / np.float32(255)


def _best_outline(silhouettes: Mask, wanted: Mask) -> int | None:
    """The silhouette that shares most with one, where that is enough to tell."""
    if wanted.mean() > FULL:
        return None
    shared = (silhouettes & wanted).sum(axis=(1, 2)) / (silhouettes | wanted).sum(axis=(1, 2))
    best = int(shared.argmax())
    return best if shared[best] >= SAME_OUTLINE else None


def _fits(one: Size, other: Size) -> bool:
    """Whether two tiles have nearly the same proportions."""
    ratio = one.width * other.height / (one.height * other.width)
    return 1 / ASPECT <= ratio <= ASPECT


def _decision(piece: Piece) -> object:
    """What was decided about a piece, whatever its size."""
    size = piece.rect.size
    shapes = tuple(
        (
            shape.stopping,
            tuple(
                (round(c.x / size.width, 1), round(c.y / size.height, 1))
                for c in shape.form.corners
            ),
        )
        for shape in piece.shapes or ()
    )
    return piece.shapes is None, shapes, piece.facts


def _counts(sheet: Sheet) -> tuple[int, int]:
    """How many columns and rows of cells a sheet has; none without even cells."""
    if not isinstance(sheet.layout, EvenCells) or not sheet.pieces:
        return (0, 0)
    return (
        1 + max(piece.column for piece in sheet.pieces),
        1 + max(piece.row for piece in sheet.pieces),
    )
