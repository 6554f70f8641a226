"""Shapes found in a piece's own pixels: outlines, boxes around all of it or around its foot."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.bound.outline import Outline, trace_many
from rushweed.core.bound.shaping import box
from rushweed.core.bound.simplify import Promise, deviation, filled, simplified
from rushweed.core.bulk import in_bulk
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import ALL_SIDES, Box, Circle, Polygon, Ring, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point

MOST_MEASURED = 64
"""The exact deviation is worked out for at most so many pieces."""


@dataclass(frozen=True, slots=True)
class Fitted:
    """Shapes by piece number, how many corners they have, and how far they are from what is
    drawn at most, in pixels."""

    shapes: Mapping[int, tuple[Shape, ...]]
    corners: int
    deviation: float


def fit_outlines(
    masks: Mapping[int, Mask], distance: float, promise: Promise, keep_holes: bool = False
) -> Fitted:
    """Polygons around what is drawn of pieces, with as few corners as keep within a distance,
    holes filled unless they are kept; see `simplify.simplified`. Masks are of shape
    (height, width)."""
    with in_bulk():
        traced = trace_many(list(masks.values()))
        exact = traced if keep_holes else [filled(outlines) for outlines in traced]
        flat = [outline for outlines in exact for outline in outlines]
        fewer = simplified(flat, distance, promise)
    far = float(distance)
    if len(masks) <= MOST_MEASURED:
        pairs = zip(flat, fewer, strict=True)
        far = max((deviation(one, other) for one, other in pairs), default=0.0)
    drawn = iter(fewer)
    shapes = {
        number: tuple(Shape(_polygon(next(drawn))) for _ in outlines)
        for number, outlines in zip(masks, exact, strict=True)
    }
    corners = sum(len(ring) for outline in fewer for ring in (outline.outer, *outline.holes))
    return Fitted(shapes, corners, far)


def fit_boxes(masks: Mapping[int, Mask], rows: int = 0) -> Fitted:
    """The box around what is drawn of each piece; with `rows`, around its lowest so many rows."""
    shapes = {number: _boxes(mask, rows) for number, mask in masks.items()}
    return Fitted(shapes, 4 * sum(map(len, shapes.values())), 0.0)


def fit_circles(masks: Mapping[int, Mask]) -> Fitted:
    """The circle about the middle of what is drawn of each piece that covers as much, in half
    pixels."""
    shapes: dict[int, tuple[Shape, ...]] = {}
    for number, mask in masks.items():
        rows, columns = np.nonzero(mask)
        shapes[number] = ()
        if len(rows):
            x, y = (round(2 * float(side.mean()) + 1) / 2 for side in (columns, rows))
            radius = max(round(2 * math.sqrt(len(rows) / math.pi)), 1) / 2
            shapes[number] = (Shape(Circle(x, y, radius)),)
    return Fitted(shapes, len(shapes), 0.0)


def give_fitted(project: Project, fitted: Fitted) -> Project:
    """Give pieces the shapes that were found for them; whom they stop stays as it was."""

    def edit(piece: Piece) -> Piece:
        first = piece.shapes[0].stopping if piece.shapes else ALL_SIDES
        found = fitted.shapes[piece.number]
        shapes = tuple(replace(shape, stops=first.stops, side=first.side) for shape in found)
        return replace(piece, shapes=shapes)

    return with_pieces(project, frozenset(fitted.shapes), edit)


def masks_of(mask: Mask, pieces: Sequence[Piece]) -> dict[int, Mask]:
    """What is drawn of each piece of a sheet, by number."""
    from rushweed.core.cut.loose import part_of

    return {piece.number: part_of(mask, piece.rect) for piece in pieces}


def _boxes(mask: Mask, rows: int) -> tuple[Shape, ...]:
    drawn = np.flatnonzero(mask.any(axis=1))
    if not len(drawn):
        return ()
    bottom = int(drawn[-1]) + 1
    top = max(int(drawn[0]), bottom - rows) if rows else int(drawn[0])
    across = np.flatnonzero(mask[top:bottom].any(axis=0))
    form: Box = box(Point(int(across[0]), top), Point(int(across[-1]) + 1, bottom))
    return (Shape(form),)


def _polygon(outline: Outline) -> Polygon:
    """The outline in the one form polygons are stored in: begun with the uppermost corner."""
    return Polygon(_begun_above(outline.outer), tuple(map(_begun_above, outline.holes)))


def _begun_above(ring: Ring) -> Ring:
    first = min(range(len(ring)), key=lambda place: (ring[place].y, ring[place].x))
    return ring[first:] + ring[:first]
