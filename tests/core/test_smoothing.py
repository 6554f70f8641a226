"""Art that was enlarged unevenly or smoothed, and brought back to its pixels."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from rushweed.core.cut.gathering import accept, cut_as, gather
from rushweed.core.cut.reshaping import bring_back
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.enlargement import how_enlarged
from rushweed.core.gather.redrawing import redrawn
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Kernel, Redrawn
from rushweed.core.values import Refusal, Size
from tests.samples import write_picture
from tools.corpus.sheets import corpus

R = Image.Resampling
WAYS: dict[Kernel, R] = {"nearest": R.NEAREST, "linear": R.BILINEAR, "cubic": R.BICUBIC}


def small_sheets() -> list[np.ndarray]:
    made = [sample.picture for sample in corpus(1, 7)]
    return [one for one in made if min(one.shape[:2]) >= 40 and max(one.shape[:2]) <= 240][:8]


def larger(picture: np.ndarray, factor: float, way: Kernel) -> np.ndarray:
    height, width = picture.shape[:2]
    size = round(width * factor), round(height * factor)
    return np.asarray(
        Image.fromarray(picture).convert("RGBa").resize(size, WAYS[way]).convert("RGBA")
    )


@pytest.mark.slow
@pytest.mark.parametrize(
    ("factor", "way", "alike"),
    [
        (1.7, "nearest", 0.999),
        (2.5, "nearest", 0.999),
        (2.5, "linear", 0.98),
        (3, "linear", 0.98),
        (3.5, "linear", 0.98),
        (2, "cubic", 0.4),
        (2.5, "cubic", 0.4),
    ],
)
def test_the_factor_is_told_and_the_pixels_come_back(
    factor: float, way: Kernel, alike: float
) -> None:
    sheets = small_sheets()
    told, same = 0, []
    for picture in sheets:
        stored = larger(picture, factor, way)
        found = how_enlarged(stored)
        if found is None or found.redrawn.size != Size(picture.shape[1], picture.shape[0]):
            continue
        told += 1
        back = redrawn(stored, found.redrawn)
        both = (back[..., 3] > 0) | (picture[..., 3] > 0)
        off = np.abs(back.astype(int) - picture).max(axis=2)
        same.append((off[both] <= 12).mean())
    assert told >= 0.85 * len(sheets)
    assert np.mean(same) >= alike


def test_what_was_drawn_at_its_size_is_left_in_peace() -> None:
    for picture in small_sheets():
        assert how_enlarged(picture) is None


def test_a_sheet_is_brought_back_by_its_finding_and_keeps_its_cuts(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    picture = small_sheets()[0]
    size = Size(picture.shape[1], picture.shape[0])
    stored = larger(picture, 2.5, "nearest")
    project, _ = gather(Project(), art, [write_picture(tmp_path / "reed.png", stored)])
    [sheet] = project.sheets
    [finding] = [one for one in find_all(project, art) if one.code == "badly-enlarged"]
    assert finding.mend is not None and str(size) in finding.mend_words
    mended = finding.mend(accept(project, art, sheet.name))
    after = mended.sheet(sheet.name)
    assert after.size == size
    np.testing.assert_array_equal(art.stored(after), picture)
    assert all(piece.rect.right <= size.width for piece in after.pieces)
    assert not [one for one in find_all(mended, art) if one.code == "badly-enlarged"]
    files.save(mended, tmp_path / "project")
    assert files.load(tmp_path / "project") == mended
    again = bring_back(mended, sheet.name, None).sheet(sheet.name)
    assert again.size == sheet.size


@pytest.mark.parametrize("factor", [2, 3, 4, 5])
def test_a_part_of_a_screen_comes_back_pixel_by_pixel(factor: int) -> None:
    for seed, picture in enumerate(small_sheets()):
        draw = np.random.default_rng(seed)
        large = picture.repeat(factor, 0).repeat(factor, 1)
        left, top = draw.integers(0, factor, 2)
        right, bottom = large.shape[1] - draw.integers(0, factor), large.shape[0] - factor - 1
        part = large[top:bottom, left:right]
        found = how_enlarged(part)
        if left or top or part.shape[0] % factor or part.shape[1] % factor:
            assert found is not None and found.redrawn.factor == factor
            back = redrawn(part, found.redrawn)
            rows, columns = back.shape[:2]
            shown = picture[:rows, :columns]
            assert found.redrawn.size == Size(columns, rows)
            np.testing.assert_array_equal(back, shown)


@pytest.mark.slow
@pytest.mark.parametrize(("way", "alike"), [("linear", 0.98), ("cubic", 0.4)])
@pytest.mark.parametrize("factor", [2, 3, 5])
def test_a_smoothed_part_of_a_screen_comes_back(factor: int, way: Kernel, alike: float) -> None:
    """Wherever within a pixel it begins and ends; the pixels at its rim can only be guessed."""
    sheets, told, same = small_sheets(), 0, []
    for seed, picture in enumerate(sheets):
        left, top, right, bottom = np.random.default_rng(seed + factor).integers(1, 3 * factor, 4)
        part = larger(picture, factor, way)[top:-bottom, left:-right]
        found = how_enlarged(part)
        if found is None or found.redrawn.factor != factor:
            continue
        told += 1
        assert found.redrawn.cut == Size(left % factor, top % factor)
        back = redrawn(part, found.redrawn)
        y, x = top // factor, left // factor
        shown = picture[y : y + back.shape[0], x : x + back.shape[1]][1:-1, 1:-1]
        back = back[1:-1, 1:-1]
        both = (back[..., 3] > 0) | (shown[..., 3] > 0)
        same.append((np.abs(back.astype(int) - shown).max(axis=2)[both] <= 12).mean())
    assert told >= 0.85 * len(sheets)
    assert np.mean(same) >= alike


def test_a_part_of_a_screen_keeps_its_cuts_and_can_be_left_as_it_was(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    part = small_sheets()[0].repeat(3, 0).repeat(3, 1)[2:, 1:]
    project, _ = gather(Project(), art, [write_picture(tmp_path / "reed.png", part)])
    name = project.sheets[0].name
    project = cut_as(project, art, name, EvenCells(Size(24, 24), Size(2, 1)))
    before = project.sheet(name)
    [finding] = [one for one in find_all(project, art) if one.code == "badly-enlarged"]
    assert "3 times and cut off" in finding.what and finding.mend is not None
    mended = finding.mend(project)
    after = mended.sheet(name)
    assert after.layout == EvenCells(Size(8, 8), Size(1, 1)) and len(after.pieces) > 4
    for one, two in zip(before.pieces, after.pieces, strict=True):
        assert two.rect.size == Size(8, 8)
        large = art.piece(before, one)
        np.testing.assert_array_equal(art.piece(after, two), large[1::3, 1::3])
    files.save(mended, tmp_path / "project")
    assert files.load(tmp_path / "project") == mended
    assert bring_back(mended, name, None) == project


def test_numbered_frames_come_back_each_by_itself(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    drawn = small_sheets()[0]
    frames = [drawn, np.ascontiguousarray(drawn[::-1])]
    paths = [
        write_picture(tmp_path / f"reed_{n}.png", larger(frame, 2.5, "nearest"))
        for n, frame in enumerate(frames)
    ]
    project, _ = gather(Project(), art, paths)
    [sheet] = project.sheets
    assert len(sheet.sources) == 2
    [finding] = [one for one in find_all(project, art) if one.code == "badly-enlarged"]
    assert finding.mend is not None
    back = art.stored(finding.mend(project).sheet(sheet.name))
    np.testing.assert_array_equal(back, np.hstack(frames))


def test_what_cannot_be_brought_back_is_refused(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    paths = [
        write_picture(tmp_path / f"reed_{n}.png", np.full((20, 20 + n, 4), 90 + n, np.uint8))
        for n in (1, 2)
    ]
    project, _ = gather(Project(), art, paths)
    [sheet] = project.sheets
    assert len(sheet.sources) == 2
    with pytest.raises(Refusal, match="before they are joined"):
        bring_back(project, sheet.name, Redrawn(Size(8, 8)))
