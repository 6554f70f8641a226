"""The merged outlines of a level as a bundle tells them."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.bale.ground_edges import Grounds
from rushweed.core.bale.manifest import OutlineEntry, RingEntry
from rushweed.core.bale.measure import Measure
from rushweed.core.bale.nesting import Nested, nested
from rushweed.core.bound.convex import convex_parts
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import WAYS, Polygon, Ring
from rushweed.core.weave.outlines import merged_outlines


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
    grounds = Grounds(project, level)
    for stops in WAYS:
        for layer in sorted(number for kind, number in shapes if kind == stops.stops):
            for whole in nested(merged_outlines(project, level, stops, layer)):
                yield OutlineEntry(
                    stops.stops,  # type: ignore[arg-type]
                    stops.side if stops.stops == "one-way" else None,
                    layer,
                    _ring(whole.outer, measure, grounds),
                    tuple(_ring(hole, measure, grounds) for hole in whole.holes),
                    _convex(whole, measure, convex),
                )


def _ring(ring: Ring, measure: Measure, grounds: Grounds) -> RingEntry:
    kinds: tuple[int | None, ...] = ()
    if grounds:
        told = grounds.of_ring(ring)
        if any(ground is not None for ground in told.grounds):
            ring, kinds = told
    return RingEntry(tuple(measure.place(corner) for corner in ring), kinds)


def _convex(whole: Nested, measure: Measure, most: int) -> tuple[Ring, ...]:
    if not most:
        return ()
    parts = convex_parts(Polygon(whole.outer, whole.holes), max(most, 3))
    return tuple(tuple(measure.place(corner) for corner in part) for part in parts)
