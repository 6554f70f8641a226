"""The merged outlines of a level as a bundle tells them."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.bale.ground_edges import Nested, grounded, has_grounds, nested
from rushweed.core.bale.manifest import OutlineEntry, RingEntry
from rushweed.core.bale.measure import Measure
from rushweed.core.bound.convex import convex_parts
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Polygon, Ring, Stops
from rushweed.core.weave.outlines import merged_outlines

SOLID: tuple[Stops, ...] = ("all sides", "one-way")


def outline_entries(
    project: Project, level: Level, measure: Measure, convex: int
) -> Iterator[OutlineEntry]:
    """What stops walkers in a level, by how it stops them and by collision layer."""
    used = {number for layer in level.layers for number in layer.cells.used()}
    shapes = {
        (shape.stops, shape.layer)
        for number in used
        if (found := project.find(number))
        for shape in found[1].shapes or ()
    }
    asks = has_grounds(project, level)
    for stops in SOLID:
        for layer in sorted(number for kind, number in shapes if kind == stops):
            for whole in nested(merged_outlines(project, level, stops, layer)):
                yield OutlineEntry(
                    stops,  # type: ignore[arg-type]
                    layer,
                    _ring(project, level, whole.outer, measure, asks),
                    tuple(_ring(project, level, hole, measure, asks) for hole in whole.holes),
                    _convex(whole, measure, convex),
                )


def _ring(project: Project, level: Level, ring: Ring, measure: Measure, asks: bool) -> RingEntry:
    grounds: tuple[int | None, ...] = ()
    if asks:
        told = grounded(project, level, ring)
        if any(ground is not None for ground in told.grounds):
            ring, grounds = told
    return RingEntry(tuple(measure.place(corner) for corner in ring), grounds)


def _convex(whole: Nested, measure: Measure, most: int) -> tuple[Ring, ...]:
    if not most:
        return ()
    parts = convex_parts(Polygon(whole.outer, whole.holes), max(most, 3))
    return tuple(tuple(measure.place(corner) for corner in part) for part in parts)
