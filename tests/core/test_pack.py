"""What was done to one sheet is offered for those that are like it, and for no others."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.naming import name_by_pattern
from rushweed.core.cut.reshaping import fit_sheets, set_enlarged
from rushweed.core.gather.art import Art
from rushweed.core.gather.sources import set_colour_key
from rushweed.core.gauge.pack import same_for_kin
from rushweed.core.gauge.pivots import set_anchor
from rushweed.core.gauge.treating import set_point
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells
from rushweed.core.values import Colour, Size
from tests.samples import write_picture

GREEN = (10, 200, 40, 255)
KIN = ("warden_blue", "warden_red")
NAMES = (*KIN, "warden_dusk", "tree")


@pytest.fixture
def a_pack(tmp_path: Path) -> tuple[Project, Art]:
    """Three wardens alike but for colours, one of them on clear ground, and a tree."""
    art, project = Art(tmp_path), Project()
    for place, name in enumerate(NAMES):
        size = (32, 64) if name != "tree" else (70, 20)
        picture = np.zeros((*size, 4), np.uint8)
        if name != "warden_dusk":
            picture[:] = GREEN
        picture[8:28, 4:12] = picture[8:28, 36:44] = (200, 30 * place, 60, 255)
        project, _ = gather(project, art, [write_picture(tmp_path / f"{name}.png", picture)])
        cell = Size(16, 32) if name != "tree" else Size(20, 70)
        project = cut(project, name, EvenCells(cell), np.ones(size, bool))
    return project, art


def numbers(project: Project, name: str = "warden_blue") -> frozenset[int]:
    return frozenset(piece.number for piece in project.sheet(name).pieces)


ONE = ("warden_blue",)
DEEDS: list[tuple[str, Callable[[Project], Project], tuple[str, ...]]] = [
    ("the look", lambda p: set_point(p, ONE, "filter", "linear"), ("warden_red", "warden_dusk")),
    ("the size", lambda p: set_enlarged(p, ONE, 2), ("warden_red", "warden_dusk")),
    ("the size", lambda p: fit_sheets(p, ONE, Size(12, 24)), ("warden_red", "warden_dusk")),
    (
        "the pivot",
        lambda p: set_anchor(p, numbers(p), "Centre"),
        ("warden_red", "warden_dusk"),
    ),
    (
        "names and animations",
        lambda p: name_by_pattern(p, "warden_blue", "{sheet}_{n}", []),
        ("warden_red", "warden_dusk"),
    ),
    ("the colour key", lambda p: set_colour_key(p, ONE, Colour(*GREEN)), ("warden_red",)),
]


@pytest.mark.parametrize(("what", "act", "kin"), DEEDS)
def test_the_same_is_offered_for_kin_and_does_the_same(
    what: str,
    act: Callable[[Project], Project],
    kin: tuple[str, ...],
    a_pack: tuple[Project, Art],
) -> None:
    project, art = a_pack
    after = act(project)
    same = same_for_kin(project, after, art)
    assert same is not None and (same.what, same.sheet, same.names) == (what, "warden_blue", kin)
    everywhere = same.do(after)
    assert same_for_kin(project, everywhere, art) is None, "several sheets: nobody is asked"
    assert same_for_kin(after, act(everywhere), art) is None
    one, other = everywhere.sheet("warden_blue"), everywhere.sheet("warden_red")
    assert (one.treatment, one.differences) == (other.treatment, other.differences)
    assert (one.size, one.fitted, one.enlarged) == (other.size, other.fitted, other.enlarged)
    assert {p.pivot for p in one.pieces} == {p.pivot for p in other.pieces}
    told = [p.name.replace("blue", "red") for p in one.pieces]
    assert what == "the colour key" or told == [p.name for p in other.pieces]
    assert everywhere.sheet("tree") == project.sheet("tree")


def test_kin_with_other_cells_keep_the_proportion(a_pack: tuple[Project, Art]) -> None:
    project, art = a_pack
    project = cut(project, "warden_red", EvenCells(Size(32, 32)), np.ones((32, 64), bool))
    after = fit_sheets(project, ONE, Size(12, 24))
    same = same_for_kin(project, after, art)
    assert same is not None
    everywhere = same.do(after)
    assert {everywhere.sheet(name).size for name in KIN} == {Size(48, 24)}
    assert everywhere.sheet("warden_red").layout == EvenCells(Size(24, 24))


def test_animations_follow_by_place_and_what_was_told_already_stays(
    a_pack: tuple[Project, Art],
) -> None:
    project, art = a_pack
    told = name_by_pattern(project, "warden_dusk", "mine_{n}", [])
    frames = [piece.number for piece in told.sheet("warden_blue").pieces][:3]
    after = set_animation(told, "warden_blue", "walk", frames, 9)
    same = same_for_kin(told, after, art)
    assert same is not None and same.names == ("warden_red",)
    (walk,) = same.do(after).sheet("warden_red").animations
    assert walk.rate == 9 and len(walk.frames) == 3
    assert set(walk.frames) <= numbers(after, "warden_red")
    recut = cut(project, "warden_blue", EvenCells(Size(32, 32)), np.ones((32, 64), bool))
    assert same_for_kin(project, recut, art) is None
    renamed = replace(project, sheets=project.sheets[1:])
    assert same_for_kin(project, renamed, art) is None
