"""The merged outlines of a level as a bundle tells them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from operator import is_

from rushweed.core.bale.ground_edges import Grounds
from rushweed.core.bale.manifest import OutlineEntry, RingEntry
from rushweed.core.bale.measure import Measure
from rushweed.core.bale.nesting import Nested, nested
from rushweed.core.bound.convex import convex_parts
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import WAYS, Polygon, Ring
from rushweed.core.project.sheet import Piece
from rushweed.core.weave.outlines import merged_outlines

Entries = tuple[OutlineEntry, ...]


KEPT = 64
"""The outlines of so many levels are kept."""
_last: OrderedDict[tuple[str, Measure, int], tuple[tuple[object, ...], Entries]] = OrderedDict()


def outline_entries(project: Project, level: Level, measure: Measure, convex: int) -> Entries:
    """What stops walkers in a level, by how it stops them and by collision layer. Kept as long as
    the level, its pieces and the ground rules are the same objects."""
    used = sorted({number for layer in level.layers for number in layer.cells.used()})
    pieces = [found[1] for number in used if (found := project.find(number))]
    told, key = (level, project.rules, *pieces), (level.name, measure, convex)
    known = _last.get(key)
    if known is not None and len(known[0]) == len(told) and all(map(is_, known[0], told)):
        return known[1]
    entries = tuple(_entries(project, level, pieces, measure, convex))
    _last[key] = (told, entries)
    _last.move_to_end(key)
    if len(_last) > KEPT:
        _last.popitem(last=False)
    return entries


def _entries(
    project: Project, level: Level, pieces: Sequence[Piece], measure: Measure, convex: int
) -> Iterator[OutlineEntry]:
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
