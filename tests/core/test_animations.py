"""Animations: order, holds, names, steadying, and handing one out as a moving picture."""

from __future__ import annotations

import json
from collections import Counter
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any, cast

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.film import film
from rushweed.core.bale.strip_out import as_text, strip_out
from rushweed.core.cut.animations import (
    add_frames,
    animate_by_names,
    begin_animation,
    find_animation,
    frame_at,
    holds_of,
    move_frames,
    one_round,
    place_at,
    remove_animation,
    rename_animation,
    set_hold,
    set_play,
    set_rate,
    take_frames_out,
)
from rushweed.core.cut.boards import common_board, on_board
from rushweed.core.cut.correcting import recut
from rushweed.core.cut.listed import listed_pieces
from rushweed.core.cut.naming import name_pieces
from rushweed.core.cut.reshaping import scaled, turn_sheets
from rushweed.core.cut.steady_together import frames_of, steady_together, unrest_of
from rushweed.core.cut.steadying import (
    Box,
    common_box,
    forget_offsets,
    level_feet,
    nudge,
    stance,
    steady_body,
    steady_middle,
    unrest,
)
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import decode, decode_frames, encode_png
from rushweed.core.gather.solid import solid
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.gauge.frame_points import (
    drop_point,
    point_of,
    put_point,
    rename_point,
    set_events,
)
from rushweed.core.gauge.pivots import set_pivot
from rushweed.core.project import files
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Animation, Piece, Play, Sheet, Source
from rushweed.core.values import Point, Rect, Refusal, Size
from tests.conftest import DEMO

FRAME = 24
holds = st.lists(st.integers(1, 4), min_size=1, max_size=6).map(tuple)
plays = st.sampled_from(["loop", "once", "back and forth"])


def project_of(frames: list[np.ndarray], folder: Path) -> tuple[Project, Art, Sheet]:
    """A sheet of frames side by side, each standing on the middle of its foot."""
    picture = np.concatenate(frames, axis=1)
    folder.mkdir(exist_ok=True)
    (folder / "reed.png").write_bytes(encode_png(picture))
    height, width = picture.shape[:2]
    side = frames[0].shape[1]
    pieces = tuple(
        Piece(n + 1, Rect(n * side, 0, side, height), Point(side // 2, height), f"sway_{n + 1}")
        for n in range(len(frames))
    )
    sheet = Sheet("reed", (Source("reed.png", "0", Size(width, height)),), pieces=pieces)
    sheet = replace(sheet, animations=(Animation("sway", tuple(p.number for p in pieces)),))
    return Project(sheets=(sheet,), next_number=99), Art(folder), sheet


def body(across: int, down: int, limb: int = 0, side: int = FRAME) -> np.ndarray:
    """A figure drawn so far to the right and down, with a limb on one side or the other."""
    frame = np.zeros((FRAME, side, 4), np.uint8)
    draw = np.random.default_rng(4)
    x, y = 8 + across, 8 + down
    frame[y : y + 10, x : x + 6] = draw.integers(40, 255, (10, 6, 4))
    frame[y : y + 10, x : x + 6, 3] = 255
    if limb:
        start = x + 6 if limb > 0 else x - 4
        frame[y + 3 : y + 5, start : start + 4] = (200, 90, 30, 255)
    return frame


@given(holds, plays, st.floats(0, 20))
def test_a_round_holds_every_frame_as_long_as_it_says(
    held: tuple[int, ...], play: Play, seconds: float
) -> None:
    frames = tuple(range(10, 10 + len(held)))
    animation = Animation("sway", frames, 5.0, play, held)
    steps = Counter(one_round(animation))
    for place, hold in enumerate(held):
        inner = play == "back and forth" and 0 < place < len(held) - 1
        assert steps[place] == hold * (2 if inner else 1)
    round_time = sum(steps.values()) / 5.0
    assert frame_at(animation, seconds) == frames[place_at(animation, seconds)]
    later = place_at(animation, seconds + 1000 * round_time)
    if play == "once":
        assert later == len(held) - 1
    else:
        assert one_round(animation).count(later) > 0


@given(
    st.lists(st.integers(1, 9), min_size=1, max_size=8),
    st.sets(st.integers(0, 7)),
    st.integers(0, 8),
)
def test_moving_frames_loses_none_and_keeps_their_holds(
    held: list[int], picked: set[int], before: int
) -> None:
    frames = tuple(range(len(held)))
    places = {place for place in picked if place < len(held)}
    sheet = Sheet("reed", (), animations=(Animation("sway", frames, holds=tuple(held)),))
    project = move_frames(Project(sheets=(sheet,)), "reed", "sway", places, min(before, len(held)))
    moved = project.sheets[0].animations[0]
    assert sorted(moved.frames) == list(frames)
    assert [held[frame] for frame in moved.frames] == list(holds_of(moved))
    for part in (places, set(frames) - places):
        order = [frame for frame in moved.frames if frame in part]
        assert order == sorted(order), "each part keeps its own order"


def test_animations_are_begun_changed_renamed_and_forgotten(tmp_path: Path) -> None:
    project, _, _ = project_of([body(0, 0)] * 4, tmp_path)
    level = Level("Pool", (Layer("Props", props=(Prop(1, 5, 5, animation="sway"),)),))
    project = replace(project, levels=(level,))
    project, name = begin_animation(project, "reed", [3, 1], "sway")
    assert name == "sway 2" and find_animation(project.sheet("reed"), name).frames == (3, 1)
    project = add_frames(project, "reed", name, [2])
    project = set_hold(project, "reed", name, {1}, 3)
    project = set_play(set_rate(project, "reed", name, 12), "reed", name, "once")
    made = find_animation(project.sheet("reed"), name)
    assert made == Animation(name, (3, 1, 2), 12, "once", (1, 3, 1))
    project = take_frames_out(project, "reed", name, {0, 2})
    assert find_animation(project.sheet("reed"), name).holds == (3,)
    project = take_frames_out(project, "reed", name, {0})
    assert find_animation(project.sheet("reed"), name) is None
    renamed = rename_animation(project, "reed", "sway", " bend ")
    assert renamed.levels[0].layers[0].props[0].animation == "bend"
    still = remove_animation(renamed, "reed", "bend")
    assert still.levels[0].layers[0].props[0].animation == ""
    again, _ = begin_animation(project, "reed", [1], "a")
    for bad in (
        lambda: rename_animation(again, "reed", "a", "sway"),
        lambda: rename_animation(project, "reed", "sway", "  "),
        lambda: begin_animation(project, "reed", []),
        lambda: set_hold(project, "reed", "sway", {0}, 0),
        lambda: set_rate(project, "reed", "sway", 0),
    ):
        with pytest.raises(Refusal, match=r"\.$"):
            bad()


def test_names_that_differ_in_a_number_become_animations(tmp_path: Path) -> None:
    project, _, _ = project_of([body(0, 0)] * 5, tmp_path)
    names = {1: "run_10", 2: "run_9", 3: "rest 1", 4: "rest 2", 5: "lamp"}
    project = animate_by_names(name_pieces(project, names), "reed")
    made = {a.name: a.frames for a in project.sheet("reed").animations}
    assert made["run"] == (2, 1) and made["rest"] == (3, 4) and "lamp" not in made
    with pytest.raises(Refusal, match="run_1"):
        animate_by_names(name_pieces(project, dict.fromkeys(names, "reed")), "reed")


wanders = st.lists(st.tuples(st.integers(-4, 4), st.integers(-6, 5)), min_size=1, max_size=6)


@given(wanders)
def test_levelled_and_steadied_frames_stand_still(
    tmp_path_factory: pytest.TempPathFactory, moves: list[tuple[int, int]]
) -> None:
    folder = tmp_path_factory.mktemp("steady")
    project, art, sheet = project_of([body(*move) for move in moves], folder)
    picture = art.picture(sheet)
    mask = solid(picture)
    level = level_feet(project, sheet.pieces, mask)
    steady = steady_middle(level, level.sheet("reed").pieces, mask)
    by_body = steady_body(level, level.sheet("reed").pieces, picture)
    for result in (steady, by_body):
        pieces = result.sheet("reed").pieces
        stances = [stance(piece, mask) for piece in pieces]
        assert len({(s.foot, s.middle) for s in stances if s}) == 1
        assert [p.rect for p in pieces] == [p.rect for p in sheet.pieces]
    assert forget_offsets(steady, frozenset(range(99))) == project
    boxed = common_box(steady, steady.sheet("reed").pieces, mask, "all that is drawn")
    assert len({(p.rect.size, p.standing) for p in boxed.sheet("reed").pieces}) == 1
    images = [art.piece(sheet, piece) for piece in boxed.sheet("reed").pieces]
    assert all((image == images[0]).all() for image in images), "the jumping is gone"


ACTS = ("feet", "middle", "all that is drawn", "feet and middle", "mend", "nudge")


@given(
    st.lists(
        st.tuples(st.integers(-3, 3), st.integers(-3, 3), st.sampled_from((-1, 0, 1))),
        min_size=2,
        max_size=5,
    ),
    st.lists(st.tuples(st.integers(-3, 3), st.integers(-3, 3)), min_size=5, max_size=5),
    st.lists(st.sampled_from(ACTS), min_size=1, max_size=6),
)
def test_steadying_boxes_and_mends_in_any_order_never_make_a_figure_jump_more(
    tmp_path_factory: pytest.TempPathFactory,
    moves: list[tuple[int, int, int]],
    pivots: list[tuple[int, int]],
    acts: list[str],
) -> None:
    folder = tmp_path_factory.mktemp("order")
    project, art, sheet = project_of([body(*move, side=40) for move in moves], folder)
    mask = solid(art.picture(sheet))
    for piece, (x, y) in zip(sheet.pieces, pivots, strict=False):
        stand = piece.pivot
        project = set_pivot(project, frozenset({piece.number}), stand.x + x, stand.y + y)
    for act in acts:
        pieces = project.sheet("reed").pieces
        before = unrest(pieces, mask)
        if act == "nudge":
            project = nudge(project, frozenset({1}), 1, -1)
            continue
        if act == "mend":
            mends = [f.mend for f in find_all(project, art) if f.code == "wandering-pivot"]
            project = mends[0](project) if mends and mends[0] else project
        elif act == "feet":
            project = level_feet(project, pieces, mask)
        elif act == "middle":
            project = steady_middle(project, pieces, mask)
        else:
            project = common_box(project, pieces, mask, cast(Box, act))
        after = unrest(project.sheet("reed").pieces, mask)
        assert after[0] <= before[0] and after[1] <= max(before[1], 1), act
        if act in ("all that is drawn", "feet and middle"):
            made = project.sheet("reed").pieces
            assert len({(piece.rect.size, piece.standing) for piece in made}) == 1
            again = [f for f in find_all(project, art) if f.code == "wandering-pivot"]
            assert not again, "frames of one box stand alike"


def test_a_box_that_would_show_a_neighbour_is_refused(tmp_path: Path) -> None:
    tight = np.full((8, 6, 4), 255, np.uint8)
    project, art, sheet = project_of([tight] * 3, tmp_path)
    mask = solid(art.picture(sheet))
    project = nudge(project, frozenset({2}), 2, 0)
    with pytest.raises(Refusal, match="neighbours"):
        common_box(project, project.sheet("reed").pieces, mask, "all that is drawn")


def test_a_box_around_feet_and_middle_and_what_shows_nothing(tmp_path: Path) -> None:
    project, art, sheet = project_of([body(0, 0), body(3, 2, 1), body(-2, 4)], tmp_path)
    mask = solid(art.picture(sheet))
    boxed = common_box(project, sheet.pieces, mask, "feet and middle").sheet("reed")
    assert {piece.rect.size for piece in boxed.pieces} == {Size(10, 10)}
    assert {piece.standing for piece in boxed.pieces} == {Point(5, 10)}
    assert all(piece.by_hand for piece in boxed.pieces)
    nothing = np.zeros_like(mask)
    for act in (level_feet, steady_middle):
        with pytest.raises(Refusal, match="nothing"):
            act(project, sheet.pieces, nothing)
    with pytest.raises(Refusal, match="1024"):
        nudge(project, frozenset({1}), 5000, 0)


@pytest.mark.parametrize("form", ["APNG", "GIF"])
def test_a_moving_picture_shows_the_very_pixels(tmp_path: Path, form) -> None:
    project, art, sheet = project_of([body(n, n, 1) for n in range(3)], tmp_path)
    project = nudge(project, frozenset({2}), 3, -2)
    sheet = project.sheet("reed")
    animation = replace(sheet.animations[0], holds=(1, 4, 2), rate=10.0)
    data = film(art, sheet, animation, form, scale=2)
    decoded = decode_frames(data, "film")
    board = common_board(sheet.pieces)
    assert decoded.frames is not None and decoded.frames.count == 3
    assert decoded.frames.size == Size(board.width * 2, board.height * 2)
    assert decoded.frames.rate == pytest.approx(3 / 0.7, abs=0.01), "holds make it last"
    for index, piece in enumerate(sheet.pieces):
        expected = enlarged(on_board(art.piece(sheet, piece), piece, board), 2)
        left = index * decoded.frames.size.width
        shown = decoded.picture[:, left : left + decoded.frames.size.width]
        np.testing.assert_array_equal(shown[..., 3], expected[..., 3])
        visible = expected[..., 3] > 0
        np.testing.assert_array_equal(shown[visible], expected[visible])
    with pytest.raises(Refusal, match="4096"):
        film(art, sheet, animation, form, scale=999)
    with pytest.raises(Refusal, match="no frame"):
        film(art, sheet, Animation("lost", (77,)), form)


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


def drifting(picture: np.ndarray) -> Project:
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
    project, mask = drifting(picture), solid(picture)
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
    project, mask = drifting(picture), solid(picture)
    sheet = project.sheet("heron")
    assert [one.name for one in unrest_of(sheet, mask)] == ["walk", "turn"]
    names = ("high_jump", "fall 2")
    renamed = tuple(
        Animation(name, one.frames) for name, one in zip(names, sheet.animations, strict=True)
    )
    jumping = Sheet("heron", (), pieces=sheet.pieces, animations=renamed)
    assert unrest_of(jumping, mask) == []


KEEPER = files.load(DEMO).sheet("keeper")
NUMBERS = frozenset(piece.number for piece in KEEPER.pieces[:3])


def with_hand(x: float = 5, y: float = 9) -> Project:
    return put_point(files.load(DEMO), NUMBERS, "hand", x, y)


def on_picture(project: Project) -> list[tuple[float, float]]:
    """Where the points lie on the sheet's picture."""
    pieces = [p for p in project.sheet("keeper").pieces if p.number in NUMBERS]
    return [(p.rect.x + one.x, p.rect.y + one.y) for p in pieces for one in p.points]


@given(st.lists(st.sampled_from(["across", "down", "quarter"]), max_size=6))
def test_points_turn_with_their_sheet(turns: list[str]) -> None:
    project = with_hand()
    before = on_picture(project)
    for turn in turns:
        project = turn_sheets(project, ("keeper",), turn)  # type: ignore[arg-type]
    back = {"across": ["across"], "down": ["down"], "quarter": ["quarter"] * 3}
    for turn in reversed(turns):
        for one in back[turn]:
            project = turn_sheets(project, ("keeper",), one)  # type: ignore[arg-type]
    assert on_picture(project) == before


@given(st.integers(-6, 6), st.integers(-6, 6), st.integers(1, 4))
def test_points_stay_on_the_picture_and_grow_with_it(dx: int, dy: int, factor: int) -> None:
    piece = with_hand().sheet("keeper").pieces[0]
    moved = recut(piece, piece.rect.moved(dx, dy))
    [old], [new] = piece.points, moved.points
    assert (moved.rect.x + new.x, moved.rect.y + new.y) == (
        piece.rect.x + old.x,
        piece.rect.y + old.y,
    )
    large = scaled(with_hand().sheet("keeper"), Fraction(factor)).pieces[0].points[0]
    assert (large.x, large.y) == (5 * factor, 9 * factor)


def test_points_are_put_moved_renamed_and_dropped() -> None:
    project = put_point(with_hand(), NUMBERS, "lamp")
    first = project.sheet("keeper").pieces[0]
    lamp = point_of(first, "lamp")
    assert lamp is not None and (lamp.x, lamp.y) == tuple(first.pivot), "it begins at the pivot"
    project = put_point(project, NUMBERS, "hand", x=7)
    hand = point_of(project.sheet("keeper").pieces[0], "hand")
    assert hand is not None and (hand.x, hand.y) == (7, 9)
    assert [p.name for p in project.sheet("keeper").pieces[0].points] == ["hand", "lamp"]
    with pytest.raises(Refusal, match="“lamp” already"):
        rename_point(project, NUMBERS, "hand", " lamp ")
    for name in ("", "  ", "a, b", "x" * 201):
        with pytest.raises(Refusal, match="Type"):
            rename_point(project, NUMBERS, "hand", name)
    project = drop_point(rename_point(project, NUMBERS, "hand", "fist"), NUMBERS, "lamp")
    assert [p.name for p in project.sheet("keeper").pieces[0].points] == ["fist"]
    events = set_events(project, NUMBERS, " step,, splash , step ")
    assert events.sheet("keeper").pieces[0].events == ("step", "splash")
    assert set_events(events, NUMBERS, "").sheet("keeper").pieces[0].events == ()


@pytest.mark.parametrize(("y_up", "units"), [(False, "pixels"), (True, "units")])
def test_bundles_tell_them_in_their_own_measures(y_up: bool, units: str) -> None:
    project = set_events(with_hand(), NUMBERS, "step")
    recipe = Recipe("Game", y_up, units)  # type: ignore[arg-type]
    told = json.loads(make_bundle(project, Art(DEMO), recipe).files["bundle.json"])
    entry = next(p for p in told["pieces"] if p["number"] in NUMBERS)
    assert entry["events"] == ["step"]
    [point] = entry["points"]
    high = entry["size"][1]
    expected = (5 / 16, (high - 9) / 16) if y_up else (5, 9)
    assert (point["name"], point["x"], point["y"]) == ("hand", *expected)
    assert Rect(0, 0, *entry["size"]).width > 5


@pytest.mark.parametrize("flipped", [False, True])
@given(columns=st.integers(0, 5), scale=st.integers(1, 3), off=st.tuples(*[st.integers(-4, 4)] * 2))
def test_a_strip_holds_every_frame_on_one_stand_and_is_cut_by_name_again(
    tmp_path_factory: pytest.TempPathFactory, flipped: bool, columns: int, scale: int, off: Any
) -> None:
    folder = tmp_path_factory.mktemp("strip")
    project, art, sheet = project_of([body(n, n, 1) for n in range(3)], folder)
    sheet = nudge(project, frozenset({2}), *off).sheet("reed")
    data, told = strip_out(art, sheet, sheet.pieces, columns, scale, flipped)
    picture, board = decode(data, "strip"), common_board(sheet.pieces)
    width, height = told["cell"]
    assert (width, height) == (board.width * scale, board.height * scale)
    assert picture.shape[:2] == (height * told["rows"], width * told["columns"])
    for piece, place in zip(sheet.pieces, told["frames"], strict=True):
        shown = picture[place["y"] : place["y"] + height, place["x"] : place["x"] + width]
        expected = enlarged(on_board(art.piece(sheet, piece), piece, board), scale)
        np.testing.assert_array_equal(shown[:, ::-1] if flipped else shown, expected)
    assert told["animations"][0]["frames"] == [0, 1, 2]
    listed = listed_pieces(as_text(told), picture[..., 3] > 0)
    assert {one.name: one.rect for one in listed} == {
        one["name"]: Rect(one["x"], one["y"], width, height) for one in told["frames"]
    }
    with pytest.raises(Refusal, match="Select frames"):
        strip_out(art, sheet, [])
    with pytest.raises(Refusal, match="Take other columns"):
        strip_out(art, sheet, list(sheet.pieces) * 900, scale=16)
