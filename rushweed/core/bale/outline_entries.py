"""The merged outlines of a level as a bundle tells them."""

from __future__ import annotations

from collections.abc import Iterator
from operator import is_

from rushweed.core.bale.ground_edges import Grounds
from rushweed.core.bale.manifest import OutlineEntry, RingEntry
from rushweed.core.bale.measure import Measure
from rushweed.core.bale.nesting import Nested, nested
from rushweed.core.bound.convex import convex_parts
from rushweed.core.gather.memory import Memory
from rushweed.core.project.level import Level
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.project.shape import WAYS, Polygon, Ring
from rushweed.core.project.sheet import Piece
from rushweed.core.weave.outlines import merged_outlines

Entries = tuple[OutlineEntry, ...]


def kept_outlines(
    memory: Memory, project: Project, level: Level, measure: Measure, convex: int
) -> Entries:
    """A level's outlines, found anew only when the level, its pieces or the ground rules are other
    objects than the last time."""
    place = ("outlines", level.name, measure, convex)
    asked = (level, project.rules, *_pieces(project, level))
    last: tuple[tuple[object, ...], Entries] | None = memory.find(place)
    if last is not None and len(last[0]) == len(asked) and all(map(is_, last[0], asked)):
        return last[1]
    entries = tuple(outline_entries(project, level, measure, convex))
    memory.keep(place, (asked, entries))
    return entries


def outline_entries(
    project: Project, level: Level, measure: Measure, convex: int
) -> Iterator[OutlineEntry]:
    """What stops walkers in a level, by how it stops them and by collision layer."""
    pieces = _pieces(project, level)
    shapes = {(shape.stops, shape.layer) for piece in pieces for shape in piece.shapes or ()}
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


def _pieces(project: Project, level: Level) -> list[Piece]:
    """The pieces that a level's cells show, by their numbers."""
    shown = in_levels(project)
    used = sorted({number for layer in level.layers for number in layer.cells.used()})
    return [found[1] for number in used if (found := shown.find(number))]


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
