"""What one can stand on in a level seen from the side, and where that is level and free."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from rushweed.core.project.body import Path
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.solids import body_of, is_solid, prop_slabs, stopping
from rushweed.core.walk.world import World
from rushweed.core.weave.levels import bounds

Cell = tuple[int, int]


def floors(ground: World, at: float = 0.5) -> Iterator[tuple[Cell, float, float]]:
    """Every upper side of something solid, at a part of the width of each cell, with air above it:
    the cell that feet on it are in, their height, and the room above."""
    tile = ground.project.rules.tile
    area = bounds(ground.level)
    thin = Mover(ground.solids, 0.5, 0.5)
    for column, row in _shaped_cells(ground):
        x, upper = column * tile.width + tile.width * at, row * tile.height
        top = min(
            (
                slab.top_at(x)
                for slab in ground.solids.near(x - 0.5, upper, x + 0.5, upper)
                if slab.left <= x <= slab.right and upper <= slab.top_at(x) < upper + tile.height
            ),
            default=None,
        )
        if top is None or not area.area or thin.covered(x, top - 0.25):
            continue
        y, _, _ = thin.down(x, top - 0.25, -(ground.height + tile.height))
        room = top - y + 0.5
        if room > 1:
            yield (column, int((top - 1e-6) // tile.height)), top, room


def level_cells(ground: World, standing: Mapping[Cell, float]) -> frozenset[Cell]:
    """Of the cells that one can stand in, with the height of the feet, those all across which the
    floor is level and nothing is in the way, so that one walks through as a matter of course."""
    bodies = [_way_of(ground, number) for number in range(len(ground.moving.bodies))]
    return frozenset(
        cell for cell, y in standing.items() if _is_level_and_free(ground, cell[0], y, bodies)
    )


Box = tuple[float, float, float, float]
"""Left, top, right and bottom."""


def _is_level_and_free(ground: World, column: int, y: float, bodies: list[Box]) -> bool:
    width = ground.project.rules.tile.width
    left, right = column * width, (column + 1) * width
    first, last, head = left - ground.half, right + ground.half, y - ground.height
    if any(box[0] < last and box[2] > first and box[1] <= y and box[3] >= head for box in bodies):
        return False
    spans = []
    for slab in ground.solids.near(first, head, last, y):
        if slab.left >= last or slab.right <= first:
            continue
        top, bottom = slab.top_between(first, last), slab.bottom_between(first, last)
        if slab.stops == "all sides" and top < y and bottom > head:
            return False
        if top == y and slab.top_left == slab.top_right and slab.carries:
            spans.append((slab.left, slab.right))
    reached = float(left)
    for start, end in sorted(spans):
        if start > reached:
            break
        reached = max(reached, end)
    return reached >= right


def _way_of(ground: World, number: int) -> Box:
    """All that a body may cover while it moves, with a little around."""
    body, tile = ground.moving.bodies[number], ground.project.rules.tile
    if body.box is None:
        return (0.0, 0.0, 0.0, 0.0)
    points = [(0.0, 0.0), *((body.path or Path(())).points)]
    xs, ys = zip(*points, strict=True)
    left, top, right, bottom = body.box
    aside = 8 * tile.width if body.kind == "pushed" else tile.width
    below = 8 * tile.height if body.kind in ("pushed", "falls") else tile.height
    return (
        body.start.x + left + min(xs) - aside,
        body.start.y + top + min(ys) - tile.height,
        body.start.x + right + max(xs) + aside,
        body.start.y + bottom + max(ys) + below,
    )


def _shaped_cells(ground: World) -> list[Cell]:
    """All cells with something solid in them, of tiles or of props that stay."""
    found: dict[Cell, None] = {}
    width, height = ground.project.rules.tile
    shaped = {
        piece.number
        for _, piece in ground.project.pieces()
        if any(s.stops != "sensor" for s in stopping(ground.project, piece.shapes or ()))
    }
    for layer in filter(is_solid, ground.level.layers):
        found.update(dict.fromkeys(layer.cells.places_of(shaped)))
        for prop in layer.props:
            if prop.piece in shaped and body_of(ground.project, prop) == "fixed":
                for slab in prop_slabs(ground.project, prop):
                    row = int(min(slab.top_left, slab.top_right) // height)
                    columns = range(int(slab.left // width), int(slab.right // width) + 1)
                    found.update(dict.fromkeys((column, row) for column in columns))
    return sorted(found)
