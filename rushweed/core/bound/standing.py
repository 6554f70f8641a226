"""Where one would stand on a piece, against where it is drawn."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from rushweed.core.arrays import Mask, Reals
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Form, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point

MOST_AGREE = 0.75
"""The share of columns that must be off by as much before a piece is said to be."""


def standing_error(mask: Mask, shapes: Sequence[Shape]) -> int:
    """By how many whole pixels the top of a piece's shapes lies above what is drawn (a walker
    would float), or below it, as a negative number (it would sink); 0 where that differs from
    column to column. `mask` is what is drawn of the piece, of shape (height, width)."""
    width = mask.shape[1]
    tops = shape_tops([shape for shape in shapes if shape.carries], width)
    drawn = mask.any(axis=0)
    known = drawn & np.isfinite(tops)
    if not known.any():
        return 0
    apart = np.rint(mask.argmax(axis=0)[known] - tops[known]).astype(np.intp)
    values, counts = np.unique(apart, return_counts=True)
    usual = int(values[counts.argmax()])
    return usual if counts.max() >= MOST_AGREE * len(apart) else 0


def shape_tops(shapes: Sequence[Shape], width: int) -> Reals:
    """The uppermost place of shapes in the middle of each column of pixels; endless where there
    is none. Shape (width,)."""
    middles = np.arange(width, dtype=np.float64) + 0.5
    tops = np.full(width, np.inf)
    for shape in shapes:
        ring = shape.form.corners
        for start, end in zip(ring, (*ring[1:], ring[0]), strict=True):
            tops = np.minimum(tops, _heights(start, end, middles))
    return tops


def _heights(start: Point, end: Point, places: Reals) -> Reals:
    """Where an edge crosses upright lines; endless beside it."""
    if start.x == end.x:
        return np.full(len(places), np.inf)
    part = (places - start.x) / (end.x - start.x)
    heights = start.y + part * (end.y - start.y)
    return np.where((part >= 0) & (part <= 1), heights, np.inf)


def stand_on_drawn(project: Project, errors: Mapping[int, int]) -> Project:
    """Bring the tops of pieces' shapes to what is drawn: boxes grow or shrink, others move."""

    def edit(piece: Piece) -> Piece:
        by = errors[piece.number]
        shapes = tuple(
            shape if not shape.carries else replace(shape, form=_lowered(shape.form, by))
            for shape in piece.shapes or ()
        )
        return replace(piece, shapes=shapes)

    return with_pieces(project, frozenset(errors), edit)


def _lowered(form: Form, by: int) -> Form:
    if isinstance(form, Box) and form.height > by:
        return Box(form.x, form.y + by, form.width, form.height - by)
    return form.moved(0, by)
