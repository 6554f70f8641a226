"""Blocks of at most four colours, whose lines can be tried in all ways there are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.gauge.compression.blocks import Blocks
from rushweed.core.gauge.compression.lines import Ends, Fit, Plane, Points, Steps, fit_every_way

MOST = 4
NOTHING = np.uint32(0xFFFFFFFF)
EXACT = 0.5


@dataclass(frozen=True, slots=True)
class FlatBlocks:
    """Blocks of one number of colours: their places, the colours (channels, colours, blocks),
    how much each counts (colours, blocks), and which each pixel has (pixels, blocks)."""

    places: npt.NDArray[np.intp]
    colours: Points
    counts: Plane
    which: npt.NDArray[np.intp]


def flat_blocks(blocks: Blocks, weights: Plane) -> list[FlatBlocks]:
    """The blocks with at most four colours, by how many they have."""
    words = blocks[..., :3].astype(np.uint32) @ np.array([1, 256, 65536], np.uint32)
    words[(weights == 0).T] = NOTHING
    ordered = np.sort(words, axis=1)
    begins = np.ones(ordered.shape, bool)
    begins[:, 1:] = ordered[:, 1:] != ordered[:, :-1]
    begins &= ordered != NOTHING
    counts = begins.sum(axis=1)
    found = []
    for number in range(1, MOST + 1):
        places = np.flatnonzero(counts == number)
        if len(places):
            colours = ordered[places][begins[places]].reshape(-1, number)
            same = words[places].T[None] == colours.T[:, None]
            amounts = (same * weights[:, places]).sum(axis=1)
            channels = np.stack([colours.T >> shift & 255 for shift in (0, 8, 16)])
            found.append(
                FlatBlocks(places, channels.astype(np.float32), amounts, same.argmax(axis=0))
            )
    return found


def improve_flat(fit: Fit, flat: list[FlatBlocks], steps: Steps, tables: Sequence[Ends]) -> None:
    """Improve the lines of blocks that have few colours by trying all ways to draw them."""
    for kind in flat:
        rough = np.flatnonzero(fit.error[kind.places] > EXACT)
        if len(rough):
            better = fit_every_way(kind.colours[..., rough], kind.counts[:, rough], steps, tables)
            better.indices = np.take_along_axis(better.indices, kind.which[:, rough], axis=0)
            fit.improve(better, kind.places[rough])
