"""Tiles that are drawn alike: the same again, mirrored, turned, or in other colours."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rushweed.core.arrays import Words
from rushweed.core.cut.likeness import content_of, part, pattern_of
from rushweed.core.orientation import FLIPPED, turned, turned_point
from rushweed.core.project.attached import moved_shape
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Size

ORIENTATIONS = (0, FLIPPED, 2, 3, 4, 5, 6, 7)
"""The eight of a square, as drawn and mirrored first."""
LEAST_SILHOUETTE = 16
"""Fewer pixels have no silhouette worth the name."""


Likeness = Literal["pixels", "pattern", "few pixels", "silhouette"]
MOST_CHANGED = 0.1
"""Of a tile that is nearly the same, at most this share of its drawn pixels differs."""


WORDS = {
    "pattern": "recoloured",
    "few pixels": "nearly the same",
    "silhouette": "of one silhouette",
}


@dataclass(frozen=True, slots=True)
class Twin:
    """A piece that looks like another, `of`, once that one is turned and flipped by
    `orientation`: in its pixels, in the pattern of its colours, in all but a few pixels, or in
    its silhouette alone."""

    number: int
    of: int
    orientation: int
    likeness: Likeness = "pixels"

    @property
    def kind(self) -> str:
        """The same in a word or two."""
        if self.likeness != "pixels":
            return WORDS[self.likeness]
        names = {0: "same", FLIPPED: "mirrored"}
        return names.get(self.orientation, "turned")


def find_twins(
    words: Words,
    sheet: Sheet,
    numbers: Iterable[int],
    other_words: Words | None = None,
    other: Sheet | None = None,
) -> list[Twin]:
    """The twins of some pieces among all others of their sheet, or among those of another one;
    each is the twin of one, in the firmest likeness there is.

    Pictures of sheets are given as `likeness.shown` makes them.
    """
    wanted = set(numbers)
    own = {p.number: part(words, p.rect) for p in sheet.pieces if p.number in wanted}
    known: dict[Hashable, Twin] = {}
    for orientation in ORIENTATIONS:
        for number, drawn in own.items():
            for likeness, key in _keys(turned(drawn, orientation)):
                known.setdefault((likeness, key), Twin(0, number, orientation, likeness))
    among = words if other_words is None else other_words
    found: dict[int, Twin] = {}
    left: dict[int, Words] = {}
    pieces = [piece for piece in (other or sheet).pieces if piece.number not in wanted]
    for piece in pieces:
        drawn = part(among, piece.rect)
        if drawn.any():
            matches = (known.get(key) for key in _keys(drawn))
            match = next((match for match in matches if match is not None), None)
            if match is not None:
                found[piece.number] = replace(match, number=piece.number)
            if match is None or match.likeness == "silhouette":
                left[piece.number] = drawn
    found.update(_nearly_the_same(own, left))
    return [found[piece.number] for piece in pieces if piece.number in found]


def _nearly_the_same(own: dict[int, Words], others: dict[int, Words]) -> dict[int, Twin]:
    """Pieces of which only few pixels differ from one of ours, as drawn or mirrored."""
    found: dict[int, Twin] = {}
    least: dict[int, int] = {}
    for shape in {drawn.shape for drawn in own.values()}:
        numbers = np.array([n for n, drawn in others.items() if drawn.shape == shape])
        if not len(numbers):
            continue
        stack = np.stack([others[number] for number in numbers.tolist()])
        drawn_there = np.count_nonzero(stack, axis=(1, 2))
        for number, drawn in own.items():
            if drawn.shape != shape or not drawn.any():
                continue
            for orientation in (0, FLIPPED):
                apart = np.count_nonzero(stack != turned(drawn, orientation), axis=(1, 2))
                near = apart <= MOST_CHANGED * np.minimum(drawn_there, np.count_nonzero(drawn))
                for twin, count in zip(numbers[near].tolist(), apart[near].tolist(), strict=True):
                    if count < least.get(twin, 1 << 30):
                        least[twin] = count
                        found[twin] = Twin(twin, number, orientation, "few pixels")
    return found


def _keys(drawn: Words) -> Iterator[tuple[Likeness, Hashable]]:
    """What is equal for pieces that are alike, the firmest likeness first. Neither the silhouette
    of a full tile nor one of few pixels tells anything."""
    yield "pixels", content_of(drawn)
    pattern = pattern_of(drawn)
    if pattern is not None:
        yield "pattern", pattern
    mask = drawn > 0
    if LEAST_SILHOUETTE <= np.count_nonzero(mask) < mask.size:
        yield "silhouette", (mask.shape, mask.tobytes())


def give_to_twins(project: Project, twins: Iterable[Twin]) -> Project:
    """Give twins the shapes of what they look like, turned and flipped alike."""
    shapes: dict[int, tuple[Shape, ...] | None] = {}
    for twin in twins:
        found = project.find(twin.of)
        if found is not None:
            own = found[1].shapes
            size = found[1].rect.size
            shapes[twin.number] = own and turned_shapes(own, size, twin.orientation)
    return with_pieces(
        project, frozenset(shapes), lambda piece: replace(piece, shapes=shapes[piece.number])
    )


def turned_shapes(shapes: tuple[Shape, ...], size: Size, orientation: int) -> tuple[Shape, ...]:
    """The shapes of a piece of that size, turned and flipped with it."""
    return tuple(
        moved_shape(shape, lambda point: turned_point(point, size, orientation), orientation)
        for shape in shapes
    )


def mirror_shapes(project: Project, numbers: frozenset[int]) -> Project:
    """Mirror the shapes of pieces left and right."""
    return with_pieces(
        project,
        numbers,
        lambda piece: replace(
            piece, shapes=piece.shapes and turned_shapes(piece.shapes, piece.rect.size, FLIPPED)
        ),
    )
