"""Many walkers at once: each of them goes the way it would go alone."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from rushweed.core.project.facts import Side
from rushweed.core.project.feel import Feel
from rushweed.core.values import Point
from rushweed.core.walk.attempts import plans_of
from rushweed.core.walk.flock import Flock
from rushweed.core.walk.many_movers import NOTHING, ManyMovers
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.mover import Mover
from rushweed.core.walk.probes import standing_cells
from rushweed.core.walk.trying import jumped
from rushweed.core.walk.walker import Ground
from rushweed.core.walk.walkers import Walkers
from tests.core.test_walk import ground
from tests.samples import reached_cells

drawn = st.lists(st.text("    #=/\\nv", min_size=8, max_size=8), min_size=3, max_size=6)
halves = st.integers(-20, 300).map(lambda number: number / 2)
feels = st.builds(
    Feel,
    in_air=st.sampled_from([0.0, 0.3]),
    falls=st.sampled_from([0.0, 8.0]),
    jumps=st.sampled_from([0, 1]),
    corner_correction=st.sampled_from([0.0, 0.25]),
    run=st.sampled_from([0.0, 9.0]),
)


def felt(place: Ground, feel: Feel) -> Ground:
    """The same level for a walker with this feel."""
    project = place.project
    walker = replace(project.walker, feel=feel)
    return Ground(replace(project, rules=replace(project.rules), walker=walker), "Level")


@pytest.mark.slow
@given(
    drawn,
    st.lists(
        st.tuples(halves, halves, st.integers(1, 20), st.integers(2, 50), st.integers(-90, 90)),
        min_size=1,
        max_size=40,
    ),
    st.booleans(),
)
@settings(max_examples=40, phases=[Phase.generate])
def test_many_boxes_move_as_each_would_alone(
    rows: list[str], boxes: list[tuple[float, float, int, int, int]], climbs: bool
) -> None:
    place = ground(*rows, "########")
    x, y, wide, height, move = (np.array(part, np.float64) for part in zip(*boxes, strict=True))
    half, move = wide / 2, move / 7
    many = ManyMovers(place.table, half, height)
    covered, through = many.covered(x, y), move > 3
    went, stood = many.across(x, y, move, climbs), many.down(x, y, move, through)
    for n in range(len(x)):
        one = Mover(place.solids, half[n], height[n])
        assert (one.covered(x[n], y[n]) is not None) == covered[n]
        there, on, bumped = one.down(x[n], y[n], move[n], bool(through[n]))
        assert there == pytest.approx(stood[0][n])
        assert (on is None) == (stood[1][n] == NOTHING)
        assert (bumped is None) == (stood[2][n] == NOTHING)
        ahead, up, wall = one.across(x[n], y[n], move[n], climbs)
        assert (ahead, up) == pytest.approx((went[0][n], went[1][n]), abs=1e-5)
        assert (wall is None) == (went[2][n] == NOTHING)


@pytest.mark.slow
@given(drawn, feels)
@settings(max_examples=5, phases=[Phase.generate])
def test_many_walkers_come_down_where_each_would(rows: list[str], feel: Feel) -> None:
    place = felt(ground(*rows, "########"), feel)
    standing = standing_cells(place)
    starts = [Point(cell[0] * 16 + 8.0, y) for cell, y in standing.items()]
    plans, flock = plans_of(place.walker), Flock(place)
    who = np.repeat(np.arange(len(starts)), len(plans.first))
    doing = plans.only(np.tile(np.arange(len(plans.first)), len(starts)))
    many = Walkers.standing(*np.array(starts, np.float64).reshape(-1, 2).T).only(who)
    down = flock.flights(flock.leaps(many, doing), doing)
    for number, start in enumerate(starts):
        own = np.flatnonzero((who == number) & (down.on != NOTHING))
        found = list(zip(down.x[own].tolist(), down.y[own].tolist(), strict=True))
        here = replace(place.begin(start), on=1)
        alone = [(motion.x, motion.y) for motion in jumped(place, here)]
        assert len(alone) == len(found)
        for some, others in ((alone, found), (found, alone)):
            assert all(min(math.dist(one, other) for other in others) < 0.1 for one in some)


@pytest.mark.slow
@given(drawn, feels)
@settings(max_examples=10, phases=[Phase.generate])
def test_many_walkers_walk_as_each_would(rows: list[str], feel: Feel) -> None:
    place = felt(ground(*rows, "########"), feel)
    starts = [(cell[0] * 16 + 8.0, y) for cell, y in standing_cells(place).items()]
    x, y = np.array(starts, np.float64).reshape(-1, 2).T
    ways = np.where(np.arange(len(x)) % 2, 1, -1)
    many = Flock(place).walks(
        Walkers.standing(x, y), ways, lambda some, which: np.abs(some.x - x[which]) > 40, 90
    )
    for n in range(len(x)):
        motion = replace(place.begin(Point(x[n], y[n])), on=1)
        keys = Keys(left=bool(ways[n] < 0), right=bool(ways[n] > 0))
        for _ in range(90):
            motion = place.step(motion, keys)
            if motion.blocked or not motion.grounded or abs(motion.x - x[n]) > 40:
                break
        assert (many.x[n], many.y[n]) == pytest.approx((motion.x, motion.y), abs=1e-5)
        assert (many.on[n] != NOTHING) == motion.grounded
        assert (many.blocked[n] != NOTHING) == bool(motion.blocked)


def test_a_gap_is_crossed_that_only_a_jump_from_its_very_edge_crosses() -> None:
    def farthest(gap: int) -> int:
        place = ground("", "", "", "", "###" + " " * gap + "###", x=8, y=64)
        project = replace(place.project, walker=replace(place.project.walker, speed=5.0))
        place = Ground(project, "Level")
        return max(column for column, _ in reached_cells(place))

    assert farthest(5) >= 8 and farthest(7) <= 3


@pytest.mark.parametrize("side", ["left", "right", "below"])
def test_nobody_stands_on_what_carries_nobody(side: Side) -> None:
    place = ground("", "", "  =  ", "", "", "#####", y=80)
    [sheet] = place.project.sheets
    pieces = tuple(
        replace(piece, shapes=tuple(replace(shape, side=side) for shape in piece.shapes or ()))
        for piece in sheet.pieces
    )
    sheets = (replace(sheet, pieces=pieces),)
    turned = Ground(replace(place.project, sheets=sheets), "Level")
    assert (2, 1) in standing_cells(place) and (2, 1) not in standing_cells(turned)
    assert {row for _, row in standing_cells(turned)} == {4}
