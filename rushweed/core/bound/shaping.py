"""Giving pieces their collision shapes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.bound.geometry import tidy
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Form, Polygon, Shape, Stops
from rushweed.core.values import Point, Refusal, Size


def box(first: Point, second: Point) -> Box:
    """The box with these two opposite corners. Raises Refusal when it has no area."""
    left, right = sorted((first.x, second.x))
    top, bottom = sorted((first.y, second.y))
    if left == right or top == bottom:
        raise Refusal("That box has no area. Drag it at least one pixel wide and high.")
    return Box(left, top, right - left, bottom - top)


def polygon(corners: Sequence[Point]) -> Polygon:
    """The polygon through these corners, whatever their direction; see `geometry.tidy`."""
    return Polygon(tidy(corners))


def full_box(size: Size) -> Box:
    """The box as large as a piece."""
    return Box(0, 0, size.width, size.height)


def corners_of(form: Form) -> tuple[Point, ...]:
    """The form as a polygon, counter-clockwise as seen on the screen."""
    return form.corners


def add_shape(project: Project, numbers: frozenset[int], shape: Shape) -> Project:
    """Add a shape to each of the pieces."""
    return with_pieces(
        project, numbers, lambda piece: replace(piece, shapes=(*(piece.shapes or ()), shape))
    )


def set_shapes(
    project: Project, numbers: frozenset[int], shapes: tuple[Shape, ...] | None
) -> Project:
    """Give pieces exactly these shapes; an empty tuple decides that nothing is solid, None
    takes the decision back."""
    return with_pieces(project, numbers, lambda piece: replace(piece, shapes=shapes))


def set_stops(project: Project, numbers: frozenset[int], stops: Stops) -> Project:
    """Say whom all shapes of the pieces stop."""
    return with_pieces(
        project,
        numbers,
        lambda piece: replace(
            piece,
            shapes=piece.shapes and tuple(replace(shape, stops=stops) for shape in piece.shapes),
        ),
    )
