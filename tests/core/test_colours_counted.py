"""Colours are counted a part at a time, and no further than needed."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.findings import gauge


@given(st.integers(1, 90), st.integers(1, 400), st.integers(1, 80), st.integers(0, 99))
def test_colours_are_counted_as_all_at_once(kinds: int, pixels: int, most: int, seed: int) -> None:
    words = np.random.default_rng(seed).integers(0, kinds, (1, pixels)).astype(np.uint32)
    picture = words.view(np.uint8).reshape(1, pixels, 4)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(gauge, "PART", 37)
        assert gauge._colours(picture, most) == min(len(np.unique(words)), most + 1)
