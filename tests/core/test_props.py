"""Laws of the numbers that props are placed, moved, snapped and scattered by."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.orientation import FLIPPED
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.props import (
    duplicate_props,
    flip_props,
    move_props,
    out_of_step,
    paste_props,
    prop_at,
    props_within,
    scatter,
    snapped_to_edges,
)

PIECE = Piece(1, Rect(0, 0, 7, 5), Point(2, 5))
places = st.tuples(st.integers(-40, 40), st.integers(-40, 40))
stands = st.lists(places, min_size=1, max_size=6)
ways = st.integers(-9, 9)


def bench_of(props: list[tuple[int, int]]) -> Project:
    sheet = Sheet("stone", (Source("art/s.png", "0" * 64, Size(7, 5)),), pieces=(PIECE,))
    layer = Layer("Things", props=tuple(Prop(1, x, y) for x, y in props))
    return Project(sheets=(sheet,), levels=(Level("Moor", (layer,)),), next_number=2)


def told(project: Project) -> list[tuple[float, float]]:
    return [(prop.x, prop.y) for prop in project.levels[0].layers[0].props]


@given(stands, ways, ways, st.data())
def test_what_is_moved_doubled_or_pasted_lies_so_far_away_and_nothing_else_moves(
    props: list[tuple[int, int]], across: int, down: int, data: st.DataObject
) -> None:
    project = bench_of(props)
    chosen = data.draw(st.sets(st.sampled_from(range(len(props)))))
    away = [(x + across, y + down) for x, y in props]
    moved = told(move_props(project, "Moor", 0, chosen, across, down))
    assert moved == [away[n] if n in chosen else props[n] for n in range(len(props))]
    doubled = told(duplicate_props(project, "Moor", 0, chosen, across, down))
    assert doubled == [*props, *(away[n] for n in sorted(chosen))]
    copies = [Prop(1, x, y) for x, y in props]
    at = Point(props[0][0] + across, props[0][1] + down)
    assert told(paste_props(project, "Moor", 0, copies, at))[len(props) :] == away


@given(stands, places)
def test_the_foremost_prop_is_met_where_it_is_drawn_and_a_box_holds_what_lies_within(
    props: list[tuple[int, int]], place: tuple[int, int]
) -> None:
    project = bench_of(props)
    layer = project.levels[0].layers[0]
    x, y = place
    drawn = [(left - 2, top - 5, left + 5, top) for left, top in props]
    met = [n for n, box in enumerate(drawn) if box[0] <= x < box[2] and box[1] <= y < box[3]]
    assert prop_at(project, layer, Point(x + 0.5, y + 0.5)) == (met[-1] if met else None)
    box = Rect(x, y, 16, 12)
    inside = {
        n
        for n, (left, top, right, bottom) in enumerate(drawn)
        if x <= left and y <= top and right <= x + 16 and bottom <= y + 12
    }
    assert props_within(project, layer, box) == inside


@given(places, stands, st.integers(0, 8), st.booleans())
def test_edges_snap_by_the_least_way_on_each_axis_by_itself(
    place: tuple[int, int], others: list[tuple[int, int]], reach: int, mirrored: bool
) -> None:
    project = bench_of(others)
    turn = FLIPPED if mirrored else 0
    prop, *rest = (Prop(1, x, y, turn) for x, y in (place, *others))
    snapped = snapped_to_edges(project, prop, rest, reach)
    area = prop_area(project, prop)
    for axis, moved in ((0, snapped.x - prop.x), (1, snapped.y - prop.y)):
        own = (area[axis], area[axis] + area[axis + 2])
        there = [
            edge
            for other in rest
            for edge in (
                prop_area(project, other)[axis],
                prop_area(project, other)[axis] + prop_area(project, other)[axis + 2],
            )
        ]
        ways = [edge - side for edge in there for side in own]
        near = [way for way in ways if abs(way) <= reach]
        assert moved in (near or [0]) and abs(moved) == min(map(abs, near), default=0)


@given(st.integers(-50, 50), st.integers(-50, 50), st.integers(0, 30), st.integers(0, 999))
def test_scattered_props_lie_within_no_nearer_than_was_said_and_half_are_mirrored(
    x: int, y: int, apart: int, seed: int
) -> None:
    area = Rect(x, y, 240, 160)
    found = scatter(area, {3, 8}, 120, apart, seed)
    assert all(area.contains(int(prop.x), int(prop.y)) for prop in found)
    assert all(
        (a.x - b.x) ** 2 + (a.y - b.y) ** 2 >= apart**2
        for n, a in enumerate(found)
        for b in found[:n]
    )
    assert [(prop.y, prop.x) for prop in found] == sorted((prop.y, prop.x) for prop in found)
    if apart <= 8:
        assert len(found) == 120, "there is room for all"
        left = sum(prop.x < x + 120 for prop in found)
        above = sum(prop.y < y + 80 for prop in found)
        mirrored = sum(prop.orientation == FLIPPED for prop in found)
        eights = sum(prop.piece == 8 for prop in found)
        assert all(30 <= count <= 90 for count in (left, above, mirrored, eights))
    if apart == 30:
        assert len(found) >= 22, "it looks long enough for room"


def test_a_mirrored_prop_is_turned_the_other_way_and_twice_is_as_before() -> None:
    project = bench_of([(4, 5)])
    (prop,) = project.levels[0].layers[0].props
    for down, bit in ((False, 1), (True, None)):
        turned = replace(prop, angle=30, orientation=2)
        layer = Layer("Things", props=(turned,))
        bench = replace(project, levels=(Level("Moor", (layer,)),))
        once = flip_props(bench, "Moor", 0, {0}, down)
        (flipped,) = once.levels[0].layers[0].props
        assert flipped.angle == -30 and flipped.orientation != 2
        assert bit is None or flipped.orientation == 2 ^ bit
        assert flip_props(once, "Moor", 0, {0}, down) == bench
    assert out_of_step(project, [prop], 3) == [prop], "what has no animation stays"
