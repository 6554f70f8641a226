"""One stand for all sheets of a figure, and what is seen where it changes its animation."""

from __future__ import annotations

from dataclasses import replace
from itertools import count
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rushweed.core.cut.animations import set_play
from rushweed.core.cut.common_stand import lay_over_each_other
from rushweed.core.cut.overlaying import (
    over_each_other,
    shift_between,
    shift_by_phases,
    shift_down,
    waves_of,
)
from rushweed.core.cut.seams import played, seams_of
from rushweed.core.cut.steadying import nudge
from rushweed.core.gather.art import Art
from rushweed.core.gather.figures import make_figure, rename_figure, walk_as
from rushweed.core.gauge.treating import set_pixels_per_unit
from rushweed.core.project.figure import Cast
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.samples import write_picture
from tools.corpus.trees import CROPS, Crop, cropped, draw_figure
from tools.measure_stands import wandered

NAMES = ("otter idle", "otter run", "otter strike")
numbers = st.integers(-5, 5)


def gathered(folder: Path, crop: Crop, seed: int) -> tuple[Project, Art, dict]:
    """A sheet of each animation of a figure, its frames one above the other, as they are cut."""
    project, corners, number = Project(next_number=99), {}, count(1)
    for name, frames in zip(NAMES, draw_figure(seed).values(), strict=True):
        parts = list(cropped(frames, crop))
        tall = sum(part.shape[0] for part, _ in parts)
        pieces: list[Piece] = []
        whole = np.zeros((tall, max(part.shape[1] for part, _ in parts), 4), np.uint8)
        for part, _ in parts:
            height, width = part.shape[:2]
            top = pieces[-1].rect.bottom if pieces else 0
            whole[top : top + height, :width] = part
            rect = Rect(0, top, width, height)
            pieces.append(Piece(next(number), rect, Point(width // 2, height)))
        write_picture(folder / f"{name}.png", whole)
        source = Source(f"{name}.png", name, Size(*whole.shape[1::-1]))
        shown = Animation(name, tuple(piece.number for piece in pieces))
        sheet = Sheet(name, (source,), pieces=tuple(pieces), animations=(shown,))
        project = replace(project, sheets=(*project.sheets, sheet))
        corners[name] = [corner for _, corner in parts]
    return project, Art(folder), corners


def of_sheet(project: Project, name: str) -> frozenset[int]:
    return frozenset(piece.number for piece in project.sheet(name).pieces)


def cast_of(project: Project) -> Cast:
    cast = project.cast(project.figures[0].name)
    assert cast is not None
    return cast


@pytest.mark.parametrize("crop", CROPS)
@settings(max_examples=8)
@given(seed=st.integers(0, 999), away=st.tuples(numbers, numbers))
def test_sheets_lie_over_each_other_however_they_were_cropped(
    tmp_path_factory: pytest.TempPathFactory, crop: Crop, seed: int, away: tuple[int, int]
) -> None:
    project, art, corners = gathered(tmp_path_factory.mktemp("tree"), crop, seed)
    project = nudge(project, of_sheet(project, NAMES[1]), *away)
    outcome = lay_over_each_other(project, art, NAMES)
    sheets = {name: name for name in NAMES}
    assert max(wandered(outcome.project, sheets, corners).values()) <= 1
    assert all(one.is_sure for one in outcome.made)
    first = project.sheet(NAMES[0]).pieces[0].number
    kept, was = outcome.project.find(first), project.find(first)
    assert kept and was and kept[1] == was[1], "the first one stays"
    again = lay_over_each_other(outcome.project, art, NAMES).project
    assert max(wandered(again, sheets, corners).values()) <= 1


def test_what_cannot_be_laid_says_why(tmp_path: Path) -> None:
    project, art, _ = gathered(tmp_path, "each folder", 3)
    with pytest.raises(Refusal, match="Fewer than two"):
        lay_over_each_other(project, art, NAMES[:1])
    with pytest.raises(Refusal, match="16, 32 px"):
        lay_over_each_other(set_pixels_per_unit(project, NAMES[:1], 32), art, NAMES)


@given(seed=st.integers(0, 99), moves=st.lists(st.tuples(numbers, numbers), min_size=2, max_size=5))
def test_boards_that_are_alike_come_to_lie_exactly(seed: int, moves: list[tuple[int, int]]) -> None:
    drawn = np.zeros((24, 32))
    drawn[6:18, 8:22] = np.random.default_rng(seed).integers(1, 255, (12, 14))
    boards = [np.roll(drawn, across, 1) for across, _ in moves]
    shifts = over_each_other(boards, [12] * len(boards))
    assert shifts == [moves[0][0] - across for across, _ in moves]
    (across, down), moved = moves[1], np.roll(drawn, moves[1], (1, 0))
    assert shift_between(waves_of(drawn), waves_of(np.roll(drawn, across, 1)), 12) == -across
    assert shift_by_phases(drawn, np.roll(drawn, across, 1), 12) == -across
    assert shift_down(drawn, moved, 12) == -down


@settings(max_examples=8)
@given(seed=st.integers(0, 999), away=st.tuples(numbers, numbers))
def test_a_seam_says_by_how_much_a_figure_jumps(
    tmp_path_factory: pytest.TempPathFactory, seed: int, away: tuple[int, int]
) -> None:
    project, art, _ = gathered(tmp_path_factory.mktemp("seam"), "each folder", seed)
    project = lay_over_each_other(project, art, NAMES).project
    project = make_figure(project, "otter", NAMES)
    across, down = away
    moved = nudge(project, frozenset({project.sheet(NAMES[1]).pieces[0].number}), across, down)
    still, jumping = (
        {(one.before, one.after): one for one in seams_of(cast_of(now), art)}
        for now in (project, moved)
    )
    assert len(still) == 6 and all(one.jump == 0 for one in still.values())
    there, back = jumping[NAMES[0], NAMES[1]], jumping[NAMES[1], NAMES[0]]
    assert (there.jump, back.jump) == (down, -down)
    coarse = 1 + draw_figure(seed)["idle"][0].shape[0] // 32
    assert abs(there.aside - still[NAMES[0], NAMES[1]].aside - across) <= coarse
    assert jumping[NAMES[0], NAMES[2]].jump == 0
    once = seams_of(cast_of(set_play(moved, NAMES[1], NAMES[1], "once")), art)
    assert all(one.jump == 0 for one in once if one.before == NAMES[1]), "it is left at its last"
    assert there.is_seen or (down == 0 and abs(there.aside) <= 2 and there.shared >= 0.4)


def test_a_leap_is_no_jump_and_shown_apart_nothing_is_shared(tmp_path: Path) -> None:
    project, art, _ = gathered(tmp_path, "each folder", 5)
    project = nudge(project, of_sheet(project, NAMES[2]), 300, -40)
    cast = cast_of(make_figure(project, "otter", NAMES))
    leaping = replace(
        cast, animations=tuple(replace(one, name=f"{one.name} jump") for one in cast.animations)
    )
    assert all(one.jump is None for one in seams_of(leaping, art))
    assert {one.shared for one in seams_of(cast, art) if NAMES[2] in one[:2]} == {0.0}


@given(st.integers(1, 60), st.integers(1, 60), st.sampled_from(("loop", "back and forth")))
def test_a_change_is_played_at_the_pace_of_both(rate: int, other: int, play) -> None:
    both = played(Animation("a", (1, 2, 3), rate, play), Animation("b", (7,), other, "once", (4,)))
    rounds = 3 if play == "loop" else 4
    seconds = sum(both.holds) / both.rate
    assert seconds == pytest.approx(rounds / rate + 4 / other, abs=(rounds + 4) / 120)
    assert set(both.frames) == {1, 2, 3, 7} and both.frames[-1] == 7


def test_a_figure_is_called_otherwise(tmp_path: Path) -> None:
    project, _, _ = gathered(tmp_path, "each folder", 5)
    project = walk_as(make_figure(project, "otter", NAMES), "otter")
    renamed = rename_figure(project, "otter", " Keeper's otter ")
    assert renamed.figures[0].name == renamed.walker.figure == "Keeper's otter"
    assert cast_of(renamed).sheets == cast_of(project).sheets
    for name, why in (("", "needs a name"), (NAMES[0], "already")):
        with pytest.raises(Refusal, match=why):
            rename_figure(project, "otter", name)
