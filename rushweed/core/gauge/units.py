"""The one place where pixels become units, and numbers become words about size."""

from __future__ import annotations

from rushweed.core.project.project import Project
from rushweed.core.values import Point
from rushweed.core.words import say


def to_units(point: Point, pixels_per_unit: int, y_up: bool) -> Point:
    """A place in pixels, y down, as a place in units.

    >>> to_units(Point(24, 8), 16, y_up=True)
    Point(x=1.5, y=-0.5)
    """
    return Point(point.x / pixels_per_unit, (-point.y if y_up else point.y) / pixels_per_unit)


def figure(value: float, places: int = 2) -> str:
    """A number for people: as many decimals as it needs, at most `places`.

    >>> figure(1.875), figure(2.0)
    ('1.88', '2')
    """
    return f"{round(value, places):g}"


def size_sentence(project: Project, pixels_per_unit: int) -> str:
    """What a choice of pixels per unit does, in words."""
    tile = project.rules.tile
    return say(
        "A {width} px tile is {units} wide. One pixel is 1/{pixels_per_unit} unit.",
        width=tile.width,
        units=units(tile.width / pixels_per_unit),
        pixels_per_unit=pixels_per_unit,
    )


def units(value: float) -> str:
    """A length with its unit, such as “1 unit” or “1.88 units”."""
    shown = figure(value)
    return say("{shown} unit", shown=shown) if shown == "1" else say("{shown} units", shown=shown)
