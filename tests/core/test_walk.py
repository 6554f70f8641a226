"""The walker: it lands on what is painted, is stopped by it, and never ends inside it."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import product
from typing import Any
from unittest.mock import patch

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.bound.shaping import full_box, polygon
from rushweed.core.bound.slabs import Slab, slabs
from rushweed.core.findings.walk import send_probes, walking_troubles
from rushweed.core.gather.art import Art
from rushweed.core.project.body import Body, Path
from rushweed.core.project.cells import Cells
from rushweed.core.project.facts import SIDES, Facts, Side
from rushweed.core.project.feel import Feel, Following
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Differences, Walker
from rushweed.core.project.shape import Box, Form, Shape
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.project.turning import turned_side
from rushweed.core.values import Point, Rect, Refusal, Size
from rushweed.core.walk.acting import reached
from rushweed.core.walk.flight import flights
from rushweed.core.walk.following import seen_place
from rushweed.core.walk.gliding import glide
from rushweed.core.walk.manners import MANNERS, manner_of, take_manner
from rushweed.core.walk.motion import Keys, Motion
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.probing import probe, probing
from rushweed.core.walk.rafts import Raft, beside
from rushweed.core.walk.replay import (
    clears,
    gravity_for,
    read_walk,
    replay,
    time_to_top,
    write_walk,
)
from rushweed.core.walk.solids import Solids
from rushweed.core.walk.striding import stride
from rushweed.core.walk.troubles import troubles
from rushweed.core.walk.underfoot import ground_at, wade_at
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import view_around
from tests.conftest import DEMO
from tests.samples import reached_cells

BLOCK, UP, DOWN, ONE_WAY, LIP, SENSOR, LOW, AIR = 1, 2, 3, 4, 5, 6, 7, 0
SHAPES = {
    BLOCK: Shape(full_box(Size(16, 16))),
    UP: Shape(polygon([Point(0, 16), Point(16, 0), Point(16, 16)])),
    DOWN: Shape(polygon([Point(0, 0), Point(16, 16), Point(0, 16)])),
    ONE_WAY: Shape(Box(0, 0, 16, 5), "one-way"),
    LIP: Shape(Box(0, -1, 16, 17)),
    SENSOR: Shape(full_box(Size(16, 16)), "sensor"),
    LOW: Shape(Box(0, 0, 16, 17)),
}
LETTERS = {"#": BLOCK, "/": UP, "\\": DOWN, "=": ONE_WAY, "n": LIP, "s": SENSOR, "v": LOW}
RIGHT, LEFT, JUMP = Keys(right=True), Keys(left=True), Keys(jump=True)


def ground(*rows: str, x: float = 24, y: float = 16, view: str = "side") -> Ground:
    """A level drawn in letters; the walker begins with its feet at (x, y)."""
    pieces = tuple(
        Piece(n, Rect(0, 0, 16, 16), Point(8, 16), shapes=(shape,)) for n, shape in SHAPES.items()
    )
    sheet = Sheet("tiles", (Source("art/x.png", "0" * 64, Size(16, 16)),), pieces=pieces)
    changes = {
        (column, row): (LETTERS[letter], 0)
        for row, letters in enumerate(rows)
        for column, letter in enumerate(letters)
        if letter in LETTERS
    }
    level = Level("Level", (Layer("Ground", Cells().painted(changes)),), Point(x, y), view)  # type: ignore[arg-type]
    return Ground(Project(sheets=(sheet,), levels=(level,)), "Level")


def walked(place: Ground, keys: Keys, steps: int, rest: int = 60) -> list[Motion]:
    """Fall and come to rest, then hold some keys."""
    return replay(place, [Keys()] * rest + [keys] * steps)[rest:]


@given(
    st.sampled_from(SIDES),
    st.integers(0, 7),
    st.sampled_from([Box(2, 3, 10, 9), polygon([Point(0, 16), Point(16, 0), Point(16, 16)])]),
)
def test_one_way_tiles_stop_what_comes_from_their_side_and_nothing_else(
    side: Side, turn: int, form: Form
) -> None:
    place = lone_tile(Shape(form, "one-way", side=side), turn)
    mover = Mover(place.solids, 2, 4)
    middle, far = Point(40, 42), 20.0
    for come, (across, down) in {
        "left": (far, 0.0), "right": (-far, 0.0), "above": (0.0, far), "below": (0.0, -far)
    }.items():  # fmt: skip
        x, y = middle.x - across, middle.y - down
        if across:
            x, _, stopper = mover.across(x, y, across, climbs=False)
            went_through = x == middle.x
        else:
            y, on, bumped = mover.down(x, y, down)
            stopper, went_through = on or bumped, y == middle.y
        assert (stopper is not None) == (come == turned_side(side, turn)) != went_through
        out = mover.across(*middle, across, climbs=True) if across else None
        assert out is None or out[2] is None, "whoever is in it may leave it"


def lone_tile(shape: Shape, turn: int) -> Ground:
    """A level with nothing but one tile, from (32, 32) to (48, 48)."""
    piece = Piece(1, Rect(0, 0, 16, 16), Point(8, 16), shapes=(shape,))
    sheet = Sheet("tiles", (Source("art/x.png", "0" * 64, Size(16, 16)),), pieces=(piece,))
    level = Level("Level", (Layer("Ground", Cells().painted({(2, 2): (1, turn)})),), Point(0, 0))
    return Ground(Project(sheets=(sheet,), levels=(level,)), "Level")


rows = st.lists(st.text("  #/\\=", min_size=9, max_size=9), min_size=4, max_size=7)
held = st.builds(Keys, *[st.booleans()] * 5)


@pytest.mark.slow
@given(
    rows,
    st.lists(st.tuples(held, st.integers(1, 30)), max_size=8),
    st.sampled_from(["side", "top-down"]),
)
@settings(max_examples=80)
def test_no_step_ends_inside_a_solid_and_the_same_keys_give_the_same_path(
    drawn: list[str], runs: list[tuple[Keys, int]], view: str
) -> None:
    place = ground("         ", "         ", *drawn, "#########", x=72, y=30, view=view)
    keys = [key for key, count in runs for _ in range(count)]
    path = replay(place, keys)
    assert path == replay(place, keys), "bit for bit"
    for motion in path:
        assert not place.covered(motion), motion
    for there in (place, felt(place, in_air=0.4, falls=9.0, jumps=1)):
        for motion, key in zip(path[:-1], keys, strict=True):
            many = glide(there, motion, key, 12), stride(there, motion, key, 12, 16.0)
            for far in many:
                one_by_one = motion
                while one_by_one.steps < far.steps:
                    one_by_one = there.step(one_by_one, key)
                assert far == one_by_one, "many steps at once are the same ones"


def scaled(side: int, unit: int, walker: Walker, floor: list[int]) -> Ground:
    """Columns of boxes of so many pixels, as high as `floor` says, in a game of some scale."""
    box = Shape(full_box(Size(side, side)))
    piece = Piece(1, Rect(0, 0, side, side), Point(side // 2, side), shapes=(box,))
    source, own = Source("art/x.png", "0" * 64, Size(side, side)), Differences(pixels_per_unit=unit)
    sheet = Sheet("tiles", (source,), pieces=(piece,), differences=own)
    cells = {(c, -r): (1, 0) for c, high in enumerate(floor) for r in range(high)}
    start = Point(side + side // 2, (1 - floor[1]) * side)
    level = Level("Level", (Layer("Ground", Cells().painted(cells)),), start)
    rules = replace(Project().rules, tile=Size(side, side), pixels_per_unit=unit)
    return Ground(Project(sheets=(sheet,), levels=(level,), rules=rules, walker=walker), "Level")


@settings(max_examples=15)
@given(
    st.sampled_from([(8, 8), (16, 16), (20, 25), (48, 16), (128, 100)]),
    st.floats(0.5, 6),
    st.floats(8, 200),
    st.floats(2, 12),
)
def test_what_a_jump_says_is_what_it_does(
    scale: tuple[int, int], jump: float, gravity: float, speed: float
) -> None:
    side, unit = scale
    body = Size(max(2, side // 2), side)
    walker = Walker(jump=jump, gravity=gravity, speed=speed, body=body)
    up, across = clears(walker, Size(side, side), unit)
    flat = scaled(side, unit, walker, [1] * 4)
    path = replay(flat, [Keys()] * 3 + [JUMP] * 200)
    highest = min(motion.y for motion in path)
    assert path[2].y - highest == pytest.approx(jump * unit, abs=0.5)
    assert path[-1].grounded and path[-1].y == path[2].y
    if up:
        step = scaled(side, unit, walker, [1, 1, *[1 + up] * 200])
        keys = [RIGHT] * 90 + [Keys(right=True, jump=True)] * 200
        assert min(m.y for m in replay(step, keys) if m.grounded) == (-up) * side
    if 0 < across < 60:
        gap = scaled(side, unit, walker, [*[1] * 4, *[0] * across, *[1] * 20])
        edge = 4 * side + body.width / 2
        taken, motion = [], gap.step(gap.begin(), Keys())
        for _ in range(300):
            last = motion.x + speed * unit / 60 >= edge - 1e-6
            motion = gap.step(motion, Keys(right=True, jump=last))
            taken.append(motion)
        landed = [m for m in taken if m.grounded and m.x > (4 + across) * side - body.width / 2]
        assert landed, "the gap is crossed"


# -- bodies, facts, probes ---------------------------------------------------------------


def with_body(
    kind: Any,
    *rows: str,
    x: float = 24,
    y: float = 16,
    at=(56, 48),
    path=None,
    view="side",
    piece: int = BLOCK,
):
    """A level with one block that moves, standing on the middle of its foot."""
    place = ground(*rows, x=x, y=y, view=view)
    body = Body(kind, path)
    level = place.level
    layer = replace(level.layers[0], props=(Prop(piece, *at, body=body),))
    project = replace(place.project, levels=(replace(level, layers=(layer,)),))
    return Ground(project, "Level")


FLOOR = ("", "", "", "############")


def test_bodies_are_pushed_fall_and_carry() -> None:
    pushed = with_body("pushed", *FLOOR)
    path = walked(pushed, RIGHT, 120)
    assert path[-1].bodies[0].x > 56 + 20 and path[-1].x + 5 <= path[-1].bodies[0].x - 8 + 1e-6
    falls = with_body("falls", *FLOOR, at=(100, 5))
    assert replay(falls, [Keys()] * 60)[-1].bodies[0].y == pytest.approx(48)
    way = Path((Point(64, 0),), 1.0)
    carries = with_body("travels", "", "", "", "###", "", "", "", at=(24, 32), x=24, y=16, path=way)
    path = replay(carries, [Keys()] * 90)
    rides = [m for m in path if m.body == 0]
    assert len(rides) > 60 and max(m.x for m in rides) > 80, "it is carried along"
    apart = [m.x - m.bodies[0].x for m in rides]
    assert max(apart) - min(apart) < 1e-6
    lift = with_body("travels", *FLOOR, at=(24, 48), x=24, y=32, path=Path((Point(0, -64),), 1.0))
    heights = [m.y for m in replay(lift, [Keys()] * 60)]
    assert min(heights) < -25
    for aside in (-14, -12, 12, 14):
        place = replace(lift.level, start=Point(24 + aside, 32))
        beside = Ground(replace(lift.project, levels=(place,)), "Level")
        heights = [m.y for m in replay(beside, [Keys()] * 60)]
        assert (min(heights) < -25) == (abs(aside) < 13), "with one foot, but not beside it"
    tilted = with_body("hinged", "", at=(24, 64), x=29, y=40)
    angles = {m.bodies[0].angle for m in replay(tilted, [Keys()] * 60)}
    assert max(angles) > 5, "it gives way on the side that is stood on"


def with_props(place: Ground, *props: Prop) -> Ground:
    """The same level with props on its only layer."""
    level = place.level
    layer = replace(level.layers[0], props=props)
    return Ground(replace(place.project, levels=(replace(level, layers=(layer,)),)), "Level")


@given(
    st.integers(20, 200),
    st.floats(0.2, 2.0),
    st.floats(-140, -10),
    st.lists(st.tuples(held, st.integers(1, 30)), max_size=5),
)
@settings(max_examples=60)
def test_a_one_way_platform_never_lets_a_walker_through(
    rise: int, seconds: float, from_height: float, runs: list[tuple[Keys, int]]
) -> None:
    """However fast it rises, and whatever one does who does not drop on purpose."""
    body = Body("travels", Path((Point(0, -rise),), seconds))
    raft = replace(Prop(ONE_WAY, 100, 64), across=20.0, body=body)
    place = with_props(ground(*[""] * 6, "#", x=100, y=64 - 16 - 1 + from_height), raft)
    keys = [replace(key, down=False) for key, count in runs for _ in range(count)]
    above = False
    for motion in replay(place, [Keys()] * 20 + keys + [Keys()] * 60):
        top = motion.bodies[0].y - 16
        assert not above or motion.y <= top + 1e-6 or abs(motion.x - 100) > 160
        above = motion.y <= top + 1e-6


@given(st.floats(20, 200), st.floats(0.5, 2))
@settings(max_examples=30)
def test_a_jump_from_a_raft_comes_down_on_it_again(reach: float, seconds: float) -> None:
    """What moves evenly may be jumped on as the ground is."""
    raft = Prop(ONE_WAY, 100, 64, body=Body("travels", Path((Point(reach, 0),), seconds)))
    place = with_props(ground(*[""] * 9, "#" * 60, x=100, y=48), raft)
    stands = replay(place, [Keys()] * 2)[-1]
    assert stands.body == 0
    there = 60 * seconds - stands.steps
    path = replay(place, [Keys()] * 2 + [JUMP] * 30 + [Keys()] * 40)
    lands = next((m for m in path[4:] if m.grounded), path[-1])
    if lands.steps - stands.steps < there - 2:
        assert lands.body == 0 and lands.x - lands.bodies[0].x == pytest.approx(
            stands.x - stands.bodies[0].x, abs=0.5 + reach / seconds / 60
        )


def test_one_acts_on_props_wherever_they_are_and_across_counters() -> None:
    raft = Prop(BLOCK, 120, 48, body=Body("travels", Path((Point(-60, 0),), 1.0)))
    named = Prop(SENSOR, 60, 32, name="lamp")
    nobody = Prop(0, 44, 32)
    place = with_props(ground("", "", "", "#" * 20, x=44, y=48), raft, named, nobody)
    path = replay(place, [Keys()] * 60)
    assert [reached(place, m).name for m in path[:2]] == ["lamp", "lamp"]
    away = with_props(ground("", "", "", "#" * 20, x=44, y=48), raft, nobody)
    found = [reached(away, motion) for motion in replay(away, [Keys()] * 60)]
    assert found[0] is None and found[-1] is not None and found[-1].is_meant
    assert found[-1].area.x < 80, "where it is by now"
    wall = ground("", "", "   #", "#" * 20, x=40, y=48)
    tile = reached(wall, wall.begin())
    assert tile is not None and tile.piece == BLOCK and not tile.is_meant


def test_crates_are_pushed_in_a_row_stacked_and_carried() -> None:
    crate = Body("pushed")
    row = [Prop(BLOCK, 56 + 17 * place, 48, body=crate) for place in range(3)]
    on_top = Prop(BLOCK, 58, 32, body=crate)
    place = with_props(ground("", "", "", "#" * 40, x=24, y=16), *row, on_top)
    end = walked(place, RIGHT, 200)[-1]
    xs = [state.x for state in end.bodies]
    assert xs[0] > 56 + 30 and xs[1] - xs[0] >= 16 - 1e-6 and xs[2] - xs[1] >= 16 - 1e-6
    assert xs[2] > 56 + 34 + 20, "the last of the row goes too"
    assert end.bodies[3].y == 32 and abs(xs[3] - xs[0]) <= 2 + 1e-6, "and what stands on it"
    walled = with_props(ground("", "", "       #", "#" * 40, x=24, y=16), *row)
    stuck = walked(walled, RIGHT, 200)[-1]
    assert stuck.bodies[2].x <= 104 + 1e-6 and stuck.blocked == BLOCK, "a wall stops all of them"
    raft = Prop(BLOCK, 72, 112, body=Body("travels", Path((Point(64, -32),), 1.0)))
    there = ground(*[""] * 9, "#" * 40, x=24, y=128)
    rides = with_props(there, raft, Prop(BLOCK, 72, 96, body=crate))
    for motion in replay(rides, [Keys()] * 50):
        under, rider = motion.bodies
        assert (rider.x, rider.y) == pytest.approx((under.x, under.y - 16), abs=0.6)


@pytest.mark.slow
@given(
    st.lists(st.text("  #/\\=", min_size=9, max_size=9), min_size=3, max_size=5),
    st.lists(st.tuples(held, st.integers(1, 25)), max_size=6),
    st.sampled_from(["pushed", "falls", "travels", "hinged"]),
    st.lists(st.builds(Point, st.integers(-60, 60), st.integers(-40, 40)), max_size=3),
    st.sampled_from(["side", "top-down"]),
    st.sampled_from([BLOCK, SENSOR]),
)
@settings(max_examples=100)
def test_no_step_ends_inside_a_solid_or_a_body(drawn, runs, kind, points, view, piece) -> None:
    place = with_body(
        kind,
        "         ",
        *drawn,
        "#########",
        x=72,
        y=8,
        at=(40, 16),
        path=Path(tuple(points), 0.7),
        view=view,
        piece=piece,
    )
    keys = [key for key, count in runs for _ in range(count)]
    path = replay(place, keys)
    with patch.object(Ground, "_might_meet", return_value=True):
        assert path == replay(place, keys), "the same again, with whatever is far looked at too"
    if place.covered(path[0]):
        return
    for motion in path:
        assert not place.covered(motion), motion


@given(
    st.tuples(*[st.integers(-8, 24)] * 2, *[st.integers(1, 24)] * 2),
    st.lists(st.tuples(*[st.integers(-8, 24)] * 2, *[st.integers(1, 24)] * 2), max_size=3),
)
def test_what_lies_under_a_raft_stops_nobody_and_all_else_does(lies, floats) -> None:
    x, y, width, height = lies
    parts = [Slab(x, x + width, y, y, y + height, y + height, "all sides", BLOCK)]
    floating = [
        Raft(n, x, y, x + width, y + height) for n, (x, y, width, height) in enumerate(floats)
    ]
    for raft in floating:
        parts = [part for slab in parts for part in beside(slab, raft)]
    for column, row in product(np.arange(-8.5, 49), np.arange(-8.5, 49)):
        inside = x < column < x + width and y < row < y + height
        wanted = inside and not any(raft.holds(column, row) for raft in floating)
        held = [s for s in parts if s.left < column < s.right and s.top_left < row < s.bottom_left]
        assert len(held) == wanted, (column, row)


def test_late_early_and_short_jumps_are_off_by_default_and_work_when_on() -> None:
    edge = ("", "", "", "###", "", "", "", "", "############")
    off = [RIGHT] * 40 + [Keys(right=True, jump=True)] * 4
    plain = replay(ground(*edge, x=24, y=48), [Keys()] * 5 + off)
    assert min(m.y for m in plain[6:]) >= 48
    place = ground(*edge, x=24, y=48)
    place.walker = replace(place.walker, coyote_time=0.5)
    assert min(m.y for m in replay(place, [Keys()] * 5 + off)[40:]) < plain[44].y - 1
    low = ground(*FLOOR, x=24, y=48)
    tap = [Keys()] * 5 + [JUMP] * 2 + [Keys()] * 60
    full = min(m.y for m in replay(low, tap))
    low.walker = replace(low.walker, variable_jump_height=True)
    assert min(m.y for m in replay(low, tap)) > full + 5
    assert time_to_top(replace(low.walker, gravity=gravity_for(2.2, 0.4))) == pytest.approx(0.4)


@pytest.mark.parametrize("way", [Point(1, 0), Point(-1, 0), Point(0, 1), Point(0, -1)], ids=str)
def test_from_above_crates_are_pushed_in_a_row_to_the_wall(way: Point) -> None:
    keys = Keys(left=way.x < 0, right=way.x > 0, up=way.y < 0, down=way.y > 0)
    walls = ["#" * 17, *["#" + " " * 15 + "#"] * 15, "#" * 17]
    crates = [
        Prop(BLOCK, 136 + 20 * n * way.x, 144 + 20 * n * way.y, body=Body("pushed")) for n in (1, 2)
    ]
    start = Point(136 - 20 * way.x, 144 - 8 - 20 * way.y)
    place = with_props(ground(*walls, x=start.x, y=start.y, view="top-down"), *crates)
    path = replay(place, [keys] * 200)
    gone = [
        (path[-1].bodies[n].x - crates[n].x, path[-1].bodies[n].y - crates[n].y) for n in (0, 1)
    ]
    for across, down in gone:
        assert across * way.x + down * way.y > 20 and across * way.y == down * way.x == 0
    assert path[-1].blocked == BLOCK and path[-1] == replace(path[-2], steps=path[-1].steps)
    for motion in path:
        assert place.covered(motion) is None
        first, second = motion.bodies
        assert max(abs(first.x - second.x), abs(first.y - second.y)) >= 16 - 1e-6


def test_from_above_a_raft_carries_over_water_and_nobody_leaves_it_there() -> None:
    body = Body("travels", Path((Point(48, 0),), 2.0))
    raft = Prop(SENSOR, 40, 32, body=body)
    drawn = ground("########", "  ####  ", "########", x=24, y=28, view="top-down")
    place = with_props(drawn, raft)
    assert replay(drawn, [RIGHT] * 60)[-1].x < 32, "without a raft nobody gets on the water"
    aboard = next(m for m in replay(place, [RIGHT] * 40) if m.x > 40)
    path = replay(place, [Keys()] * 60, aboard)
    away = {round(m.x - m.bodies[0].x, 6) for m in path}
    assert len(away) == 1 and path[-1].x > aboard.x + 20, "it is carried along"
    held = replay(place, [Keys(left=True, up=True)] * 30, path[20])
    for motion in held:
        assert abs(motion.x - motion.bodies[0].x) <= 8 + 4 - 5 + 1e-6, "to its rim and no farther"
    across = replay(place, [Keys()] * 80 + [RIGHT] * 60, aboard)
    assert across[-1].x > 96 + 5, "on the other side one steps off"
    assert all(place.covered(motion) is None for motion in (*path, *held, *across))


def test_from_above_shut_sides_stop_wade_and_reach_are_told() -> None:
    place = ground("         ", "         ", "    =    ", x=40, y=30, view="top-down")
    facts = Facts(entry=("left", "right", "below"), wade=6, reach=True, ground=7)
    sheet = place.project.sheets[0]
    pieces = tuple(
        replace(p, shapes=(), facts=facts if p.number == ONE_WAY else Facts()) for p in sheet.pieces
    )
    project = replace(place.project, sheets=(replace(sheet, pieces=pieces),))
    place = Ground(project, "Level")
    down = replay(place, [Keys(down=True)] * 60, place.begin(Point(72, 30)))[-1]
    assert down.y == 32 and down.blocked == ONE_WAY, "its upper side is shut"
    side = replay(place, [RIGHT] * 14, place.begin(Point(50, 44)))[-1]
    assert side.x > 64 and wade_at(project, place.level, side.x, side.y) == 6
    assert ground_at(project, place.level, side.x, side.y) == 7
    leaves = replay(place, [Keys(up=True)] * 40, place.begin(Point(72, 44)))[-1]
    assert leaves.y < 32, "one may leave through it"


def test_probes_find_snags_gaps_and_what_is_out_of_reach() -> None:
    art = Art(DEMO)
    level = ground("", "", "", "####nnnn####", y=48)
    found = probe(level.project, "Level", art)
    assert {snag.why for snag in found.snags} == {"a step of 1 px"}
    assert {snag.way for snag in found.snags} == {"right", "left"}
    low = ground("", "", "############", "", "############", y=64)
    found = probe(replace(low.project, walker=replace(low.walker, body=Size(10, 15))), "Level", art)
    assert not found.narrow
    assert probe(low.project, "Level", art).narrow[0].height == 16
    high = ground("      ######", "", "", "", "", "", "", "############", x=24, y=112)
    found = probe(high.project, "Level", art)
    assert (8, -1) in found.unreached and (8, 6) in found.reached
    inside = ground("", "####", "####", "####", x=24, y=48)
    assert probe(inside.project, "Level", art).starts_inside == BLOCK
    nobody = replace(low.project, walker=replace(low.walker, body=Size(0, 0)))
    assert probe(nobody, "Level", art).reached, "a walker of no size is one pixel"
    huge = replace(low.project, walker=replace(low.walker, body=Size(500, 500)))
    assert not probe(huge, "Level", art).reached


def test_probes_find_low_ceilings_walls_all_round_and_gaps_on_borders() -> None:
    art = Art(DEMO)
    lip = ground("", "####vvvv####", "", "############", y=48)
    figure = replace(lip.walker, body=Size(10, 16))
    found = probe(replace(lip.project, walker=figure), "Level", art)
    assert {snag.why for snag in found.snags} == {"a ceiling 1 px too low"}
    assert {snag.way for snag in found.snags} == {"right", "left"}
    taller = replace(lip.project, walker=replace(figure, body=Size(10, 17)))
    told = [trouble.words for trouble in troubles(taller, "Level", probe(taller, "Level", art))]
    assert any("1 px too little" in words for words in told)
    walled = ground(*["# #"] * 6, "#" * 40, x=24, y=96)
    found = probe(walled.project, "Level", art)
    assert found.walled_in and len(found.reached) == 1
    told = [trouble.words for trouble in troubles(walled.project, "Level", found)]
    assert told[0].startswith("From the start one gets to 1 of")


@pytest.mark.slow
@given(st.floats(0, 600), st.text("#n", min_size=20, max_size=36))
@settings(max_examples=20, deadline=None)
def test_what_is_near_is_found_first_and_all_of_it_is_the_same(x: float, row: str) -> None:
    level = ground("", "", "", row, y=48).project
    everywhere = probe(level, "Level", Art(DEMO))
    near = [found for _, found in probing(level, "Level", Art(DEMO), Point(x, 48))]
    assert near[-1] == everywhere
    firsts = next((found.snags for found in near if found.snags), ())
    if firsts:
        nearest = min(abs(snag.x - x) for snag in everywhere.snags)
        assert min(abs(snag.x - x) for snag in firsts) <= nearest + 2 * 16


@given(
    st.integers(1, 90),
    st.integers(1, 90),
    st.builds(Box, *[st.integers(-40, 90)] * 2, *[st.integers(1, 60)] * 2),
    st.integers(0, 7),
    st.tuples(st.integers(-60, 120), st.integers(-60, 120)),
)
def test_whatever_reaches_into_an_area_is_found_there(
    width: int, height: int, box: Box, turn: int, at: tuple[int, int]
) -> None:
    """However large a tile is, and however far its shape lies from its cell."""
    shapes = (Shape(box), Shape(box.moved(5, 5), "sensor"))
    piece = Piece(1, Rect(0, 0, width, height), Point(0, 0), shapes=shapes)
    sheet = Sheet("tiles", (Source("art/x.png", "0" * 64, Size(16, 16)),), pieces=(piece,))
    level = Level("Level", (Layer("Ground", Cells().painted({(2, 3): (1, turn)})),))
    project = Project(sheets=(sheet,), levels=(level,))
    for sensors, shape in enumerate(shapes):
        [alone] = slabs((Shape(shape.form),), Size(width, height), turn)
        high = width if turn & 4 else height
        slab = alone.moved(32, 64 - high, 1)
        area = (at[0], at[1], at[0] + 10, at[1] + 10)
        inside = slab.left < area[2] and slab.right > area[0]
        inside &= slab.top_left < area[3] and slab.bottom_left > area[1]
        solids = Solids(project, level, bool(sensors))
        assert not inside or slab in solids.near(*area)
        assert not (inside and solids.is_empty(*area))


def test_recorded_walks_are_written_read_and_refused() -> None:
    keys = [RIGHT] * 3 + [Keys(right=True, jump=True)] * 2 + [Keys()]
    assert read_walk(write_walk(keys)) == keys
    assert write_walk(keys) == "3 right\n2 right jump\n1\n"
    for text in ("3 sideways", "many right", "-1 left", "2000000000 right"):
        with pytest.raises(Refusal):
            read_walk(text)


def test_check_leaves_levels_out_that_would_take_minutes(monkeypatch: pytest.MonkeyPatch) -> None:
    small = ground("", "", "", "####nnnn####", y=48).project
    large = replace(small.levels[0], name="Large")
    project = replace(small, levels=(*small.levels, large))
    assert send_probes(project, Art(DEMO)) == []
    monkeypatch.setattr("rushweed.core.findings.walk.MOST_CELLS", 5)
    assert send_probes(project, Art(DEMO)) == ["Level", "Large"]
    assert not list(walking_troubles(project, Art(DEMO))), "nobody walked there"


def felt(place: Ground, facts: dict[int, Facts] | None = None, **feel: Any) -> Ground:
    """The same level with another feel, and facts on some of its tiles."""
    project = place.project
    [sheet] = project.sheets
    pieces = tuple(
        replace(p, facts=facts[p.number], shapes=()) if facts and p.number in facts else p
        for p in sheet.pieces
    )
    walker = replace(project.walker, feel=replace(Feel(), **feel))
    changed = replace(project, sheets=(replace(sheet, pieces=pieces),), walker=walker)
    return Ground(changed, "Level")


@pytest.mark.slow
@given(st.floats(0.1, 2), st.floats(0.1, 2), st.floats(4.5, 12))
@settings(max_examples=30, deadline=None)
def test_speeding_up_and_braking_take_their_seconds(up: float, brake: float, run: float) -> None:
    for keys, fastest in ((RIGHT, 4.0), (Keys(right=True, run=True), run)):
        place = felt(ground("", "#" * 600), speed_up=up, brake=brake, run=run)
        path = walked(place, keys, 400)
        speeds = [motion.speed_x / 16 for motion in path]
        first = next(n for n, speed in enumerate(speeds) if speed >= fastest - 1e-9)
        assert abs(first / 60 - up * fastest / 4) <= 1.5 / 60 and max(speeds) <= fastest + 1e-9
        path = replay(place, [Keys()] * 400, path[-1])
        rest = next(n for n, motion in enumerate(path) if motion.speed_x == 0)
        assert abs(rest / 60 - brake * fastest / 4) <= 1.5 / 60


def test_a_fall_has_a_highest_speed_and_jumps_go_on_in_the_air() -> None:
    deep = ground(*[" "] * 60, "###", y=16)
    slow, free = felt(deep, falls=3.0), deep
    assert max(m.speed_y for m in replay(slow, [Keys()] * 200)) == 3.0 * 16
    assert max(m.speed_y for m in replay(free, [Keys()] * 90)) > 6 * 16
    for jumps in range(4):
        place = felt(ground(*[" " * 5] * 12, "#####", y=192), jumps=jumps)
        motion, highest = replay(place, [Keys()] * 9)[-1], 192.0
        for _ in range(6):
            for held in [JUMP] * 26 + [Keys()]:
                motion = place.step(motion, held)
                highest = min(highest, motion.y)
                if motion.grounded and motion.flown == 0 and held == Keys():
                    break
            if motion.grounded:
                break
        assert (192 - highest) / 16 == pytest.approx(2.2 * (jumps + 1), abs=0.25), jumps


def test_a_jump_slips_past_the_corner_of_a_ceiling() -> None:
    rows = ("     ", "##   ", "     ", "     ", "#####")
    for aside, through in ((3, True), (6, False)):
        place = ground(*rows, x=32 + 6 - aside, y=64)
        place = felt(place, corner_correction=4 / 16)
        half = place.half
        place = ground(*rows, x=32 + half - aside, y=64)
        place = felt(place, corner_correction=4 / 16)
        highest = min(m.y for m in walked(place, JUMP, 30))
        assert (highest < 64 - 20) == through, (aside, highest)
        stiff = min(m.y for m in walked(felt(place), JUMP, 30))
        assert stiff > 64 - 32


LADDER = {ONE_WAY: Facts(moves="climbs")}
WATER = {SENSOR: Facts(moves="swims")}


@given(
    st.lists(st.sampled_from([RIGHT, LEFT, JUMP, Keys(up=True), Keys(down=True)]), max_size=30),
    st.lists(st.text(" #=s/v", min_size=8, max_size=8), min_size=6, max_size=6),
    st.floats(0, 1),
)
@settings(max_examples=60, deadline=None)
def test_among_ladders_and_water_no_step_ends_inside_a_solid(
    runs: list[Keys], rows: list[str], corner: float
) -> None:
    place = ground(*rows, "#" * 8, x=64, y=0)
    place = felt(
        place,
        LADDER | WATER,
        corner_correction=corner,
        jumps=1,
        speed_up=0.2,
        in_air=0.3,
        falls=9.0,
    )
    motion = place.begin()
    if place.covered(motion):
        return
    for keys in runs:
        for _ in range(9):
            motion = place.step(motion, keys)
            assert place.covered(motion) is None
            assert math.isfinite(motion.x) and math.isfinite(motion.y)


def test_flights_are_the_walkers_own_and_end_where_it_says() -> None:
    for manner in MANNERS:
        project = replace(Project(), walker=take_manner(Walker(), manner))
        assert manner_of(project.walker) == manner
        walker, paths = project.walker, flights(project)
        highest = -min(place.y for place in paths["full"])
        assert highest == pytest.approx(walker.jump, abs=0.05)
        assert ("again" in paths) == bool(walker.feel.jumps)
        if "short" in paths:
            assert paths["short"][-1].x < paths["full"][-1].x
        if "again" in paths:
            assert -min(place.y for place in paths["again"]) > 1.5 * highest
    assert manner_of(Walker(speed=7.7)) is None


@given(st.floats(-500, 900), st.floats(-500, 900), st.floats(0, 1), st.floats(0, 1), st.booleans())
def test_the_view_keeps_the_walker_in_sight_and_stays_in_the_level(
    x: float, y: float, across: float, down: float, stays: bool
) -> None:
    size, area = Size(256, 144), Rect(0, 0, 640, 400)
    following = Following(across * 0.8, down * 0.5, stays)
    seen = seen_place(Point(100, 100), Point(x, y), size, following, area)
    view = view_around(seen, size)
    if stays:
        assert area.x <= view.x and view.right <= area.right
        assert area.y <= view.y and view.bottom <= area.bottom
    else:
        assert view.x <= x <= view.right and view.y <= y <= view.bottom
    assert seen_place(seen, Point(x, y), size, following, area) == pytest.approx(seen)


def test_probes_use_ladders_water_runs_and_jumps_in_the_air() -> None:
    def reaches(place: Ground, cell: tuple[int, int]) -> bool:
        return cell in reached_cells(place)

    high = [
        "          ",
        "######    ",
        "     =    ",
        "     =    ",
        "     =    ",
        "     =    ",
        "#" * 10,
    ]
    place = ground(*high, x=140, y=96)
    assert not reaches(felt(place, {ONE_WAY: Facts()}), (1, 0))
    top = ground("          ", "#####=####", *high[2:], x=140, y=96)
    assert reaches(felt(top, LADDER), (1, 0))
    shelf = [
        "          ",
        "          ",
        "###       ",
        "          ",
        "          ",
        "          ",
        "#" * 10,
    ]
    for jumps, there in ((0, False), (1, True)):
        assert reaches(felt(ground(*shelf, x=140, y=96), jumps=jumps), (1, 1)) == there
    gap = ["             ", "###       ###"]
    for run, there in ((0, False), (14, True)):
        assert reaches(felt(ground(*gap, x=20, y=16), run=run), (11, 0)) == there
    pool = ["          ", "###    ###", "###ssss###", "###ssss###", "###ssss###", "##########"]
    pool = [*pool[:1], "###ssss###", *pool[2:]]
    for facts, there in (({SENSOR: Facts()}, False), (WATER, True)):
        assert reaches(felt(ground(*pool, x=80, y=80), facts), (1, 0)) == there
