"""Colours of a block as steps between two end colours, the idea that BC1 to BC7 share.

Ends start on the principal axis of the colours and are refined by least squares (S. Brown's
description of iterative refinement for texture blocks, 2006); each time the best end colours that
the format can write near the solution are found by their squared error, channel by channel.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations_with_replacement

import numpy as np
import numpy.typing as npt

Plane = npt.NDArray[np.float32]
"""Values of shape (blocks,) or (pixels, blocks)."""

Points = npt.NDArray[np.float32]
"""Colours of shape (channels, pixels, blocks), 0 to 255. Blocks lie last, so that every sum over
the pixels of a block runs along whole rows."""

Indices = npt.NDArray[np.uint8]
"""For each pixel which step it takes, of shape (pixels, blocks)."""

Steps = npt.NDArray[np.float32]
"""How far along the line each index lies, from 0 to 1, rising."""

Table = npt.NDArray[np.float32]
"""The value, 0 to 255, of each number that a channel of an end colour may be."""

Ends = Sequence[tuple[Table, Table]]
"""For each channel, what the first and what the second end colour may be."""

ALONE, AROUND = np.array([[0]]), np.array([[-1], [0], [1]])
ITERATIONS = 4


@dataclass(slots=True)
class Fit:
    """Lines for some blocks: squared errors (blocks,), which of the tables of ends was taken
    (blocks,), the two ends as numbers and as values (2, channels, blocks), and the indices."""

    error: Plane
    choice: npt.NDArray[np.uint8]
    ends: npt.NDArray[np.int16]
    values: Points
    indices: Indices

    def improve(self, other: Fit, where: npt.NDArray[np.intp] | None = None) -> None:
        """Take the other's lines wherever they err less; it may be for some of the blocks only."""
        own = self.error if where is None else self.error[where]
        better = np.flatnonzero(other.error < own)
        here = better if where is None else where[better]
        self.error[here] = other.error[better]
        self.choice[here] = other.choice[better]
        self.ends[..., here] = other.ends[..., better]
        self.values[..., here] = other.values[..., better]
        self.indices[:, here] = other.indices[:, better]


def fit_lines(
    points: Points, weights: Plane, steps: Steps, tables: Sequence[Ends], rounds: int = 2
) -> Fit:
    """Lines through the colours of blocks, each pixel counting by its weight."""
    weighed = points * weights
    low, high = _span(points, weights)
    best: Fit | None = None
    for left in reversed(range(rounds)):
        indices = _nearest_steps(points, low, high, len(steps))
        sums = _sums(points, weights, steps, indices, weighed)
        fit = _fit_sums(sums, indices, tables, ALONE if left else AROUND)
        low, high = fit.values
        if best is None:
            best = replace(fit, values=fit.values.copy())
        else:
            best.improve(fit)
    assert best is not None
    weighed *= points
    best.error += weighed.sum(axis=(0, 1))
    return best


def fit_every_way(colours: Points, counts: Plane, steps: Steps, tables: Sequence[Ends]) -> Fit:
    """Lines through at most four colours a block, of shape (channels, colours, blocks), trying
    all ways to give them steps in their order along the principal axis. Indices are of colours."""
    mean, axis = principal_axis(colours, counts)
    along = ((colours - mean[:, None]) * axis[:, None]).sum(axis=0)
    order = along.argsort(axis=0)
    ordered = np.take_along_axis(colours, order[None], axis=1)
    amounts = np.take_along_axis(counts, order, axis=0)
    weighed = ordered * amounts
    best: Fit | None = None
    for given in combinations_with_replacement(range(len(steps)), len(order)):
        indices = np.repeat(np.array(given, np.uint8)[:, None], order.shape[1], axis=1)
        fit = _fit_sums(_sums(ordered, amounts, steps, indices, weighed), indices, tables, AROUND)
        if best is None:
            best = fit
        else:
            best.improve(fit)
    assert best is not None
    restored = np.empty_like(best.indices)
    np.put_along_axis(restored, order, best.indices, axis=0)
    best.indices = restored
    best.error += _energy(colours, counts)
    return best


def principal_axis(points: Points, weights: Plane) -> tuple[Plane, Plane]:
    """Mean and direction of the largest spread of each block's colours, both (channels, blocks).

    The direction is found by repeated multiplication with the covariance matrix.
    """
    total = np.maximum(weights.sum(axis=0), 1e-6)
    mean = (points * weights).sum(axis=1) / total
    centred = points - mean[:, None]
    spread = _spread(centred, centred * weights)
    widest = np.einsum("ccn->cn", spread).argmax(axis=0)
    axis = np.take_along_axis(spread, widest[None, None], axis=1)[:, 0]
    for _ in range(ITERATIONS):
        axis = axis / np.maximum(np.abs(axis).max(axis=0), 1e-9)
        axis = (spread * axis[None]).sum(axis=1)
    length = np.sqrt((axis * axis).sum(axis=0))
    return mean, axis / np.maximum(length, 1e-9)


def expanded(bits: int, low_bit: int | None = None) -> Table:
    """Values from 0 to 255 of all numbers of so many bits, their high bits repeated below; with a
    low bit that is the same for all, it stands after them."""
    numbers = np.arange(1 << bits)
    if low_bit is not None:
        numbers, bits = numbers << 1 | low_bit, bits + 1
    wide = numbers << 8 - bits
    while bits < 8:
        wide |= wide >> bits
        bits *= 2
    return wide.astype(np.float32)


@dataclass(slots=True)
class _Sums:
    """Sums over the pixels of blocks: weight, weight × step, weight × step², weight × colour,
    weight × step × colour."""

    weight: Plane
    step: Plane
    square: Plane
    colour: Plane
    moved: Plane


def _sums(points: Points, weights: Plane, steps: Steps, indices: Indices, weighed: Points) -> _Sums:
    place = steps.take(indices)
    moved = place * weights
    return _Sums(
        weights.sum(axis=0),
        moved.sum(axis=0),
        (moved * place).sum(axis=0),
        weighed.sum(axis=1),
        (weighed * place).sum(axis=1),
    )


def _spread(centred: Points, weighed: Points) -> Points:
    """Covariances of the channels of blocks, of shape (channels, channels, blocks)."""
    count = len(centred)
    result = np.empty((count, count, centred.shape[2]), np.float32)
    for one in range(count):
        for other in range(one, count):
            result[one, other] = (weighed[one] * centred[other]).sum(axis=0)
            result[other, one] = result[one, other]
    return result


def _energy(points: Points, weights: Plane) -> Plane:
    """The error of lines that are black all along."""
    energy: Plane = (points * points * weights).sum(axis=(0, 1))
    return energy


def _span(points: Points, weights: Plane) -> tuple[Plane, Plane]:
    """The first and last point of each block's colours along their axis."""
    mean, axis = principal_axis(points, weights)
    along = (points * axis[:, None]).sum(axis=0) - (mean * axis).sum(axis=0)
    along *= weights > 0
    return mean + axis * along.min(axis=0), mean + axis * along.max(axis=0)


def _nearest_steps(points: Points, low: Plane, high: Plane, count: int) -> Indices:
    """For each pixel the step nearest to where it lies between two ends."""
    way = high - low
    way *= (count - 1) / np.maximum((way * way).sum(axis=0), 1e-6)
    place = (points * way[:, None]).sum(axis=0) - (low * way).sum(axis=0)
    np.clip(np.rint(place, out=place), 0, count - 1, out=place)
    steps: Indices = place.astype(np.uint8)
    return steps


def _fit_sums(
    sums: _Sums, indices: Indices, tables: Sequence[Ends], around: npt.NDArray[np.intp]
) -> Fit:
    """The best ends that can be written; errors are less than nought, by the colours' energy.

    Which of the tables is taken is told by the numbers nearest to the solution alone.
    """
    normal = _Normal(
        sums.weight - 2 * sums.step + sums.square,
        2 * (sums.step - sums.square),
        sums.square,
        2 * (sums.colour - sums.moved),
        2 * sums.moved,
    )
    low, high = _solved(normal)
    choice = np.zeros(indices.shape[1], np.uint8)
    if len(tables) > 1:
        choice = _best_table(normal, low, high, tables)
    channels = len(tables[0])
    error = np.zeros(indices.shape[1], np.float32)
    taken = np.empty((2, channels, len(error)), np.int16)
    values = np.empty(taken.shape, np.float32)
    for channel in range(channels):
        first, second = (np.concatenate([ends[channel][end] for ends in tables]) for end in (0, 1))
        size = len(tables[0][channel][0])
        span = float(first[size - 1] - first[0])
        start = choice.astype(np.intp) * size
        near = _near(low[channel], first[start], size, span, around)
        far = _near(high[channel], second[start], size, span, around)
        cost = normal.cost(channel, first.take(start + near)[:, None], second.take(start + far))
        flat = cost.reshape(len(around) ** 2, -1)
        picked = flat.argmin(axis=0)
        for end, (numbers, table, place) in enumerate(
            ((near, first, picked // len(around)), (far, second, picked % len(around)))
        ):
            number = np.choose(place, numbers) if len(around) > 1 else numbers[0]
            taken[end, channel], values[end, channel] = number, table.take(start + number)
        error += flat.min(axis=0)
    return Fit(error, choice, taken, values, indices)


@dataclass(slots=True)
class _Normal:
    """The squared error of ends v and w as a polynomial: the factors of v², vw, w², −v and −w."""

    low_low: Plane
    low_high: Plane
    high_high: Plane
    low_colour: Plane
    high_colour: Plane

    def cost(self, channel: int, low: Plane, high: Plane) -> Plane:
        result = low * (self.low_low * low + self.low_high * high - self.low_colour[channel])
        result += high * (self.high_high * high - self.high_colour[channel])
        cost: Plane = result
        return cost


def _best_table(
    normal: _Normal, low: Plane, high: Plane, tables: Sequence[Ends]
) -> npt.NDArray[np.uint8]:
    costs = []
    for ends in tables:
        cost = np.zeros(low.shape[1], np.float32)
        for channel, (first, second) in enumerate(ends):
            span = float(first[-1] - first[0])
            near = _near(low[channel], first[0], len(first), span, ALONE)[0]
            far = _near(high[channel], second[0], len(second), span, ALONE)[0]
            cost += normal.cost(channel, first.take(near), second.take(far))
        costs.append(cost)
    best: npt.NDArray[np.uint8] = np.argmin(np.stack(costs), axis=0).astype(np.uint8)
    return best


def _solved(normal: _Normal) -> tuple[Plane, Plane]:
    """The ends with the least squared error, where any value may be written."""
    size = 4 * normal.low_low * normal.high_high - normal.low_high * normal.low_high
    total = np.maximum(normal.low_low + normal.low_high + normal.high_high, 1e-6)
    sure = size > 4e-3 * total
    middle = (normal.low_colour + normal.high_colour) / (2 * total)
    scale = 1 / np.where(sure, size, 1)
    low = 2 * normal.low_colour * normal.high_high - normal.high_colour * normal.low_high
    high = 2 * normal.high_colour * normal.low_low - normal.low_colour * normal.low_high
    low, high = np.where(sure, low * scale, middle), np.where(sure, high * scale, middle)
    return np.clip(low, 0, 255), np.clip(high, 0, 255)


def _near(
    values: Plane, least: Plane, count: int, span: float, around: npt.NDArray[np.intp]
) -> npt.NDArray[np.intp]:
    """The numbers around each value in a table of `count` evenly spaced ones, which begins at
    `least` and ends `span` later, of shape (around, blocks)."""
    last = count - 1
    middle = np.rint((values - least) * (last / span)).astype(np.intp)
    numbers: npt.NDArray[np.intp] = np.clip(middle + around, 0, last)
    return numbers
