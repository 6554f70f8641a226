"""Scores from decision trees that were learned elsewhere: many trees and rows at once."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Floats, Indices, Reals

WEIGHTS = Path(__file__).parent / "weights.npz"


@dataclass(frozen=True)
class Trees:
    """Boosted trees (J. H. Friedman, Greedy function approximation: a gradient boosting machine,
    Annals of Statistics 29, 2001), flattened.

    Arrays of shape (trees, nodes): at each node the measure that is looked at (−1 at a leaf), the
    value up to which one goes on at `left`, else at `right`, and the worth of a leaf.
    """

    measure: npt.NDArray[np.int16]
    threshold: Reals
    left: npt.NDArray[np.int16]
    right: npt.NDArray[np.int16]
    worth: Floats
    depth: int

    def scores(self, rows: Floats) -> Reals:
        """The sum of all trees for each row, of shape (rows, measures)."""
        count, nodes = self.measure.shape
        looked_at, onwards = self._flat
        starts = np.arange(0, rows.size, rows.shape[1])
        node = np.repeat(np.arange(0, count * nodes, nodes)[:, None], len(rows), axis=1)
        for _ in range(self.depth):
            higher = rows.take(looked_at.take(node) + starts) > self.threshold.take(node)
            node *= 2
            node += higher
            node = onwards.take(node)
        total: Reals = self.worth.take(node).sum(axis=0, dtype=np.float64)
        return total

    @cached_property
    def _flat(self) -> tuple[Indices, Indices]:
        """The measure looked at by each node of all trees in a row, and the two nodes one goes on
        to from each; from a leaf to itself."""
        nodes = np.arange(self.measure.size).reshape(self.measure.shape)
        leaf = self.measure < 0
        ways = [np.where(leaf, nodes, nodes[:, :1] + way) for way in (self.left, self.right)]
        return np.maximum(self.measure, 0).ravel().astype(np.intp), np.stack(ways, axis=-1).ravel()


@dataclass(frozen=True, slots=True)
class Weights:
    """What was learned: trees that judge divisions of a side, trees that judge readings, how sure
    the best one is (see `sureness`), alone and next to other sheets, and from what and when all of
    it was learned."""

    sides: Trees
    readings: Trees
    sure: tuple[float, ...]
    sure_in_company: tuple[float, ...]
    learned: dict[str, Any]


@lru_cache(maxsize=1)
def weights() -> Weights:
    """The weights that come with the program."""
    with np.load(WEIGHTS, allow_pickle=False) as data:
        learned = json.loads(str(data["learned"]))
        alone, company = (tuple(data[name].tolist()) for name in ("sure", "sure_in_company"))
        return Weights(_trees(data, "sides"), _trees(data, "readings"), alone, company, learned)


def logistic(measures: Reals, fitted: Sequence[float]) -> float:
    """How probable something is by measures and the weights that were fitted to them."""
    return 1 / (1 + math.exp(-float(np.dot(measures, fitted))))


def _trees(data: Any, name: str) -> Trees:
    names = ("measure", "threshold", "left", "right", "worth")
    measure, threshold, left, right, worth = (data[f"{name}_{part}"] for part in names)
    return Trees(measure, threshold, left, right, worth, int(data[f"{name}_depth"]))
