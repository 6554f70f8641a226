"""What is trimmed anew where a picture changed is what is trimmed of the whole picture."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.bale.trimming import trims_of
from rushweed.core.gather.art import Art, cut_out
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


@given(st.lists(rects, min_size=1, max_size=4).map(tuple), st.lists(dots, max_size=12))
def test_what_is_kept_is_all_that_is_drawn_and_no_more(
    cut: tuple[Rect, ...], drawn: list[tuple[int, int, int]]
) -> None:
    """Laid back where it was kept from, it is the piece; each of its rims shows something."""
    art, picture = Art(Path()), np.zeros((SIDE, SIDE, 4), np.uint8)
    for x, y, value in drawn:
        picture[y, x] = value
    for rect, trim in zip(cut, trims_of(art, sheet_of(art, picture, cut), True), strict=True):
        piece = cut_out(picture, rect)
        kept = cut_out(picture, trim.box)
        assert trim.inside.rect == Rect(0, 0, *trim.box.size) and trim.inside.size == rect.size
        x, y = (int(at) for at in trim.inside.offset)
        laid = np.zeros_like(piece)
        laid[y : y + trim.box.height, x : x + trim.box.width] = kept
        assert (laid[..., 3] == piece[..., 3]).all()
        alpha = kept[..., 3]
        rims = alpha[0], alpha[-1], alpha[:, 0], alpha[:, -1]
        assert all(rim.any() for rim in rims) or (alpha.shape == (1, 1) and not piece[..., 3].any())
