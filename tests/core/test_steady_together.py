"""Animations that drift are steadied as one, whatever limbs do meanwhile."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.steady_together import frames_of, steady_together, unrest_of
from rushweed.core.cut.steadying import stance
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.values import Point, Rect

SIDE, FRAMES = 32, 8
drifts = st.lists(
    st.tuples(st.integers(-3, 3), st.integers(-3, 0)), min_size=FRAMES, max_size=FRAMES
)


def strip(drift: list[tuple[int, int]], swing: int) -> np.ndarray:
    """A figure with a body of some pattern and an arm that swings out, drifting in its cells."""
    picture = np.zeros((SIDE, SIDE * FRAMES, 4), np.uint8)
    pattern = np.random.default_rng(4).integers(40, 220, (14, 8, 3))
    for frame, (across, up) in enumerate(drift):
        left, top = frame * SIDE + 12 + across, 16 + up
        picture[top : top + 14, left : left + 8, :3] = pattern
        picture[top : top + 14, left : left + 8, 3] = 255
        reach = swing * (frame % 3)
        picture[top + 4 : top + 6, left + 8 : left + 8 + reach] = (200, 160, 120, 255)
    return picture


def project_of(picture: np.ndarray) -> Project:
    pieces = tuple(
        Piece(n + 1, Rect(n * SIDE, 0, SIDE, SIDE), Point(SIDE // 2, SIDE)) for n in range(FRAMES)
    )
    walk, turn = Animation("walk", (1, 2, 3, 4)), Animation("turn", (5, 6, 7, 8))
    return Project(sheets=(Sheet("heron", (), pieces=pieces, animations=(walk, turn)),))


@given(drifts, st.integers(0, 2))
def test_feet_and_bodies_lie_upon_each_other_in_all_animations(
    drift: list[tuple[int, int]], swing: int
) -> None:
    picture = strip(drift, swing)
    project, mask = project_of(picture), solid(picture)
    steady = steady_together(project, "heron", ("walk", "turn"), picture)
    sheet = steady.sheet("heron")
    stances = [stance(piece, mask) for piece in frames_of(sheet, ("walk", "turn"))]
    assert len({one.foot for one in stances if one}) == 1
    wandered = {one.feet for one in unrest_of(project.sheet("heron"), mask)}
    if wandered and max(abs(across) for across, _ in drift) > 2:
        lefts = {one.box.x for one in stances if one}
        assert max(lefts) - min(lefts) <= 2
    assert not any(one.feet for one in unrest_of(sheet, mask))
    again = steady_together(steady, "heron", ("walk", "turn"), picture)
    assert again == steady, "what stands still is left alone"


def test_what_leaves_the_ground_is_not_proposed() -> None:
    picture = strip([(0, -(i % 4)) for i in range(FRAMES)], 0)
    project, mask = project_of(picture), solid(picture)
    sheet = project.sheet("heron")
    assert [one.name for one in unrest_of(sheet, mask)] == ["walk", "turn"]
    names = ("high_jump", "fall 2")
    renamed = tuple(
        Animation(name, one.frames) for name, one in zip(names, sheet.animations, strict=True)
    )
    jumping = Sheet("heron", (), pieces=sheet.pieces, animations=renamed)
    assert unrest_of(jumping, mask) == []
