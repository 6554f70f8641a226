"""What stands for a sheet in the rack shows something of it, whatever its size."""

from __future__ import annotations

import tracemalloc
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.cutting import cut
from rushweed.core.gather.art import Art
from rushweed.core.gather.memory import Memory
from rushweed.core.gather.pictures import content_hash
from rushweed.core.gather.thumbnails import thumbnail
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Kind, Sheet, Source
from rushweed.core.values import Size

SIDE = 38
KINDS: tuple[Kind, ...] = ("picture", "sheet", "tileset")
sides = st.one_of(st.integers(1, 90), st.sampled_from([300, 1400, 5000]))


@given(sides, sides, st.floats(0, 1), st.floats(0, 1), st.sampled_from(KINDS))
def test_a_thumbnail_is_small_and_shows_what_is_drawn(
    width: int, height: int, across: float, down: float, kind: Kind
) -> None:
    """One dot of 9 × 9 px lies anywhere, in red; all else is clear."""
    picture = np.zeros((height, width, 4), np.uint8)
    x, y = int(across * (width - 1)), int(down * (height - 1))
    picture[y : y + 9, x : x + 9] = (255, 0, 0, 255)
    art = Art(Path(), Memory())
    art.put(picture.tobytes(), picture)
    source = Source("art/dot.png", content_hash(picture.tobytes()), Size(width, height))
    project = Project(sheets=(Sheet("dot", (source,), kind),))
    if kind != "picture":
        cells = EvenCells(Size(max(1, width // 3), max(1, height // 2)))
        project = cut(project, "dot", cells, picture[..., 3] > 0)
    shown = thumbnail(art, project.sheet("dot"), SIDE)
    assert min(shown.shape[:2]) >= 1 and max(shown.shape[:2]) < 4 * SIDE
    assert shown[..., 3].any(), "something is seen"
    assert (shown[shown[..., 3] > 0][:, 0] == 255).all(), "no colour is mixed with what is clear"


def test_a_thumbnail_of_a_huge_picture_takes_little_memory() -> None:
    """Whoever paints the rack waits for it."""
    picture = np.full((8192, 8192, 4), (40, 90, 200, 255), np.uint8)
    art = Art(Path(), Memory())
    art.put(b"huge", picture)
    source = Source("art/huge.png", content_hash(b"huge"), Size(8192, 8192))
    tracemalloc.start()
    shown = thumbnail(art, Sheet("huge", (source,)), SIDE)
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert (shown == (40, 90, 200, 255)).all() and max(shown.shape) < 4 * SIDE
    assert most < 1 << 24, "of a picture of a quarter of a gigabyte"
