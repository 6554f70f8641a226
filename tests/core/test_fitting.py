"""Pictures made to fit another size: exact where they can be, the sources as they are."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.cutting import cut
from rushweed.core.cut.gathering import gather
from rushweed.core.cut.reshaping import (
    fit_sheets,
    set_enlarged,
    set_pixel,
    turn_sheets,
    unfitted,
    unit_of,
)
from rushweed.core.gather.art import Art
from rushweed.core.gather.fitting import fitted, uneven_of
from rushweed.core.project import files
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Box, Shape
from rushweed.core.project.sheet import EvenCells, Fitted
from rushweed.core.values import Refusal, Size
from tests.samples import write_picture

SIDES = st.integers(1, 40)


def noise(height: int, width: int) -> np.ndarray:
    picture = np.random.default_rng(height * 100 + width).integers(0, 256, (height, width, 4))
    return picture.astype(np.uint8)


@given(SIDES, SIDES, SIDES, SIDES)
def test_nearest_pixels_are_the_source_and_flat_colours_stay_flat(
    width: int, height: int, wide: int, high: int
) -> None:
    picture, size = noise(height, width), Size(wide, high)
    near = fitted(picture, size, "nearest")
    assert near.shape == (high, wide, 4)
    assert {tuple(p) for row in near.tolist() for p in row} <= {
        tuple(p) for row in picture.tolist() for p in row
    }
    flat = np.full((height, width, 4), (200, 30, 90, 255), np.uint8)
    assert (fitted(flat, size, "smoothed") == flat[0, 0]).all()
    smooth = fitted(picture, size, "smoothed")
    assert smooth[..., 3].min() >= picture[..., 3].min()
    assert (uneven_of(width, wide) == 0) == (wide % width == 0 or wide == 0 or width == 1)


@given(st.integers(2, 12), st.integers(1, 20), st.integers(1, 4))
def test_cells_do_not_run_into_each_other(cell: int, shown: int, count: int) -> None:
    """Each cell of one colour: no pixel of the result is of two."""
    colours = np.random.default_rng(cell).integers(0, 256, (1, count, 4)).astype(np.uint8)
    picture = colours.repeat(cell, axis=1).repeat(cell, axis=0)
    for way in ("nearest", "smoothed"):
        result = fitted(picture, Size(shown * count, shown), way)
        for place in range(count):
            part = result[:, place * shown : (place + 1) * shown]
            wanted = fitted(picture[:, place * cell :][:, :cell], Size(shown, shown), way)
            np.testing.assert_array_equal(part, wanted)


@pytest.fixture
def a_project(tmp_path: Path) -> tuple[Project, Art]:
    picture = noise(48, 96)
    picture[..., 3] = 255
    write_picture(tmp_path / "ground.png", picture)
    art = Art(tmp_path)
    project, _ = gather(Project(), art, [tmp_path / "ground.png"])
    project = cut(project, "ground", EvenCells(Size(24, 24)), np.ones((48, 96), bool))
    shape = (Shape(Box(0, 12, 24, 12)),)
    numbers = frozenset(piece.number for _, piece in project.pieces())
    return with_pieces(project, numbers, lambda piece: replace(piece, shapes=shape)), art


def test_cells_fit_with_their_shapes_and_come_back(a_project: tuple[Project, Art]) -> None:
    project, art = a_project
    small = fit_sheets(project, ("ground",), Size(16, 16), "smoothed")
    sheet = small.sheet("ground")
    assert sheet.fitted == Fitted(Size(24, 24), Size(16, 16), "smoothed")
    assert sheet.layout == EvenCells(Size(16, 16)) and sheet.size == Size(64, 32)
    assert {piece.rect.size for piece in sheet.pieces} == {Size(16, 16)}
    assert sheet.pieces[0].shapes == (Shape(Box(0, 8, 16, 8)),)
    assert art.picture(sheet).shape == (32, 64, 4)
    assert unfitted(sheet) == project.sheet("ground")
    twice = fit_sheets(small, ("ground",), Size(48, 48)).sheet("ground")
    assert twice.fitted is None and twice.enlarged == 2, "a whole factor where there is one"
    assert unit_of(set_enlarged(small, ("ground",), 1).sheet("ground")) == Size(24, 24)


@pytest.mark.parametrize("turns", [(), ("quarter",), ("quarter", "across"), ("down", "quarter")])
@pytest.mark.parametrize("pixel", [1, 2])
def test_a_picture_is_as_large_as_its_sheet_says(
    turns: tuple[str, ...], pixel: int, a_project: tuple[Project, Art]
) -> None:
    project, art = a_project
    project = set_pixel(project, ("ground",), pixel)
    for shown in (Size(7, 7), Size(16, 10), Size(40, 25)):
        fit = fit_sheets(project, ("ground",), shown)
        for turn in turns:
            fit = turn_sheets(fit, ("ground",), turn)  # type: ignore[arg-type]
        sheet = fit.sheet("ground")
        assert art.picture(sheet).shape[1::-1] == sheet.size
        assert unit_of(sheet) == (shown if len(turns) == 0 else Size(shown.height, shown.width))


def test_what_cannot_fit_is_refused_and_saved_as_it_is(
    a_project: tuple[Project, Art], tmp_path: Path
) -> None:
    project, _ = a_project
    gaps = cut(project, "ground", EvenCells(Size(22, 22), gap=Size(2, 2)), np.ones((48, 96), bool))
    with pytest.raises(Refusal, match="does not come out whole"):
        fit_sheets(gaps, ("ground",), Size(16, 16))
    assert fit_sheets(gaps, ("ground",), Size(11, 11)).sheet("ground").layout == EvenCells(
        Size(11, 11), gap=Size(1, 1)
    )
    with pytest.raises(Refusal, match="larger than"):
        fit_sheets(project, ("ground",), Size(10_000, 10_000))
    small = fit_sheets(project, ("ground",), Size(20, 18))
    files.save(small, tmp_path / "saved")
    assert files.load(tmp_path / "saved").sheet("ground") == small.sheet("ground")
