"""Trees are walked as they were learned, and what stands for nothing is told from what does not."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.cut.seeing.names import sizes_in
from rushweed.core.cut.seeing.trees import Trees
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.solid import solid
from rushweed.core.values import Size
from tools.corpus.figures import palette, texture
from tools.corpus.laying import animated_rows, lay_out
from tools.corpus.sheets import corpus

pytestmark = pytest.mark.slow

MEASURES, DEPTH = 3, 3
NODES = 2 ** (DEPTH + 1) - 1
thresholds = st.integers(-3, 3)


@st.composite
def trees(draw: st.DrawFn) -> Trees:
    """Full binary trees some of whose nodes are leaves early."""
    count = draw(st.integers(1, 4))
    measure = np.full((count, NODES), -1, np.int16)
    for tree in range(count):
        for node in range(NODES // 2):
            parent = (node - 1) // 2
            if node == 0 or measure[tree, parent] >= 0:
                measure[tree, node] = draw(st.integers(-1, MEASURES - 1))
    places = np.arange(NODES)
    left = np.broadcast_to(np.minimum(2 * places + 1, NODES - 1), measure.shape).astype(np.int16)
    right = np.broadcast_to(np.minimum(2 * places + 2, NODES - 1), measure.shape).astype(np.int16)
    size = count * NODES
    values = draw(st.lists(thresholds, min_size=size, max_size=size))
    worth = draw(st.lists(st.integers(-9, 9), min_size=size, max_size=size))
    shape = (count, NODES)
    return Trees(
        measure,
        np.array(values, float).reshape(shape),
        left,
        right,
        np.array(worth, np.float32).reshape(shape),
        DEPTH,
    )


@given(trees(), st.lists(st.tuples(*[st.floats(-4, 4, width=32)] * MEASURES), min_size=1))
def test_trees_are_walked_by_their_thresholds(made: Trees, rows: list[tuple[float, ...]]) -> None:
    def walked(tree: int, row: tuple[float, ...]) -> float:
        node = 0
        while made.measure[tree, node] >= 0:
            lower = row[made.measure[tree, node]] <= made.threshold[tree, node]
            node = int((made.left if lower else made.right)[tree, node])
        return float(made.worth[tree, node])

    wanted = [sum(walked(tree, row) for tree in range(len(made.measure))) for row in rows]
    np.testing.assert_allclose(made.scores(np.array(rows, np.float32)), wanted, atol=1e-6)


@pytest.mark.parametrize("ground", [(0, 0, 0), (255, 255, 255), (255, 0, 255), (0, 128, 128)])
def test_a_flat_backdrop_of_figures_stands_for_nothing(ground: tuple[int, int, int]) -> None:
    for seed in range(6):
        draw = np.random.default_rng(seed)
        clear = lay_out(animated_rows(draw, (32, 32), 2, 6), (32, 32))
        flat = clear.copy()
        flat[clear[..., 3] == 0] = (*ground, 255)
        flat[..., 3] = 255
        key = guess_key(flat)
        assert key is not None and tuple(key.colour)[:3] == ground
        freed = solid(apply_key(flat, key))
        drawn = clear[..., 3] > 0
        assert not (freed & ~drawn).any(), "all of the backdrop is nothing"


def test_a_picture_that_fills_its_canvas_has_no_key() -> None:
    full = [one for one in corpus(6, 3000) if one.kind in ("one picture, full", "bold tiles")]
    assert [guess_key(sample.picture) for sample in full] == [None] * len(full)
    draw = np.random.default_rng(3)
    tile = texture(draw, 64, 64, palette(draw))
    assert guess_key(np.ascontiguousarray(tile)) is None


@given(st.integers(4, 256), st.integers(4, 256), st.sampled_from(["x", "X", "×", "_x_"]))
def test_sizes_in_names(width: int, height: int, between: str) -> None:
    found = sizes_in(f"fen_{width}{between}{height}_b")
    assert found in ({Size(width, height)}, set()) and sizes_in("fen") == set()
    assert between == "_x_" or found == {Size(width, height)}
