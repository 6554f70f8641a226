"""Keys of pictures that went through a lossy format, and the rim of the art beside them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.project.sheet import ColourKey
from rushweed.core.values import Colour
from tools.corpus.lossy import KEYS, Lossy, lossy_sheets, off, over, spilled

EACH = 6


@pytest.fixture(scope="module")
def sheets() -> list[Lossy]:
    return list(lossy_sheets(EACH))


@pytest.mark.slow
def test_keys_are_known_and_hardly_anything_of_them_stays(sheets: list[Lossy]) -> None:
    known, stays, seen = 0, 0.0, 0
    for sheet in sheets:
        key = guess_key(sheet.picture)
        if key is None or max(abs(a - b) for a, b in zip(key.colour, sheet.key, strict=True)) > 8:
            continue
        known += 1
        result = apply_key(sheet.picture, key)
        count = int((result[..., 3] > 0).sum())
        stays, seen = stays + spilled(result, sheet) * count, seen + count
    assert known >= 0.95 * len(sheets)
    assert stays / seen <= 0.005, "pixels nearer to the key than to the art"


@pytest.mark.slow
@pytest.mark.parametrize("seed", [100, 200])
def test_no_lossy_picture_is_keyed_as_if_it_were_exact(seed: int) -> None:
    """Whatever the key, black too, where ringing might as well be dark art."""
    sheets = list(lossy_sheets(12, seed))
    keys = [guess_key(sheet.picture) for sheet in sheets]
    assert all(key.tolerance for key in keys if key)
    assert sum(key is None for key in keys) <= 0.05 * len(sheets)


def test_what_was_not_lossy_keeps_an_exact_key(sheets: list[Lossy]) -> None:
    for sheet in sheets:
        assert guess_key(over(sheet.art, sheet.key)) == ColourKey(sheet.key)


@pytest.mark.slow
@pytest.mark.parametrize("key", KEYS, ids=lambda key: key.hex)
def test_cleaning_the_fringe_never_makes_exact_art_worse(key: Colour, sheets: list[Lossy]) -> None:
    for sheet in sheets:
        if sheet.key != key:
            continue
        flat = over(sheet.art, key)
        hard = off(apply_key(flat, ColourKey(key)), sheet.art)
        for fringe in (1, 2, 3, 4):
            assert off(apply_key(flat, ColourKey(key, 0, fringe)), sheet.art) <= hard + 0.02


@pytest.mark.slow
def test_cleaning_the_fringe_of_a_coloured_key_helps_lossy_art(sheets: list[Lossy]) -> None:
    for sheet in sheets:
        key = guess_key(sheet.picture)
        if key is None or sheet.key == Colour(0, 0, 0):
            continue
        plain = apply_key(sheet.picture, replace(key, fringe=0))
        for fringe in (1, 2, 3, 4):
            cleaned = apply_key(sheet.picture, replace(key, fringe=fringe))
            assert off(cleaned, sheet.art) <= off(plain, sheet.art)
            assert spilled(cleaned, sheet) <= spilled(plain, sheet)


def test_a_picture_of_nothing_and_one_of_art_alone_stay(sheets: list[Lossy]) -> None:
    key = ColourKey(Colour(255, 0, 255), 12, 3)
    flat = np.full((9, 9, 4), 255, np.uint8)
    flat[..., :3] = key.colour[:3]
    assert not apply_key(flat, key).any()
    art = np.full((9, 9, 4), 90, np.uint8)
    np.testing.assert_array_equal(apply_key(art, key), art)
