"""Art that was enlarged unevenly or smoothed, and brought back to its pixels."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from rushweed.core.cut.gathering import accept, gather
from rushweed.core.cut.reshaping import bring_back
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.enlargement import how_enlarged
from rushweed.core.gather.smoothing import redrawn
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Kernel, Redrawn
from rushweed.core.values import Refusal, Size
from tests.corpus.sheets import corpus
from tests.samples import write_picture

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


def test_what_cannot_be_brought_back_is_refused(tmp_path: Path) -> None:
    art = Art(tmp_path / "project")
    paths = [
        write_picture(tmp_path / f"reed_{n}.png", np.full((20, 20, 4), 90 + n, np.uint8))
        for n in (1, 2)
    ]
    project, _ = gather(Project(), art, paths)
    [sheet] = project.sheets
    assert len(sheet.sources) == 2
    with pytest.raises(Refusal, match="one by one"):
        bring_back(project, sheet.name, Redrawn(Size(8, 8)))
