"""What is trimmed anew where a picture changed is what is trimmed of the whole picture."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.trimming import trims_of
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture, content_hash
from rushweed.core.project.sheet import Piece, Sheet, Source
from rushweed.core.values import Point, Rect, Size

SIDE = 24
places = st.integers(-3, SIDE + 2)
rects = st.builds(Rect, places, places, st.integers(1, 12), st.integers(1, 12))
dots = st.tuples(st.integers(0, SIDE - 1), st.integers(0, SIDE - 1), st.integers(0, 255))
steps = st.lists(st.tuples(st.lists(dots, max_size=6), st.booleans()), min_size=1, max_size=5)


def sheet_of(art: Art, picture: Picture, cut: tuple[Rect, ...]) -> Sheet:
    data = picture.tobytes()
    art.put(data, picture)
    source = Source("art/dots.png", content_hash(data), Size(SIDE, SIDE))
    pieces = tuple(Piece(number, rect, Point(0, 0)) for number, rect in enumerate(cut, 1))
    return Sheet("dots", (source,), "loose", pieces=pieces)


@given(st.lists(rects, min_size=1, max_size=6).map(tuple), steps, st.booleans())
def test_trims_follow_a_picture(
    cut: tuple[Rect, ...], steps: list[tuple[list[tuple[int, int, int]], bool]], trimmed: bool
) -> None:
    art, picture = Art(Path()), np.zeros((SIDE, SIDE, 4), np.uint8)
    for drawn, moves in steps:
        picture = picture.copy()
        for x, y, value in drawn:
            picture[y, x] = value
        cut = (replace_first(cut, moves), *cut[1:])
        sheet, afresh = sheet_of(art, picture, cut), Art(Path())
        assert trims_of(art, sheet, trimmed) == trims_of(
            afresh, sheet_of(afresh, picture, cut), trimmed
        )
        again = replace(sheet, pieces=tuple(reversed(sheet.pieces)))
        assert trims_of(art, again, trimmed) == trims_of(art, sheet, trimmed)[::-1]


def replace_first(cut: tuple[Rect, ...], moves: bool) -> Rect:
    x, y, width, height = cut[0]
    return Rect(x + moves, y, width, height)
