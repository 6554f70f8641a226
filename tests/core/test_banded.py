"""What is found in a picture some rows at a time is what is found in all of it at once."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.findings import gauge
from rushweed.core.gather import banded, smoothing

sides = st.integers(1, 24), st.integers(3, 20)


@given(st.integers(1, 90), *sides, st.integers(1, 80), st.integers(0, 99))
def test_colours_are_counted_as_all_at_once(
    kinds: int, height: int, width: int, most: int, seed: int
) -> None:
    words = np.random.default_rng(seed).integers(0, kinds, (height, width)).astype(np.uint32)
    picture = words.view(np.uint8).reshape(height, width, 4)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(banded, "AT_ONCE", 37)
        assert gauge._colours(picture, most) == min(len(np.unique(words)), most + 1)


@given(*sides, st.integers(0, 99))
def test_steps_and_bends_are_those_of_the_whole_picture(height: int, width: int, seed: int) -> None:
    picture = np.random.default_rng(seed).integers(0, 256, (height, width, 4), np.uint8)
    steps = np.abs(np.diff(picture.astype(int), axis=1)).max(axis=2)
    grey = smoothing.multiplied(picture).sum(axis=2)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(banded, "AT_ONCE", 37)
        np.testing.assert_array_equal(
            gauge._steps(picture), np.bincount(steps.ravel(), minlength=256)
        )
        np.testing.assert_allclose(
            smoothing._bends(picture), np.abs(np.diff(grey, 2, axis=1)).mean(axis=0)
        )
