"""How the game's view follows a walker."""

from __future__ import annotations

from rushweed.core.project.feel import Following
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.drawing import view_around


def first_seen(project: Project, level: Level) -> Rect:
    """What the game shows of a level while the walker stands at its start, in pixels."""
    size, following = project.rules.resolution, project.walker.following
    start = level.start or Point(0, 0)
    about = seen_place(start, start, size, following, area_of(level, project.rules.tile))
    return view_around(about, size)


def seen_place(
    seen: Point, feet: Point, resolution: Size, following: Following, area: Rect
) -> Point:
    """The place that the view is about once the feet are elsewhere: as near to the one it was
    about, `seen`, as the part of the view allows in which they are free, and, where it stays in the
    level, no nearer to the rim of its `area` than half a view."""
    aside = following.free_across * resolution.width / 2
    above = following.free_down * resolution.height / 2
    x = min(max(seen.x, feet.x - aside), feet.x + aside)
    y = min(max(seen.y, feet.y - above), feet.y + above)
    if not following.stays:
        return Point(x, y)
    over = resolution.height * 5 // 8
    left, right = area.x + resolution.width // 2, area.right - (-(-resolution.width // 2))
    top, bottom = area.y + over, area.bottom - (resolution.height - over)
    return Point(_between(x, left, right), _between(y, top, bottom))


def area_of(level: Level, tile: Size) -> Rect:
    """The pixels that a level's cells and props cover."""
    cells = bounds(level)
    return Rect(
        cells.x * tile.width,
        cells.y * tile.height,
        cells.width * tile.width,
        cells.height * tile.height,
    )


def _between(value: float, low: float, high: float) -> float:
    """The value within bounds; their middle where they leave no room."""
    return min(max(value, low), high) if low <= high else (low + high) / 2
