"""The walker: it lands on what is painted, is stopped by it, and never ends inside it."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.bound.shaping import full_box, polygon
from rushweed.core.project import files
from rushweed.core.project.cells import Cells
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from rushweed.core.walk.replay import clears, replay
from rushweed.core.walk.walker import Ground, Keys, Motion
from tests.conftest import DEMO

BLOCK, UP, DOWN, ONE_WAY, LIP, SENSOR, AIR = 1, 2, 3, 4, 5, 6, 0
SHAPES = {
    BLOCK: Shape(full_box(Size(16, 16))),
    UP: Shape(polygon([Point(0, 16), Point(16, 0), Point(16, 16)])),
    DOWN: Shape(polygon([Point(0, 0), Point(16, 16), Point(0, 16)])),
    ONE_WAY: Shape(Box(0, 0, 16, 5), "one-way"),
    LIP: Shape(Box(0, -1, 16, 17)),
    SENSOR: Shape(full_box(Size(16, 16)), "sensor"),
}
LETTERS = {"#": BLOCK, "/": UP, "\\": DOWN, "=": ONE_WAY, "n": LIP, "s": SENSOR}
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


def test_it_falls_and_lands_exactly_on_the_tiles() -> None:
    path = replay(ground("", "", "", "########", y=9), [Keys()] * 90)
    assert path[-1].y == 48 and path[-1].on == BLOCK and path[-1].speed_y == 0
    heights = [motion.y for motion in path]
    assert heights == sorted(heights), "no bounce"


def test_it_walks_over_seams_and_is_stopped_by_walls_and_lips() -> None:
    flat = walked(ground("", "", "", "############"), RIGHT, 60)
    assert flat[-1].x == pytest.approx(24 + 64) and {m.y for m in flat} == {48.0}
    wall = walked(ground("", "", "     #", "########"), RIGHT, 90)[-1]
    assert wall.x + 5 == pytest.approx(80, abs=1e-4) and wall.blocked == BLOCK
    lip = walked(ground("", "", "", "####nnnn"), RIGHT, 90)[-1]
    assert lip.x + 5 == pytest.approx(64, abs=1e-4) and lip.blocked == LIP
    assert walked(ground("", "", "   s", "########"), RIGHT, 60)[-1].x > 80, "a sensor stops nobody"


def test_it_goes_up_and_down_slopes_without_leaving_the_ground() -> None:
    hill = ground("", "", "", "    /##\\", "###########", y=64)
    path = walked(hill, RIGHT, 120)
    assert all(motion.grounded for motion in path), "it never hops"
    assert min(motion.y for motion in path) == 48 and path[-1].y == 64
    back = replay(hill, [LEFT] * 120, path[-1])
    assert min(motion.y for motion in back) == 48 and all(m.grounded for m in back)


def test_one_way_floors_carry_let_through_from_below_and_can_be_dropped_through() -> None:
    place = ground("", "", "", "  ====", "", "", "########", x=40, y=96)
    top = replay(place, [Keys()] * 5 + [JUMP] * 5 + [Keys()] * 80)
    assert min(m.y for m in top) < 96 - 32 and top[-1].y == 96, "2.2 units do not reach 3 tiles"
    higher = replace(place.walker, jump=3.5)
    place.walker = higher
    landed = replay(place, [Keys()] * 5 + [JUMP] + [Keys()] * 90)[-1]
    assert landed.y == 48 and landed.on == ONE_WAY
    dropped = replay(place, [Keys(down=True, jump=True)] * 2 + [Keys()] * 90, landed)[-1]
    assert dropped.y == 96


def test_a_ceiling_stops_a_jump_and_gaps_narrower_than_the_body_are_no_way() -> None:
    low = ground("########", "", "", "########", x=24, y=48)
    path = replay(low, [Keys()] * 3 + [JUMP] * 30)
    assert min(m.y for m in path) == pytest.approx(16 + 21, abs=1e-6)
    tunnel = walked(ground("", "", "    ####", "        ", "########", y=64), RIGHT, 120)[-1]
    assert tunnel.x + 5 == pytest.approx(64, abs=1e-4) and tunnel.blocked == BLOCK


def test_from_above_walls_stop_on_all_sides_and_diagonals_are_no_faster() -> None:
    room = ("######", "#    #", "#    #", "#    #", "#    #", "######")
    place = ground(*room, x=40, y=60, view="top-down")
    corners = {
        (True, False): (LEFT, 16 + 5),
        (False, True): (RIGHT, 80 - 5),
    }
    for keys, edge in corners.values():
        assert replay(place, [keys] * 120)[-1].x == pytest.approx(edge, abs=1e-4)
    down = replay(place, [Keys(down=True)] * 120)[-1]
    up = replay(place, [Keys(up=True)] * 120)[-1]
    assert down.y == pytest.approx(80, abs=1e-4) and up.y == pytest.approx(16 + 5, abs=1e-4), (
        "its feet"
    )
    a, b = replay(place, [Keys(right=True, up=True)])
    assert (b.x - a.x) ** 2 + (b.y - a.y) ** 2 == pytest.approx((4 * 16 / 60) ** 2)


rows = st.lists(st.text("  #/\\=", min_size=9, max_size=9), min_size=4, max_size=7)
held = st.builds(Keys, *[st.booleans()] * 5)


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


def test_the_demo_is_walked_to_the_beacon() -> None:
    project = files.load(DEMO)
    place = Ground(project, "Long boardwalk")
    recorded = (DEMO.parent / "walks" / "to-the-beacon.txt").read_text().split("\n")
    keys = [
        Keys(**dict.fromkeys(names, True))
        for line in recorded
        if line
        for count, *names in [line.split()]
        for _ in range(int(count))
    ]
    end = replay(place, keys)[-1]
    beacon = next(p for p in project.level("Long boardwalk").layers[9].props if p.x == 1000)
    assert end.grounded and abs(end.x - beacon.x) < 16 and end.y == beacon.y
    assert clears(project.walker) == (2, 3)
