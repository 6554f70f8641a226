"""Between which layers the walker stands: one rule for all pictures with somebody in them.

Seen from the side, the walker stands right before the frontmost layer that is seen and on which
anything stops somebody; what lies on layers farther to the front is drawn over it. From above it
stands among what is on the layers, by its feet.

      back                                                     front
      Sky   Far reeds   Ground (solid)   walker   Reeds, leaves, rain
"""

from __future__ import annotations

from rushweed.core.newest import for_newest
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet


def front_of_walker(project: Project, level: Level) -> int:
    """The first layer that is drawn over the walker, counted from the back; as many as there are
    layers where none is."""
    if level.view != "side":
        return len(level.layers)
    stopping = _stopping(project.sheets)
    stops = (index for index, layer in enumerate(level.layers) if _stops(layer, stopping))
    return max(stops, default=len(level.layers) - 1) + 1


def _stops(layer: Layer, stopping: frozenset[int]) -> bool:
    """Whether anything on a layer stops somebody who walks there."""
    used = layer.cells.used()
    props = (prop.piece for prop in layer.props)
    return layer.stops and not (used.isdisjoint(stopping) and stopping.isdisjoint(props))


@for_newest
def _stopping(sheets: tuple[Sheet, ...]) -> frozenset[int]:
    """The pieces that stop somebody, be it from one side alone."""
    return frozenset(
        piece.number
        for sheet in sheets
        for piece in sheet.pieces
        if any(shape.stops != "sensor" for shape in piece.shapes or ())
    )
