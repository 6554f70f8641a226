"""Writing BC7: for each block the mode, partition and ends that err least, 16 bytes a block.

One line through all four channels is tried first (mode 6); blocks that it draws roughly are tried
with a channel apart (modes 4 and 5) and with two or three lines (the other modes), on the
partitions whose parts lie nearest to lines of their own.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.bc1 import points_of
from rushweed.core.gauge.compression.bc3 import seen_weights
from rushweed.core.gauge.compression.bc7_form import (
    MODES,
    PARTITIONS,
    WEIGHTS,
    Mode,
    Numbers,
    index_widths,
    low_bit_of,
)
from rushweed.core.gauge.compression.blocks import Blocks, Bytes, encode_each, to_blocks
from rushweed.core.gauge.compression.flat_blocks import FlatBlocks, flat_blocks, improve_flat
from rushweed.core.gauge.compression.lines import (
    Ends,
    Fit,
    Plane,
    Points,
    Steps,
    expanded,
    fit_lines,
)

STEPS = {bits: (weights / 64).astype(np.float32) for bits, weights in WEIGHTS.items()}
FLAT_ROUGH, SOFT_ROUGH = 4.0, 64.0
"""Blocks of a larger squared error are tried in more modes: those of few colours until they are
all but exact, those of many until nobody sees the difference."""
MANY = 8
TRIED = {0: 4, 1: 6, 2: 6, 3: 6, 7: 10}
"""How many partitions each mode is tried with for blocks of few colours."""
SOFT_TRIED = 2
OPAQUE_WAY = 3
"""Of the ways to choose the two lowest bits of mode 6, the one that can write full alpha."""
CLEAN = 1024.0
"""How much more an error in alpha counts where nothing or everything is covered."""
POWERS = 4


def encode(
    picture: Picture, multiplied: bool = False, quick: bool = False
) -> Iterator[tuple[float, Bytes]]:
    """A picture as blocks of shape (count, 16); see `encode_each` for what it yields.

    Colours count by how much they are seen; where they are `multiplied` by alpha already, alike.
    A `quick` one tries mode 6 alone.
    """
    return encode_each(to_blocks(picture), lambda blocks: _Blocks(blocks, multiplied).encode(quick))


class _Blocks:
    """Blocks that are being encoded: the best bits so far and their errors."""

    def __init__(self, blocks: Blocks, multiplied: bool) -> None:
        self.points = points_of(blocks, 4)
        self.weights = np.ones((4, 16, len(blocks)), np.float32)
        self.weights[:3] = seen_weights(blocks, multiplied)
        alpha = self.points[3]
        self.weights[3][(alpha == 0) | (alpha == 255)] = CLEAN
        if not multiplied:
            _fill_clear(self.points)
        self.bytes = np.zeros((len(blocks), 16), np.uint8)
        self.errors = np.full(len(blocks), np.inf, np.float32)
        self.opaque = (blocks[..., 3] == 255).all(axis=1)
        self._blocks = blocks

    def encode(self, quick: bool) -> Bytes:
        for among, ways in ((self.opaque, OPAQUE_WAY), (~self.opaque, None)):
            here = np.flatnonzero(among)
            whole = np.zeros(len(here), np.int64)
            self._try_parts(MODES[6], here, whole, 2 - quick, ways)
        if not quick:
            self.flat = flat_blocks(self._blocks, self.weights[0])
            self.many_coloured = _count_colours(self._blocks) > MANY
            self.acceptable = np.where(self.many_coloured, SOFT_ROUGH, FLAT_ROUGH)
            self._try_apart(MODES[5], self._rough(~self.opaque | ~self.many_coloured), 0)
            self._try_apart(MODES[4], self._rough(~self.opaque), 0)
            for rotation in (1, 2, 3):
                self._try_apart(MODES[5], self._rough(~self.many_coloured), rotation)
                self._try_apart(MODES[4], self._rough(~self.many_coloured), rotation)
            self._try_partitions(self.opaque, 3, 2, (3, 1))
            self._try_partitions(self.opaque, 3, 3, (2, 0))
            self._try_partitions(~self.opaque, 4, 2, (7,))
        return self.bytes

    def _rough(self, among: npt.NDArray[np.bool_]) -> npt.NDArray[np.intp]:
        return np.flatnonzero(among & (self.errors > self.acceptable))

    def _try_partitions(
        self, among: npt.NDArray[np.bool_], channels: int, parts: int, modes: Sequence[int]
    ) -> None:
        """Try modes that divide blocks, on the partitions that look best."""
        here = self._rough(among)
        if not len(here):
            return
        ranked = _ranked_partitions(self.points[:channels, :, here], parts)
        for number in modes:
            mode = MODES[number]
            order = ranked
            if mode.partition_bits == 4:
                order = np.argsort(ranked >= 16, axis=1, kind="stable")
                order = np.take_along_axis(ranked, order, axis=1)
            for place in range(TRIED[number]):
                rough = self.errors[here] > self.acceptable[here]
                if place >= SOFT_TRIED:
                    rough &= ~self.many_coloured[here]
                still = np.flatnonzero(rough)
                self._try_parts(mode, here[still], order[still, place])

    def _try_parts(
        self,
        mode: Mode,
        here: npt.NDArray[np.intp],
        partition: Numbers,
        rounds: int = 2,
        way: int | None = None,
    ) -> None:
        """Try a mode whose parts have a line each through all its channels."""
        if not len(here):
            return
        points = self.points[: mode.channels, :, here]
        fits, indices, drawn = _fit_parts(mode, points, partition, rounds, way)
        errors = self._errors(drawn, here)
        better = np.flatnonzero(errors < self.errors[here])
        if not len(better):
            return
        packed = _Packed(mode, len(better), partition[better])
        packed.put_ends([[fit.ends[..., better] for fit in fits]], [f.choice[better] for f in fits])
        packed.put_indices(indices[:, better])
        self._keep(here[better], errors[better], packed)

    def _try_apart(self, mode: Mode, here: npt.NDArray[np.intp], rotation: int) -> None:
        """Try a mode that draws one channel with indices of its own, in every way it offers."""
        if not len(here):
            return
        order = [0, 1, 2, 3]
        if rotation:
            order[rotation - 1], order[3] = 3, rotation - 1
        points = self.points[order][:, :, here]
        every = np.ones(points.shape[1:], np.float32)
        for selection in range(1 << mode.selection_bits):
            first, second = mode.index_bits, mode.second_bits
            colour_bits, alpha_bits = (second, first) if selection else (first, second)
            seen = every if rotation else self.weights[0][:, here]
            colour = fit_lines(points[:3], seen, STEPS[colour_bits], _tables(mode, range(3)))
            if not rotation and colour_bits == 2:
                improve_flat(colour, _among(self.flat, here), STEPS[2], _tables(mode, range(3)))
            apart = fit_lines(points[3:], every, STEPS[alpha_bits], _tables(mode, (3,)))
            drawn = np.concatenate(
                [_drawn(colour, STEPS[colour_bits]), _drawn(apart, STEPS[alpha_bits])]
            )[order]
            errors = self._errors(drawn, here)
            better = np.flatnonzero(errors < self.errors[here])
            if not len(better):
                continue
            packed = _Packed(mode, len(better), rotation=rotation, selection=selection)
            packed.put_ends([[colour.ends[..., better]], [apart.ends[..., better]]], [])
            both = colour.indices[:, better], apart.indices[:, better]
            packed.put_two(*(both[::-1] if selection else both), selection == 1)
            self._keep(here[better], errors[better], packed)

    def _errors(self, drawn: Points, here: npt.NDArray[np.intp]) -> Plane:
        apart = drawn - self.points[:, :, here]
        result: Plane = (apart * apart * self.weights[:, :, here]).sum(axis=(0, 1))
        return result

    def _keep(self, where: npt.NDArray[np.intp], errors: Plane, packed: _Packed) -> None:
        self.errors[where] = errors
        self.bytes[where] = packed.bytes()


class _Packed:
    """Blocks of one mode as rows of bits."""

    def __init__(
        self,
        mode: Mode,
        count: int,
        partition: Numbers | None = None,
        rotation: int = 0,
        selection: int = 0,
    ) -> None:
        self.mode = mode
        self.bits = np.zeros((128, count), np.uint8)
        self.bits[mode.number] = 1
        self.partition = np.zeros(count, np.int64) if partition is None else partition
        at = mode.number + 1
        self._put(at, self.partition, mode.partition_bits)
        at += mode.partition_bits
        self._put(at, np.full(count, rotation), mode.rotation_bits)
        self._put(at + mode.rotation_bits, np.full(count, selection), mode.selection_bits)

    def bytes(self) -> Bytes:
        return np.packbits(self.bits, axis=0, bitorder="little").T

    def put_ends(
        self,
        groups: Sequence[Sequence[npt.NDArray[np.int16]]],
        choices: Sequence[npt.NDArray[np.uint8]],
    ) -> None:
        """Groups of channels, of each the ends (2, channels, blocks) of every part; and which low
        bits each part took."""
        mode, at = self.mode, self.mode.first_end_bit
        channel = 0
        for parts in groups:
            for place in range(parts[0].shape[1]):
                for ends in parts:
                    for end in (0, 1):
                        self._put(at, ends[end, place].astype(np.int64), mode.bits_of(channel))
                        at += mode.bits_of(channel)
                channel += 1
        for part, choice in enumerate(choices if mode.low_bits else ()):
            for end in (0, 1):
                low = choice >> 1 - end & 1 if mode.own_low_bits else choice & 1
                self.bits[mode.first_low_bit + low_bit_of(mode, part, end)] = low

    def put_indices(self, indices: npt.NDArray[np.uint8]) -> None:
        """The index of each pixel; parts whose first one is high have their ends swapped."""
        mode = self.mode
        owner = PARTITIONS[mode.parts][self.partition].T
        widths = index_widths(mode, self.partition)
        shorter = widths < mode.index_bits
        high = (indices >> mode.index_bits - 1).astype(bool) & shorter
        swaps = [(high & (owner == part)).any(axis=0) for part in range(mode.parts)]
        top = (1 << mode.index_bits) - 1
        for part, swap in enumerate(swaps):
            self._swap_ends(range(mode.channels), part, swap)
            indices = np.where(swap & (owner == part), top - indices, indices)
        self._put_row(mode.first_low_bit + mode.low_bits, indices, widths)

    def put_two(
        self, first: npt.NDArray[np.uint8], second: npt.NDArray[np.uint8], crossed: bool
    ) -> None:
        """Indices of both kinds; `crossed` when the first are of the channel apart."""
        mode, at = self.mode, self.mode.first_low_bit
        for indices, bits, colours in (
            (first, mode.index_bits, not crossed),
            (second, mode.second_bits, crossed),
        ):
            swap = (indices[0] >> bits - 1).astype(bool)
            self._swap_ends(range(3) if colours else (3,), 0, swap)
            indices = np.where(swap, (1 << bits) - 1 - indices, indices)
            widths = np.full(indices.shape, bits, np.int64)
            widths[0] -= 1
            self._put_row(at, indices, widths)
            at += 16 * bits - 1

    def _swap_ends(self, channels: Sequence[int], part: int, swap: npt.NDArray[np.bool_]) -> None:
        mode = self.mode
        for channel in channels:
            width = mode.bits_of(channel)
            start = mode.first_end_bit + 2 * mode.parts * mode.colour_bits * channel
            start += 2 * part * width
            self._exchange(start, start + width, width, swap)
        if mode.own_low_bits:
            start = mode.first_low_bit + 2 * part
            self._exchange(start, start + 1, 1, swap)

    def _exchange(self, one: int, other: int, width: int, swap: npt.NDArray[np.bool_]) -> None:
        first, second = self.bits[one : one + width], self.bits[other : other + width]
        changed = np.where(swap, second, first), np.where(swap, first, second)
        self.bits[one : one + width], self.bits[other : other + width] = changed

    def _put_row(self, at: int, indices: npt.NDArray[np.uint8], widths: Numbers) -> None:
        starts = at + np.cumsum(widths, axis=0) - widths
        for step in range(int(widths.max())):
            rows, columns = np.nonzero(widths > step)
            self.bits[starts[rows, columns] + step, columns] = indices[rows, columns] >> step & 1

    def _put(self, at: int, numbers: Numbers, width: int) -> None:
        for step in range(width):
            self.bits[at + step] = numbers >> step & 1


def _tables(mode: Mode, channels: Sequence[int]) -> list[Ends]:
    """What the ends of a mode may be, one set for each way to choose the lowest bits."""
    widths = [mode.bits_of(channel) for channel in channels]
    if mode.own_low_bits:
        ways = [(0, 0), (0, 1), (1, 0), (1, 1)]
    elif mode.shared_low_bits:
        ways = [(0, 0), (1, 1)]
    else:
        return [[(expanded(width), expanded(width)) for width in widths]]
    return [[(expanded(w, one), expanded(w, other)) for w in widths] for one, other in ways]


def _fit_parts(
    mode: Mode, points: Points, partition: Numbers, rounds: int, way: int | None
) -> tuple[list[Fit], npt.NDArray[np.uint8], Points]:
    """A line for each part of blocks, all pixels' indices, and the colours they come to."""
    steps = STEPS[mode.index_bits]
    if mode.parts == 1:
        tables = _tables(mode, range(mode.channels))
        tables = tables if way is None else tables[way : way + 1]
        fit = fit_lines(points, np.ones(points.shape[1:], np.float32), steps, tables, rounds)
        if way is not None:
            fit.choice[:] = way
        return [fit], fit.indices, _drawn(fit, steps)
    owner = PARTITIONS[mode.parts][partition].T
    drawn = np.full((4, *owner.shape), 255, np.float32)
    indices = np.zeros(owner.shape, np.uint8)
    tables = _tables(mode, range(mode.channels))
    fits = []
    for part in range(mode.parts):
        mine = owner == part
        fit = fit_lines(points, mine.astype(np.float32), steps, tables, rounds)
        fits.append(fit)
        indices = np.where(mine, fit.indices, indices)
        drawn[: mode.channels] = np.where(mine, _drawn(fit, steps), drawn[: mode.channels])
    return fits, indices, drawn


def _among(flat: list[FlatBlocks], here: npt.NDArray[np.intp]) -> list[FlatBlocks]:
    """The blocks of few colours among some, by their places among those."""
    found = []
    for kind in flat:
        inside = np.isin(kind.places, here)
        places = np.searchsorted(here, kind.places[inside])
        colours, counts = kind.colours[..., inside], kind.counts[:, inside]
        found.append(FlatBlocks(places, colours, counts, kind.which[:, inside]))
    return found


def _count_colours(blocks: Blocks) -> npt.NDArray[np.intp]:
    """How many colours each block has."""
    words = np.sort(blocks.view(np.uint32)[..., 0], axis=1)
    result: npt.NDArray[np.intp] = 1 + (words[:, 1:] != words[:, :-1]).sum(axis=1)
    return result


def _drawn(fit: Fit, steps: Steps) -> Points:
    """The colours that lines give their pixels, as a decoder rounds them."""
    low, high = fit.values[:, :, None]
    result: Points = np.floor(low + (high - low) * steps.take(fit.indices) + 0.5)
    return result


def _fill_clear(points: Points) -> None:
    """Give clear pixels the mean of what is seen of their block, for any colour suits them."""
    seen = (points[3] > 0).astype(np.float32)
    total = seen.sum(axis=0)
    for channel in points[:3]:
        mean = (channel * seen).sum(axis=0) / np.maximum(total, 1)
        np.copyto(channel, mean, where=seen == 0)


def _ranked_partitions(points: Points, parts: int) -> Numbers:
    """For each block the partitions, those first whose parts are nearest to lines: by the
    spread that is left beside each part's principal axis. Shape (blocks, 64)."""
    channels, _, count = points.shape
    pairs = [(c, d) for c in range(channels) for d in range(c, channels)]
    centred = points - points.mean(axis=1, keepdims=True)
    features = np.concatenate(
        [np.ones((1, 16, count), np.float32), centred]
        + [(centred[c] * centred[d])[None] for c, d in pairs]
    )
    masks = np.stack([PARTITIONS[parts] == part for part in range(parts)]).astype(np.float32)
    sums = np.tensordot(features, masks, axes=(1, 2))  # features, blocks, parts, partitions
    amount = np.maximum(sums[0], 1)
    spread = np.empty((channels, channels, *amount.shape), np.float32)
    for place, (c, d) in enumerate(pairs):
        product = sums[1 + channels + place] - sums[1 + c] * sums[1 + d] / amount
        spread[c, d] = spread[d, c] = product
    left = np.einsum("cc...->...", spread) - _largest(spread)
    order: Numbers = left.sum(axis=1).argsort(axis=1)
    return order


def _largest(spread: Points) -> Plane:
    """The spread along the principal axis."""
    axis = spread.sum(axis=0) + 1e-3
    for _ in range(POWERS):
        axis /= np.maximum(np.sqrt((axis * axis).sum(axis=0)), 1e-9)
        axis = (spread * axis[None]).sum(axis=1)
    result: Plane = np.sqrt((axis * axis).sum(axis=0))
    return result
