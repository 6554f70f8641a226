"""Collision layers: who meets whom, and what of that reaches walkers and bundles."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bound.collision_layers import (
    add_collision_layer,
    change_collision_layer,
    meets,
    set_layer,
    set_meeting,
)
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.walk.motion import Keys
from rushweed.core.walk.replay import replay
from rushweed.core.walk.solids import Solids
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.outlines import SolidOutlines, merged_outlines
from rushweed.core.weave.painting import cropped
from rushweed.core.weave.rings import chained
from tests.core.test_walk import BLOCK, LADDER, RIGHT, felt, ground, walked

LAYERED = {"walls": 0, "mist": 1, "roots": 2}


def layered(project: Project) -> Project:
    for name in LAYERED:
        project, _ = add_collision_layer(project, name)
    return project


@given(st.sets(st.tuples(st.integers(0, 2), st.integers(0, 2))), st.integers(0, 2))
def test_who_meets_whom_is_mutual_and_follows_numbers(
    apart: set[tuple[int, int]], number: int
) -> None:
    project = layered(Project())
    assert [layer.number for layer in project.rules.collision] == [0, 1, 2]
    for one, other in apart:
        project = set_meeting(project, one, other, meets=False)
    pairs = [(one, other) for one in range(3) for other in range(3)]
    for one, other in pairs:
        together = (one, other) not in apart and (other, one) not in apart
        assert meets(project, one, other) == meets(project, other, one) == together
    assert meets(project, 0, 9), "what nobody named meets all"
    layer = project.rules.collision[number]
    moved = change_collision_layer(project, number, replace(layer, number=7))
    names = {number: 7}
    for one, other in pairs:
        there = names.get(one, one), names.get(other, other)
        assert meets(moved, *there) == meets(project, one, other)
    gone = change_collision_layer(project, number, None)
    assert [one.name for one in gone.rules.collision] == [n for n in LAYERED if n != layer.name]


def test_layers_that_cannot_be_are_refused_in_a_sentence() -> None:
    project = layered(Project())
    [first, *_] = project.rules.collision
    with pytest.raises(Refusal, match="number 1"):
        change_collision_layer(project, 0, replace(first, number=1))
    with pytest.raises(Refusal, match="needs a name"):
        change_collision_layer(project, 0, replace(first, name="  "))
    for turn in range(3, 32):
        project, _ = add_collision_layer(project, f"layer {turn}")
    with pytest.raises(Refusal, match="All 32"):
        add_collision_layer(project, "one more")


def test_a_walker_meets_what_its_layer_meets_alone() -> None:
    place = ground("      ", "    # ", "======", "######", x=24, y=32)
    project = layered(place.project)
    project = set_layer(project, frozenset({BLOCK}), 1)
    project = replace(project, walker=replace(project.walker, layer=2))
    through = set_meeting(project, 1, 2, meets=False)
    stopped, free = (Ground(one, "Level") for one in (project, through))
    assert walked(stopped, RIGHT, 90)[-1].blocked == BLOCK
    path = walked(free, RIGHT, 60)
    assert not any(motion.blocked for motion in path) and path[-1].y == 32
    near = Solids(through, free.level).near(64, 16, 70, 20)
    assert BLOCK not in {slab.piece for slab in near}
    moved = change_collision_layer(through, 1, replace(through.rules.collision[1], number=9))
    shape = (moved.sheets[0].pieces[0].shapes or ())[0]
    assert shape.layer == 9 and not walked(Ground(moved, "Level"), RIGHT, 60)[-1].blocked


def test_what_is_on_a_layer_that_is_not_solid_stops_nobody_but_is_climbed_and_told() -> None:
    place = felt(ground("        ", "  #=    ", "  #=    ", "########", x=24, y=48), LADDER)
    [layer] = place.level.layers
    floor = replace(layer, cells=cropped(layer.cells, Rect(0, 3, 8, 1)))
    wall = replace(layer, name="Wall", cells=cropped(layer.cells, Rect(0, 0, 8, 3)), solid=False)
    level = replace(place.level, layers=(wall, floor))
    behind = Ground(replace(place.project, levels=(level,)), "Level")
    before = Ground(place.project, "Level")
    assert walked(before, RIGHT, 60)[-1].blocked == BLOCK
    path = walked(behind, RIGHT, 90)
    assert not any(motion.blocked for motion in path) and path[-1].y == 48
    up = walked(Ground(behind.project, "Level"), Keys(), 1)[-1]
    climbing = replay(behind, [Keys(up=True)] * 90, replace(up, x=56.0))
    assert climbing[20].climbing and climbing[-1].y == 16, "a ladder is climbed, and stood on"
    alone = replace(level, layers=(floor,))
    assert merged_outlines(behind.project, level) == merged_outlines(behind.project, alone)
    kept = SolidOutlines(behind.project, level)
    kept.segments(Rect(0, 0, 8, 4))
    solid = replace(level, layers=(replace(wall, solid=True), floor))
    kept.follow(behind.project, solid)
    area = Rect(-64, -64, 128, 128)
    assert chained(kept.segments(area)) == merged_outlines(behind.project, solid)
