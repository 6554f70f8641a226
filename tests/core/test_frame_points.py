"""Named points and events of frames: set, kept on their pixels, told to games."""

from __future__ import annotations

import json
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.cut.correcting import recut
from rushweed.core.cut.reshaping import scaled, turn_sheets
from rushweed.core.gather.art import Art
from rushweed.core.gauge.frame_points import (
    drop_point,
    point_of,
    put_point,
    rename_point,
    set_events,
)
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Rect, Refusal
from tests.conftest import DEMO

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
