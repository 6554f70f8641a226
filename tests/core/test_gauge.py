"""Findings of Gauge, and the edits that cure them."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from rushweed.core.cut.animations import begin_animation
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.findings.all import find_all
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.pivots import (
    align_pivots,
    copy_pivot,
    from_foot,
    round_pivots,
    set_pivot,
    stand_on_feet,
)
from rushweed.core.gauge.treating import set_filter
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size
from tests.samples import checkered, write_picture


def bench(folder: Path, picture: np.ndarray) -> tuple[Project, Art]:
    art = Art(folder / "project")
    project, name = gather(Project(), art, [write_picture(folder / "reed.png", picture)])
    mask = solid(art.picture(project.sheet(name)))
    return cut(project, name, EvenCells(Size(16, 16)), mask), art


def found(project: Project, art: Art, code: str) -> list[Finding]:
    return [finding for finding in find_all(project, art) if finding.code == code]


def test_pivots_that_wander_or_lie_between_pixels_are_mended(tmp_path: Path) -> None:
    project, art = bench(tmp_path, checkered(16, 4).repeat(4, 0).repeat(4, 1))
    frames = [piece.number for piece in project.sheet("reed").pieces]
    project, _ = begin_animation(project, "reed", frames)
    assert not found(project, art, "wandering-pivot")
    wandering = set_pivot(project, frozenset(frames[1:2]), 5, 12)
    (finding,) = found(wandering, art, "wandering-pivot")
    assert finding.mend is not None
    mended = finding.mend(wandering).sheet("reed").pieces
    assert [p.pivot for p in mended] == [p.pivot for p in project.sheet("reed").pieces]
    between = set_pivot(project, frozenset(frames[:2]), 7.5, 16)
    (finding,) = found(between, art, "fractional-pivot")
    assert "2 pieces stand" in finding.what and finding.mend is not None
    assert not found(finding.mend(between), art, "fractional-pivot")
    assert not found(set_filter(between, ("reed",), "linear"), art, "fractional-pivot")


pieces = st.lists(
    st.tuples(st.integers(4, 20), st.integers(4, 20), st.integers(0, 3), st.integers(0, 3)),
    min_size=1,
    max_size=7,
)


@given(pieces)
def test_aligned_pivots_lie_alike_and_where_most_lay(made: list[tuple[int, int, int, int]]) -> None:
    drawn = tuple(
        Piece(n + 1, Rect(0, 0, width, height), Point(width // 2 + x, height - y))
        for n, (width, height, x, y) in enumerate(made)
    )
    source = Source("art/x.png", "0" * 64, Size(32, 32))
    project = Project(sheets=(Sheet("reed", (source,), pieces=drawn),))
    after = align_pivots(project, frozenset(piece.number for piece in drawn)).sheet("reed").pieces
    (place,) = {from_foot(piece) for piece in after}
    before = [from_foot(piece) for piece in drawn]
    assert before.count(place) == max(map(before.count, before))
    assert align_pivots(project, frozenset()) is project
    assert round_pivots(project, frozenset({1})) == project


def test_pieces_stand_on_their_feet_and_copy_pivots() -> None:
    mask = np.zeros((32, 64), bool)
    mask[4:20, 6:13] = True
    mask[8:31, 20:28] = True
    drawn = tuple(Piece(n + 1, Rect(16 * n, 0, 16, 32), Point(0, 0)) for n in range(3))
    source = Source("art/x.png", "0" * 64, Size(64, 32))
    project = Project(sheets=(Sheet("reed", (source,), pieces=drawn),))
    everything = frozenset({1, 2, 3})
    stood = stand_on_feet(project, "reed", everything, mask)
    pivots = [piece.pivot for piece in stood.sheet("reed").pieces]
    assert pivots == [Point(9, 20), Point(8, 31), Point(0, 0)], "what shows nothing stays"
    copied = copy_pivot(stood, 2, everything)
    assert {piece.pivot for piece in copied.sheet("reed").pieces} == {Point(8, 31)}
    assert copy_pivot(stood, 99, everything) is stood


def test_painted_art_drawn_nearest_is_told(tmp_path: Path) -> None:
    noise = np.random.default_rng(3).random((96, 96, 3))
    soft = ndimage.gaussian_filter(noise, (4, 4, 0))
    soft = (soft - soft.min()) / (soft.max() - soft.min())
    picture = np.full((96, 96, 4), 255, np.uint8)
    picture[..., :3] = np.rint(soft * 255)
    project, art = bench(tmp_path, picture)
    (finding,) = found(project, art, "jagged-paint")
    assert finding.mend is not None and not found(finding.mend(project), art, "jagged-paint")
    assert not found(finding.mend(project), art, "blurred-pixels")
    pixels, art = bench(tmp_path / "project", checkered(24, 24).repeat(2, 0).repeat(2, 1))
    assert not found(pixels, art, "jagged-paint")
