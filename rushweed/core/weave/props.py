"""Props: placed, snapped, moved, turned, ordered, named, and scattered at random."""

from __future__ import annotations

import random
from collections.abc import Callable, Collection, Iterable
from dataclasses import replace

from rushweed.core.cut.animations import begun_by, find_animation, one_round
from rushweed.core.orientation import FLIPPED, FLIPPED_DOWN, quarter
from rushweed.core.project.level import Layer, Level, Mark, Prop
from rushweed.core.project.project import Project, with_level
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.weave.levels import with_layer
from rushweed.core.weave.posing import prop_area

MOST_SCATTERED = 20_000
TRIES = 30
"""So often a place is looked for before a prop is left out (R. Bridson, Fast Poisson disk sampling
in arbitrary dimensions, SIGGRAPH 2007, takes as many)."""

Places = Collection[int]
"""Places of props in their layer's order."""
EditProps = Callable[[tuple[Prop, ...]], tuple[Prop, ...]]


def add_props(project: Project, level: str, layer: int, props: Iterable[Prop]) -> Project:
    """Put props in front of those that a layer has. Raises Refusal when the layer is locked."""
    new = tuple(props)
    return _with_props(project, level, layer, lambda old: (*old, *new))


def paste_props(
    project: Project, level: str, layer: int, props: Iterable[Prop], at: Point
) -> Project:
    """Put copies of props in front, so that the first one stands `at` a place and the others where
    they stand from it. Those of pieces that are gone stay away."""
    kept = [prop for prop in props if project.find(prop.piece) is not None]
    moved = [
        replace(prop, x=prop.x - kept[0].x + at.x, y=prop.y - kept[0].y + at.y) for prop in kept
    ]
    return add_props(project, level, layer, moved)


def props_within(project: Project, layer: Layer, area: Rect) -> frozenset[int]:
    """The places of the props that lie in an area of the level, in pixels, wholly, or with all that
    is in their groups."""
    inside = {
        place
        for place, prop in enumerate(layer.props)
        if (drawn := prop_area(project, prop)).intersection(area) == drawn
    }
    return with_groups(layer, inside)


def animations_of(project: Project, props: Iterable[Prop]) -> tuple[str, ...]:
    """The names of the animations that all of some props can play: those of their one sheet."""
    sheets = {found[0].name: found[0] for p in props if (found := project.find(p.piece))}
    if len(sheets) != 1:
        return ()
    return tuple(animation.name for animation in next(iter(sheets.values())).animations)


def play_props(project: Project, level: str, layer: int, places: Places, animation: str) -> Project:
    """Have props play an animation of their sheet, from its first frame, or for an empty name
    nothing. One whose sheet has no such animation stays as it is."""

    def edit(prop: Prop) -> Prop:
        found = project.find(prop.piece)
        known = find_animation(found[0], animation) if found else None
        if known is None:
            return prop if animation else replace(prop, animation="")
        piece = prop.piece if prop.piece in known.frames else known.frames[0]
        return replace(prop, animation=animation, piece=piece)

    return change_props(project, level, layer, places, edit)


def remove_props(project: Project, level: str, layer: int, places: Places) -> Project:
    """Take props away."""
    return _with_props(
        project, level, layer, lambda old: tuple(p for i, p in enumerate(old) if i not in places)
    )


def move_props(
    project: Project, level: str, layer: int, places: Places, across: float, down: float
) -> Project:
    """Move props by so many pixels."""

    def edit(prop: Prop) -> Prop:
        return replace(prop, x=prop.x + across, y=prop.y + down)

    return change_props(project, level, layer, places, edit)


def duplicate_props(
    project: Project, level: str, layer: int, places: Places, across: float, down: float
) -> Project:
    """Put copies of props in front, so many pixels away."""
    old = project.level(level).layers[layer].props
    copies = [
        replace(prop, x=prop.x + across, y=prop.y + down)
        for place, prop in enumerate(old)
        if place in places
    ]
    return add_props(project, level, layer, copies)


def turn_props(project: Project, level: str, layer: int, places: Places) -> Project:
    """Turn props by a quarter about their pivots, clockwise."""
    return change_props(
        project, level, layer, places, lambda p: replace(p, orientation=quarter(p.orientation))
    )


def flip_props(
    project: Project, level: str, layer: int, places: Places, down: bool = False
) -> Project:
    """Mirror props about their pivots."""
    flip = FLIPPED_DOWN if down else FLIPPED

    def edit(prop: Prop) -> Prop:
        return replace(prop, orientation=prop.orientation ^ flip, angle=-prop.angle)

    return change_props(project, level, layer, places, edit)


def order_props(
    project: Project, level: str, layer: int, places: Places, to_front: bool
) -> Project:
    """Bring props before all others of their layer, or behind them."""

    def edit(old: tuple[Prop, ...]) -> tuple[Prop, ...]:
        chosen = tuple(prop for i, prop in enumerate(old) if i in places)
        others = tuple(prop for i, prop in enumerate(old) if i not in places)
        return (*others, *chosen) if to_front else (*chosen, *others)

    return _with_props(project, level, layer, edit)


def change_props(
    project: Project, level: str, layer: int, places: Places, edit: Callable[[Prop], Prop]
) -> Project:
    """Make an edit of single props on some of a layer."""
    return _with_props(
        project,
        level,
        layer,
        lambda old: tuple(edit(p) if i in places else p for i, p in enumerate(old)),
    )


def with_groups(layer: Layer, places: Places) -> frozenset[int]:
    """Places of props with those of all that share a group with one of them."""
    groups = {layer.props[place].group for place in places} - {""}
    more = {place for place, prop in enumerate(layer.props) if prop.group in groups}
    return frozenset(places) | more


def prop_at(project: Project, layer: Layer, place: Point) -> int | None:
    """The foremost prop of a layer at a place of the level, None for none."""
    for index in reversed(range(len(layer.props))):
        if prop_area(project, layer.props[index]).contains(int(place.x // 1), int(place.y // 1)):
            return index
    return None


def snapped_to_edges(project: Project, prop: Prop, others: Iterable[Prop], reach: float) -> Prop:
    """A prop moved so that its edges meet those of others that lie within reach."""
    area = prop_area(project, prop)
    across: list[float] = []
    down: list[float] = []
    for other in others:
        there = prop_area(project, other)
        across += [a - b for a in (there.x, there.right) for b in (area.x, area.right)]
        down += [a - b for a in (there.y, there.bottom) for b in (area.y, area.bottom)]
    dx = min((by for by in across if abs(by) <= reach), key=abs, default=0)
    dy = min((by for by in down if abs(by) <= reach), key=abs, default=0)
    return replace(prop, x=prop.x + dx, y=prop.y + dy)


def out_of_step(project: Project, props: Iterable[Prop], seed: int) -> list[Prop]:
    """Props that each play the animation that their piece begins, with a phase of its own within
    one round; the same for the same seed. Others stay as they are."""
    draw = random.Random(seed)

    def playing(prop: Prop) -> Prop:
        found = project.find(prop.piece)
        animation = begun_by(found[0], prop.piece) if found else None
        if animation is None:
            return prop
        ahead = draw.random() * len(one_round(animation)) / animation.rate
        return replace(prop, animation=animation.name, phase=round(ahead, 2))

    return list(map(playing, props))


def scatter(area: Rect, pieces: Collection[int], count: int, apart: float, seed: int) -> list[Prop]:
    """Up to `count` props of some pieces at random places of an area, in pixels, none nearer than
    `apart` to another; the same for the same seed. Raises Refusal for absurd numbers."""
    if not pieces:
        raise Refusal("Select the pieces to scatter first.")
    if count > MOST_SCATTERED:
        raise Refusal(
            "At most {most_scattered} props are scattered at once. Ask for fewer.",
            most_scattered=MOST_SCATTERED,
        )
    draw = random.Random(seed)
    kinds = sorted(pieces)
    side = max(apart, 1.0)
    grid: dict[tuple[int, int], list[Point]] = {}
    found: list[Prop] = []
    for _ in range(count):
        for _ in range(TRIES):
            place = Point(
                area.x + int(draw.random() * area.width), area.y + int(draw.random() * area.height)
            )
            cell = int(place.x // side), int(place.y // side)
            near = [
                other
                for dx in (-1, 0, 1)
                for dy in (-1, 0, 1)
                for other in grid.get((cell[0] + dx, cell[1] + dy), ())
            ]
            if all((o.x - place.x) ** 2 + (o.y - place.y) ** 2 >= apart * apart for o in near):
                grid.setdefault(cell, []).append(place)
                turn = FLIPPED if draw.random() < 0.5 else 0
                found.append(Prop(draw.choice(kinds), place.x, place.y, turn))
                break
    return sorted(found, key=lambda prop: (prop.y, prop.x))


def _with_props(project: Project, level: str, layer: int, edit: EditProps) -> Project:
    held = project.level(level).layers[layer]
    if held.locked:
        raise Refusal(
            "The layer “{name}” is locked. Unlock it to change its props.", name=held.name
        )
    return with_layer(project, level, layer, lambda old: replace(old, props=edit(old.props)))


def add_mark(project: Project, level: str, mark: Mark) -> Project:
    """Put a named place into a level, or move the one of that name."""

    def edit(old: Level) -> Level:
        others = tuple(one for one in old.marks if one.name != mark.name)
        return replace(old, marks=(*others, mark))

    return with_level(project, level, edit)


def remove_mark(project: Project, level: str, name: str) -> Project:
    """A level without one of its named places."""
    return with_level(
        project,
        level,
        lambda old: replace(old, marks=tuple(mark for mark in old.marks if mark.name != name)),
    )
