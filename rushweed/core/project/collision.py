"""Collision layers: who stops whom, as it is stored, and how one asks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from rushweed.core.value_ranges import within

MOST_LAYERS = 32
LayerNumber = Annotated[int, within(0, MOST_LAYERS - 1)]


@dataclass(frozen=True, slots=True)
class CollisionLayer:
    """A named layer that shapes and walkers are of, and the numbers of those that it meets. Two
    layers meet when either says so."""

    number: LayerNumber
    name: str
    meets: tuple[LayerNumber, ...] = ()


def meet(layers: Sequence[CollisionLayer], one: int, other: int) -> bool:
    """Whether what is of one layer stops what is of another. A number that nobody named meets
    all."""
    named = {layer.number: layer for layer in layers}
    if one not in named or other not in named:
        return True
    return other in named[one].meets or one in named[other].meets


def met_by(layers: Sequence[CollisionLayer], one: int) -> frozenset[int]:
    """The numbers of all layers, named or not, that something of that one meets."""
    return frozenset(other for other in range(MOST_LAYERS) if meet(layers, one, other))
