"""Props made to fit: into the gap that they stand in, and edge to edge in a row."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from rushweed.core.orientation import SWAPPED
from rushweed.core.project.level import Level, Prop, bounds
from rushweed.core.project.own_size import LONGEST, in_levels
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.posing import MOST_PIXELS, drawn_size, prop_area
from rushweed.core.weave.props import Places, add_props, change_props
from rushweed.core.weave.purposes import purpose_of

MOST_IN_A_ROW = 2000
LEAST, MOST = 1 / 64, 64


def pose_props(
    project: Project, level: str, layer: int, places: Places, **changes: object
) -> Project:
    """Set how props stand: `across`, `down`, `angle`, `tint` or `opacity`. Raises Refusal for one
    that would be too large to be drawn."""

    return checked_props(
        project,
        level,
        layer,
        places,
        lambda prop: replace(prop, **changes),  # type: ignore[arg-type]
    )


def checked_props(
    project: Project, level: str, layer: int, places: Places, edit: Callable[[Prop], Prop]
) -> Project:
    """Make an edit of how props stand. Raises Refusal for one that would be too large to be
    drawn."""
    return change_props(project, level, layer, places, lambda p: _checked(project, edit(p)))


def fill_gap(project: Project, level: str, layer: int, place: int) -> Project:
    """Draw a prop as wide and as high as the gap between other props of its layer, the layer's
    cells, and what is solid, that its middle lies in. Raises Refusal where it cannot be."""
    held = project.level(level)
    prop = held.layers[layer].props[place]
    found = in_levels(project).find(prop.piece)
    if found is None:
        raise Refusal("The prop's piece is gone. Bring it back before you fit it.")
    if prop.angle % 90:
        raise Refusal("A prop that is turned by degrees fills no gap. Turn it back first.")
    gap = gap_around(project, held, layer, place)
    wanted = (gap.width, gap.height)
    if bool(prop.orientation & SWAPPED) != bool(prop.angle % 180):
        wanted = (gap.height, gap.width)
    size = found[1].rect.size
    across, down = wanted[0] / size.width, wanted[1] / size.height
    if min(across, down) < LEAST or max(across, down) > MOST:
        raise Refusal(
            "A gap of {width} × {height} px is too far from the prop's size. Move the "
            "prop to another one, or take another piece.",
            width=gap.width,
            height=gap.height,
        )
    fitted = _checked(project, replace(prop, across=across, down=down))
    stands = prop_area(project, replace(fitted, x=0, y=0))
    moved = replace(fitted, x=gap.x - stands.x, y=gap.y - stands.y)
    return change_props(project, level, layer, {place}, lambda _: moved)


def gap_around(project: Project, level: Level, layer: int, place: int) -> Rect:
    """The free rectangle about the middle of a prop, in pixels: first as wide as there is room,
    then as high. Where nothing is on a side, it ends with the prop. Raises Refusal where something
    covers the middle."""
    area = prop_area(project, level.layers[layer].props[place])
    middle = area.x + area.width // 2, area.y + area.height // 2
    around = list(_obstacles(project, level, layer, place))
    if any(other.contains(*middle) for other in around):
        raise Refusal("Something covers the middle of the prop. Move it into a gap first.")
    row = [o for o in around if o.y <= middle[1] < o.bottom]
    left = max((o.right for o in row if o.right <= middle[0]), default=area.x)
    right = min((o.x for o in row if o.x > middle[0]), default=area.right)
    column = [o for o in around if o.x < right and o.right > left]
    top = max((o.bottom for o in column if o.bottom <= middle[1]), default=area.y)
    bottom = min((o.y for o in column if o.y > middle[1]), default=area.bottom)
    return Rect(left, top, right - left, bottom - top)


def line_up_props(project: Project, level: str, layer: int, place: int, reach: Rect) -> Project:
    """Put copies of a prop edge to edge to its left and right until a part of the level, in pixels,
    is covered across. Raises Refusal for too many."""
    prop = project.level(level).layers[layer].props[place]
    area = prop_area(project, prop)
    before, after = -(-max(0, area.x - reach.x) // area.width), 0
    after = -(-max(0, reach.right - area.right) // area.width)
    if before + after > MOST_IN_A_ROW:
        raise Refusal(
            "At most {most_in_a_row} props are laid in a row. Lay a shorter one.",
            most_in_a_row=MOST_IN_A_ROW,
        )
    steps = [step for step in range(-before, after + 1) if step]
    if not steps:
        raise Refusal("The prop reaches all across already. Select a wider part for the row.")
    copies = [replace(prop, x=prop.x + step * area.width, name="") for step in steps]
    return add_props(project, level, layer, copies)


def uneven(project: Project, prop: Prop) -> bool:
    """Whether pixels of the prop's piece differ in size as it is drawn, or lie off the grid. What
    is between borders may be of any size."""
    found = in_levels(project).find(prop.piece)
    if found is None:
        return False
    if prop.angle % 90:
        return True
    size = found[1].rect.size
    drawn = drawn_size(size, prop)
    if found[1].borders is not None:
        return False
    return bool(drawn.width % size.width or drawn.height % size.height)


def evened(prop: Prop) -> Prop:
    """A prop at the nearest whole factors, turned by the nearest quarter."""
    across, down = (float(max(1, round(factor))) for factor in (prop.across, prop.down))
    angle = round(prop.angle / 90) * 90 % 360
    return replace(prop, across=across, down=down, angle=angle)


def _checked(project: Project, prop: Prop) -> Prop:
    """The prop, if it can be drawn."""
    found = in_levels(project).find(prop.piece)
    if found is not None:
        width, height = found[1].rect.size
        if max(width * prop.across, height * prop.down) > LONGEST:
            raise Refusal(
                "A prop is at most {longest_prop} px wide and high. Type a smaller factor.",
                longest_prop=LONGEST,
            )
        if prop_area(project, prop).area > MOST_PIXELS:
            raise Refusal(
                "A prop covers at most {number} million pixels. Type a smaller factor, or "
                "turn it back.",
                number=MOST_PIXELS // 1000000,
            )
    return prop


def _obstacles(project: Project, level: Level, layer: int, place: int) -> Iterator[Rect]:
    """The other props of the layer; its cells, and the solid ones of others, row by row."""
    width, height = project.rules.tile
    for number, prop in enumerate(level.layers[layer].props):
        if number != place:
            yield prop_area(project, prop)
    area = bounds(level)
    taken = np.zeros((area.height, area.width), bool)
    for index, other in enumerate(level.layers):
        if index != layer and not (other.visible and other.parallax == 1):
            continue
        numbers, _ = other.cells.window(area)
        used = other.cells.used()
        solid = [n for n in used if index == layer or purpose_of(project, n) != "decoration"]
        taken |= np.isin(numbers, solid)
    for row, line in enumerate(taken):
        edges = np.flatnonzero(np.diff(np.r_[False, line, False].astype(np.int8)))
        for start, end in edges.reshape(-1, 2).tolist():
            corner = (area.x + start) * width, (area.y + row) * height
            yield Rect(*corner, (end - start) * width, height)
