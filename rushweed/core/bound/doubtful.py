"""Shapes that no game can use, and how they are put right on demand."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Literal

from rushweed.core.bound.geometry import MOST_CORNERS, find_crossing, signed_area
from rushweed.core.bound.shaping import polygon
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Form, Polygon, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Refusal, Size

Doubt = Literal["no area", "too many corners", "crosses itself", "outside", "past the edge"]


@lru_cache(maxsize=4096)
def doubt_about(form: Form, size: Size) -> Doubt | None:
    """What is wrong with a form on a piece of that size, the worst first; None for nothing."""
    corners = form.corners
    if isinstance(form, Polygon) and sum(map(len, form.rings)) > MOST_CORNERS:
        return "too many corners"
    if isinstance(form, Polygon) and len(corners) > 3 and find_crossing(corners) is not None:
        return "crosses itself"
    if len(corners) < 3 or signed_area(corners) == 0:
        return "no area"
    left, right = min(c.x for c in corners), max(c.x for c in corners)
    top, bottom = min(c.y for c in corners), max(c.y for c in corners)
    if right <= 0 or bottom <= 0 or left >= size.width or top >= size.height:
        return "outside"
    if left < 0 or top < 0 or right > size.width or bottom > size.height:
        return "past the edge"
    return None


def clip_shapes(project: Project, numbers: frozenset[int]) -> Project:
    """Cut the shapes of pieces at their edges; what has no area, is useless or lies wholly outside
    is taken away."""

    def edit(piece: Piece) -> Piece:
        kept = [part for shape in piece.shapes or () for part in _clipped(shape, piece.rect.size)]
        return replace(piece, shapes=tuple(kept))

    return with_pieces(project, numbers, edit)


def _clipped(shape: Shape, size: Size) -> list[Shape]:
    doubt = doubt_about(shape.form, size)
    if doubt is None:
        return [shape]
    if doubt in ("no area", "outside", "too many corners"):
        return []
    from shapely import Polygon as Area
    from shapely import box

    form = shape.form
    area = Area(form.corners, form.rings[1:]).buffer(0).intersection(box(0, 0, *size))
    parts = getattr(area, "geoms", [area])
    found = []
    for part in parts:
        if part.area > 0:
            rings = [
                [Point(*c) for c in ring.coords[:-1]] for ring in (part.exterior, *part.interiors)
            ]
            try:
                found.append(replace(shape, form=_boxed(polygon(rings[0], rings[1:]))))
            except Refusal:
                continue
    return found


def _boxed(form: Form) -> Form:
    """A box where the form is one."""
    xs, ys = {c.x for c in form.corners}, {c.y for c in form.corners}
    if len(form.rings) > 1 or len(form.corners) != 4 or len(xs) != 2 or len(ys) != 2:
        return form
    return Box(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))
