"""Tiles that are drawn alike: the same again, mirrored, turned, or in other colours."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from rushweed.core.bound.shaping import box, polygon
from rushweed.core.cut.likeness import Words, content_of, part, pattern_of
from rushweed.core.orientation import FLIPPED, turned, turned_point
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Form, Shape
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Size

ORIENTATIONS = (0, FLIPPED, 2, 3, 4, 5, 6, 7)
"""The eight of a square, as drawn and mirrored first."""
LEAST_SILHOUETTE = 16
"""Fewer pixels have no silhouette worth the name."""


Likeness = Literal["pixels", "pattern", "silhouette"]


@dataclass(frozen=True, slots=True)
class Twin:
    """A piece that looks like another, `of`, once that one is turned and flipped by
    `orientation`: in its pixels, in the pattern of its colours, or in its silhouette alone."""

    number: int
    of: int
    orientation: int
    likeness: Likeness = "pixels"

    @property
    def kind(self) -> str:
        """The same in a word or two."""
        if self.likeness != "pixels":
            return {"pattern": "recoloured", "silhouette": "of one silhouette"}[self.likeness]
        names = {0: "same", FLIPPED: "mirrored"}
        return names.get(self.orientation, "turned")


def find_twins(words: Words, sheet: Sheet, numbers: Iterable[int]) -> list[Twin]:
    """The twins of some pieces among all others of their sheet; each is the twin of one, in the
    firmest likeness there is.

    `words` is the sheet's picture as `likeness.shown` makes it.
    """
    wanted = set(numbers)
    parts = {piece.number: part(words, piece.rect) for piece in sheet.pieces}
    known: dict[Hashable, Twin] = {}
    for number in (n for n in parts if n in wanted):
        for orientation in ORIENTATIONS:
            for likeness, key in _keys(turned(parts[number], orientation)):
                known.setdefault((likeness, key), Twin(0, number, orientation, likeness))
    found = []
    for number, drawn in parts.items():
        if number not in wanted and drawn.any():
            matches = (known.get(key) for key in _keys(drawn))
            match = next((match for match in matches if match is not None), None)
            if match is not None:
                found.append(replace(match, number=number))
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
    return tuple(replace(s, form=_turned_form(s.form, size, orientation)) for s in shapes)


def mirror_shapes(project: Project, numbers: frozenset[int]) -> Project:
    """Mirror the shapes of pieces left and right."""
    return with_pieces(
        project,
        numbers,
        lambda piece: replace(
            piece, shapes=piece.shapes and turned_shapes(piece.shapes, piece.rect.size, FLIPPED)
        ),
    )


def _turned_form(form: Form, size: Size, orientation: int) -> Form:
    corners = [turned_point(corner, size, orientation) for corner in form.corners]
    return box(corners[0], corners[2]) if isinstance(form, Box) else polygon(corners)
