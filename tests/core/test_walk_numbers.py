"""Laws of the numbers by which walkers meet bodies and rafts, against what brute force says."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bound.slabs import Slab
from rushweed.core.project.body import Body, Path
from rushweed.core.project.level import Prop
from rushweed.core.values import Point, Size
from rushweed.core.walk.bodies import BodyState
from rushweed.core.walk.rafts import STEP_ABOARD, Raft, beside, rafts
from rushweed.core.walk.walker import Ground
from tests.core.test_walk import BLOCK, ONE_WAY, SENSOR, UP, ground, with_props

near = st.floats(-60, 60).map(lambda value: round(value, 2))
TRAVELS = Body("travels", Path((Point(48, 0),), 2.0))


def beside_a_body(piece: int) -> Ground:
    """A level with a body of that piece, standing at 100, 64."""
    return with_props(ground("", "", "#" * 20), Prop(piece, 100, 64, body=Body("pushed")))


@given(near, near, near, near, st.sampled_from([BLOCK, UP, ONE_WAY]))
def test_a_body_that_touches_the_walker_before_or_after_is_never_passed_over(
    x: float, y: float, across: float, down: float, piece: int
) -> None:
    place = beside_a_body(piece)
    motion = replace(place.begin(), x=100 + x, y=64 + y)
    old = motion.bodies[0]
    new = replace(old, x=old.x + across, y=old.y + down)
    box = (motion.x - place.half, motion.y - place.height, motion.x + place.half, motion.y)
    met = any(
        slab.left < box[2]
        and slab.right > box[0]
        and min(slab.top_left, slab.top_right) < box[3]
        and max(slab.bottom_left, slab.bottom_right) > box[1]
        for state in (old, new)
        for slab in place.moving.bodies[0].slabs(state, 0)
    )
    assert place._might_meet(motion, 0, old, new) or not met
    far = replace(motion, x=motion.x + 900)
    assert not place._might_meet(far, 0, old, new), "what is far is passed over"


@given(near, st.floats(1, 20), st.lists(st.tuples(near, st.floats(2, 40), near, near), max_size=4))
def test_the_top_below_a_walker_is_the_highest_that_its_width_reaches(
    x: float, half: float, drawn: list[tuple[float, float, float, float]]
) -> None:
    place = beside_a_body(BLOCK)
    place.half = half
    slabs = [
        Slab(left, left + width, top, other, top + 99, other + 99, "all sides", BLOCK)
        for left, width, top, other in drawn
    ]
    steps = np.linspace(x - half, x + half, 2001)[1:-1]
    tops = [
        slab.top_at(float(at))
        for slab in slabs
        for at in steps[(steps >= slab.left) & (steps <= slab.right)]
    ]
    found = place._top_of_slabs(slabs, x)
    if tops and found is not None:
        slope = max(abs(top - other) / width for _, width, top, other in drawn)
        assert found == pytest.approx(min(tops), abs=2 * half / 2000 * slope + 0.01 * slope + 1e-6)
    elif tops:
        assert len(tops) <= 2, "it is barely touched"


@given(st.integers(8, 40), st.integers(8, 40), near, near)
def test_a_raft_reaches_a_quarter_of_the_shorter_side_of_a_tile_beyond_its_picture(
    wide: int, high: int, x: float, y: float
) -> None:
    place = with_props(ground("###", view="top-down"), Prop(SENSOR, 40, 32, body=TRAVELS))
    rules = replace(place.project.rules, tile=Size(wide, high))
    place = Ground(replace(place.project, rules=rules), "Level")
    (body,) = place.moving.bodies
    (raft,) = rafts(place, [BodyState(x, y)])
    left, top, width, height = body.drawn
    further = STEP_ABOARD * min(wide, high)
    ends = (x + left + width + further, y + top + height + further)
    assert raft == pytest.approx((0, x + left - further, y + top - further, *ends))
    assert (width, height) == (16, 16) and (left, top) == (-8, -16)


@given(st.integers(-20, 20), st.integers(-20, 20), st.integers(0, 8), st.integers(0, 8))
def test_what_is_not_upright_goes_where_a_raft_holds_its_middle_and_stays_whole_else(
    x: int, y: int, above: int, below: int
) -> None:
    raft = Raft(0, 0, 0, 16, 12)
    slab = Slab(x, x + 10, y, y + above, y + 10, y + 10 + below, "all sides", BLOCK)
    parts = list(beside(slab, raft))
    top, bottom = y, y + 10 + below
    if above or below:
        apart = x >= 16 or x + 10 <= 0 or top >= 12 or bottom <= 0
        held = raft.holds(x + 5, (top + bottom) / 2)
        assert parts == ([] if held and not apart else [slab])
    body = replace(slab, body=0)
    assert list(beside(body, raft)) == [body], "a body is no ground below a raft"
