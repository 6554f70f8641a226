"""Sampling against slow readings of the rule, and surrounds."""

from __future__ import annotations

from itertools import pairwise
from math import cos, floor, radians, sin
from typing import Literal
from unittest.mock import patch

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from rushweed.core.gauge import viewing
from rushweed.core.gauge.alpha import premultiplied, straight
from rushweed.core.gauge.borders import check_borders, surround
from rushweed.core.gauge.sampling import Placing, Sampler, drawn, mip_levels, scaled
from rushweed.core.gauge.viewing import WAYS, Way, view
from rushweed.core.project.rules import Treatment
from rushweed.core.project.sheet import Borders
from rushweed.core.values import Point, Refusal, Size

sides = st.integers(1, 9)
pictures = st.tuples(sides, sides).flatmap(
    lambda size: arrays.arrays(np.uint8, (*size, 4), elements=st.integers(0, 255))
)
placings = st.builds(
    Placing,
    st.sampled_from([0.3, 0.5, 1.0, 1.5, 2.0, 3.3]),
    st.sampled_from([0.0, 20.0, 90.0, 213.0]),
    st.builds(Point, st.sampled_from([0.0, 0.5, -2.25]), st.sampled_from([0.0, 1.5])),
)


def slow_texel(level: np.ndarray, x: float, y: float, linear: bool) -> np.ndarray:
    height, width = level.shape[:2]

    def at(column: int, row: int) -> np.ndarray:
        return level[min(max(row, 0), height - 1), min(max(column, 0), width - 1)]

    if not linear:
        return at(floor(x), floor(y))
    left, top = floor(x - 0.5), floor(y - 0.5)
    across, down = x - 0.5 - left, y - 0.5 - top
    above = at(left, top) * (1 - across) + at(left + 1, top) * across
    below = at(left, top + 1) * (1 - across) + at(left + 1, top + 1) * across
    return above * (1 - down) + below * down


@given(pictures, placings, st.booleans())
def test_every_pixel_is_read_as_the_rule_says(
    picture: np.ndarray, placing: Placing, linear: bool
) -> None:
    screen = Size(13, 10)
    shown = drawn(picture, screen, placing, Sampler("linear" if linear else "nearest"))
    height, width = picture.shape[:2]
    level = premultiplied(picture) if linear else picture.astype(np.float32)
    angle = radians(placing.turn)
    for row in range(screen.height):
        for column in range(screen.width):
            across = column + 0.5 - screen.width / 2 - placing.shift.x
            down = row + 0.5 - screen.height / 2 - placing.shift.y
            x = (across * cos(angle) + down * sin(angle)) / placing.scale + width / 2
            y = (down * cos(angle) - across * sin(angle)) / placing.scale + height / 2
            if min(abs(x - round(x)), abs(y - round(y))) < 1e-6:
                continue  # on the line between two texels either may be read
            if not (0 <= x < width and 0 <= y < height):
                assert not shown[row, column].any()
            elif linear:
                want = straight(slow_texel(level, x, y, True).astype(np.float32)[None, None])[0, 0]
                apart = premultiplied(want[None, None]) - premultiplied(shown[row, column][None])
                assert np.abs(apart).max() <= 1.01
            else:
                assert (shown[row, column] == slow_texel(level, x, y, False)).all()


@given(pictures, st.integers(1, 4))
def test_whole_factors_keep_every_pixel_and_both_ways_to_scale_agree(
    picture: np.ndarray, factor: int
) -> None:
    height, width = picture.shape[:2]
    size = Size(width * factor, height * factor)
    large = picture.repeat(factor, 0).repeat(factor, 1)
    np.testing.assert_array_equal(drawn(picture, size, Placing(factor)), large)
    np.testing.assert_array_equal(scaled(picture, *size, "nearest"), large)
    linear = drawn(picture, size, Placing(factor), Sampler("linear"))
    np.testing.assert_allclose(linear, scaled(picture, *size, "linear"), atol=1)


@given(pictures)
def test_mipmaps_keep_the_mean_and_end_in_one_texel(picture: np.ndarray) -> None:
    levels = mip_levels(picture)
    assert levels[-1].shape[:2] == (1, 1)
    for one, other in pairwise(levels):
        assert other.shape[:2] == tuple(max(1, side // 2) for side in one.shape[:2])
        np.testing.assert_allclose(other.mean((0, 1)), one.mean((0, 1)), atol=0.51)
    far = drawn(picture, Size(1, 1), Placing(1 / 64), Sampler("nearest", True))
    assert far.shape == (1, 1, 4)


@given(
    st.integers(1, 6), st.integers(1, 6), st.integers(1, 6), st.integers(1, 6), st.integers(0, 30)
)
def test_a_surround_keeps_its_corners_at_any_size(
    left: int, top: int, right: int, bottom: int, more: int
) -> None:
    dice = np.random.default_rng(left * 7 + top)
    height, width = top + bottom + 3, left + right + 2
    picture = dice.integers(1, 256, (height, width, 4)).astype(np.uint8)
    for middle in ("stretched", "tiled"):
        borders = Borders(left, top, right, bottom, middle)
        large = surround(picture, borders, Size(width + more, height + more))
        assert large.shape == (height + more, width + more, 4)
        for rows, columns in ((np.s_[:top], np.s_[:left]), (np.s_[-bottom:], np.s_[-right:])):
            np.testing.assert_array_equal(large[rows, columns], picture[rows, columns])
    same = surround(picture, Borders(left, top, right, bottom), Size(width, height))
    np.testing.assert_array_equal(same, picture)
    with pytest.raises(Refusal, match="cross"):
        check_borders(Borders(width, 0, 1, 0), Size(width, height))


large = st.tuples(st.integers(1, 90), st.integers(1, 90)).flatmap(
    lambda size: arrays.arrays(np.uint8, (*size, 4), elements=st.integers(0, 255), fill=st.just(90))
)


@given(large, st.sampled_from(WAYS), st.floats(0, 8), st.sampled_from(["nearest", "linear"]))
def test_of_a_large_piece_all_that_the_screen_shows_is_drawn(
    piece: np.ndarray, way: Way, seconds: float, sampled: Literal["nearest", "linear"]
) -> None:
    """The same as where nothing of it is left out."""
    treatment, screen = Treatment("Some", filter=sampled), Size(24, 15)
    shown = view(piece, way, treatment, screen, seconds)
    with patch.object(viewing, "_middle", lambda whole, side: whole):
        assert (shown == view(piece, way, treatment, screen, seconds)).all()
    side = 7
    middle = viewing._middle(piece, side)
    for axis in (0, 1):
        whole, kept = piece.shape[axis], middle.shape[axis]
        assert kept == (whole if whole <= side else side + (whole - side) % 2)
    top, left = ((piece.shape[axis] - middle.shape[axis]) // 2 for axis in (0, 1))
    assert (piece[top : top + middle.shape[0], left : left + middle.shape[1]] == middle).all()


@given(st.lists(pictures, min_size=1, max_size=4), st.integers(0, 3), st.integers(0, 3))
def test_on_a_page_of_neighbours_edges_are_repeated_then_clear_and_others_lie_apart(
    pieces: list[np.ndarray], edge: int, gap: int
) -> None:
    page, places = viewing._page(pieces, edge, gap)
    bright, owned = (255, 0, 255, 255), np.zeros(page.shape[:2], bool)
    for piece, place in zip(pieces, places, strict=True):
        assert (page[place.y : place.bottom, place.x : place.right] == piece).all()
        rim = edge + gap
        for row in range(place.y - rim, place.bottom + rim):
            for column in range(place.x - rim, place.x + place.width + rim):
                across = min(max(column, place.x), place.right - 1)
                down = min(max(row, place.y), place.bottom - 1)
                far = max(abs(column - across), abs(row - down))
                wanted = page[down, across] if far <= edge else 0
                assert (page[row, column] == wanted).all() and not owned[row, column]
                owned[row, column] = True
    assert (page[~owned] == bright).all()
    rows, columns = np.nonzero(owned)
    apart = viewing.APART
    assert (rows.min(), columns.min()) == (apart, apart)
    assert page.shape[0] - 1 - rows.max() == apart
    assert page.shape[1] - 1 - columns.max() == apart
