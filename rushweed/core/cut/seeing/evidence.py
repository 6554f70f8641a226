"""What speaks for each reading of a picture: named measurements, one row a reading."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import Floats, Mask, Numbers, Reals
from rushweed.core.cut.parting import alike_parts
from rushweed.core.cut.regions import Boxes
from rushweed.core.cut.seeing.divisions import MEASURES, Divisions
from rushweed.core.cut.seeing.profiles import Profiles, brightness
from rushweed.core.cut.seeing.sides import BESIDE, Side, side_of
from rushweed.core.gather.pictures import Picture

ONE_PICTURE, LOOSE = (0, 0), (-1, -1)
"""The readings that have no cells."""
FINE = 4
"""Cells are compared by the means of so many parts across and down."""
MIXED = np.random.default_rng(1).integers(1, 1 << 40, FINE * FINE)
"""Numbers by which the means of a cell become one number, another for other means."""
MOST_ALONG = 64
"""So many cells across and down are compared."""
LARGEST_COMPARED = 1 << 21
"""A picture of more pixels is compared by every second one, or fewer."""

OF_PICTURE = (
    "log_width", "log_height", "aspect", "width_power", "height_power", "something", "soft",
    "regions", "largest_region", "largest_box", "colours", "median_step", "keyed", "enlarged",
    "best_repeat_across", "best_repeat_down", "rim_alike", "named_picture", "named_cells",
    "boxes_overlap", "sizes_vary", "boxes_fill", "small_regions", "alike_parts",
)  # fmt: skip
OF_PAIR = (
    "is_one_picture", "is_loose", "square", "log_ratio", "cells", "gaps_alike",
    "margins_alike", "named",
    "cut_regions", "cut_area", "regions_a_cell", "empty_share", "single_share", "segments",
    "segments_across", "segments_down", "like_beside", "like_below", "like_any", "doubles",
    "same_power", "both_divide", "widest", "highest", "usual_width", "usual_height", "fitting",
)  # fmt: skip
NAMES = (
    *(f"{how}_{name}" for how in ("mean", "least", "most") for name in MEASURES),
    *OF_PAIR,
    *OF_PICTURE,
)


@dataclass(frozen=True, slots=True)
class Scene:
    """A picture with what readings are measured against: its profiles, regions and means."""

    profiles: tuple[Profiles, Profiles]
    regions: Boxes
    weight: Reals
    sums: Numbers
    every: int
    of_picture: Floats
    named: frozenset[tuple[int, int]]


def scene(
    picture: Picture,
    mask: Mask,
    profiles: tuple[Profiles, Profiles],
    regions: Boxes,
    name: str = "",
    named: frozenset[tuple[int, int]] = frozenset(),
    keyed: bool = False,
    enlarged: bool = False,
) -> Scene:
    """Measure a picture, of shape (height, width, 4), once for all its readings. Single pixels are
    no regions here."""
    regions = regions[regions[:, 4] > 1]
    every = 1
    while picture.shape[0] * picture.shape[1] / every**2 > LARGEST_COMPARED:
        every += 1
    light = brightness(picture[::every, ::every], mask[::every, ::every])
    sums = np.zeros((light.shape[0] + 1, light.shape[1] + 1), np.int32)
    np.cumsum(light, axis=1, dtype=np.int32, out=sums[1:, 1:])
    np.cumsum(sums, axis=0, out=sums)
    of_picture = _of_picture(picture, mask, profiles, regions, name, keyed, enlarged)
    return Scene(profiles, regions, np.sqrt(regions[:, 4]), sums, every, of_picture, named)


def evidence(
    seen: Scene, across: Divisions, down: Divisions, pairs: Sequence[tuple[int, int]]
) -> Floats:
    """The measurements of readings, one row each: `pairs` are places of a division across and one
    down, or one of the two that have no cells."""
    x = across.measures[[pair[0] for pair in pairs]]
    y = down.measures[[pair[1] for pair in pairs]]
    loose = np.array([pair == LOOSE for pair in pairs])
    x[loose] = y[loose] = 0
    one_x, one_y = x[:, :1] > 0, y[:, :1] > 0
    only_x, only_y = one_y & ~one_x, one_x & ~one_y
    first = np.where(only_y, y, x)
    second = np.where(only_x, x, y)
    axes = [(first + second) / 2, np.minimum(first, second), np.maximum(first, second)]
    sides = tuple(
        {place: side_of(ways, place, lines, seen.regions, axis) for place in _met(pairs, axis)}
        for axis, (ways, lines) in enumerate(zip((across, down), seen.profiles, strict=True))
    )
    own = np.stack([_of_pair(seen, sides[0].get(i), sides[1].get(j)) for i, j in pairs])
    whole = np.broadcast_to(seen.of_picture, (len(pairs), len(OF_PICTURE)))
    return np.concatenate([*axes, own, whole], axis=1).astype(np.float32)


def _met(pairs: Sequence[tuple[int, int]], axis: int) -> set[int]:
    """The divisions of a side that readings use."""
    return {pair[axis] for pair in pairs if pair != LOOSE}


def _of_pair(seen: Scene, across: Side | None, down: Side | None) -> Floats:
    if across is None or down is None:
        bare = np.zeros(len(OF_PAIR), np.float32)
        bare[OF_PAIR.index("is_loose")] = 1
        return bare
    width, height = (lines.length for lines in seen.profiles)
    whole = (across.cell, down.cell) == (width, height) and across.margin == down.margin == 0
    segments = _segments(across, down), _segments(down, across)
    judged = [value for value in segments if value >= 0]
    fits = across.fits & down.fits
    return np.array(
        [
            whole,
            False,
            across.cell == down.cell,
            np.log2(across.cell / down.cell),
            np.log2(across.count * down.count),
            across.gap == down.gap or across.count == 1 or down.count == 1,
            across.margin == down.margin,
            (across.cell, down.cell) in seen.named,
            *_cuts(seen, across, down),
            sum(judged) / len(judged) if judged else 0.0,
            *segments,
            *_likeness(seen, across, down),
            (across.step & (across.step - 1)) == 0 and (down.step & (down.step - 1)) == 0,
            width % across.step == 0 and height % down.step == 0,
            across.widest,
            down.widest,
            across.usual,
            down.usual,
            fits.mean() if len(fits) else 0.0,
        ],
        np.float32,
    )


def _cuts(seen: Scene, across: Side, down: Side) -> tuple[float, ...]:
    """Share of regions that are cut, by number and by area; regions a cell; share of cells that are
    empty; share of the others with just one region."""
    if not len(seen.regions):
        return 0.0, 0.0, 0.0, 1.0, 0.0
    cut = across.cut | down.cut
    held = np.bincount(across.middle + down.middle * across.count)
    met = held[held > 0]
    columns, rows = (side.ends[cut] - side.begins[cut] + 1 for side in (across, down))
    covered = (columns * rows).sum() + len(met)
    return (
        np.count_nonzero(cut) / len(cut),
        float(seen.weight[cut].sum() / seen.weight.sum()),
        float(np.log2(1 + len(cut) / max(1, len(met)))),
        float(max(0.0, 1 - covered / (across.count * down.count))),
        np.count_nonzero(met == 1) / len(met),
    )


def _segments(side: Side, other: Side) -> float:
    """Of the sides of cells that lie along the boundaries of a division, the share at which the
    picture changes more than a pixel or two beside it; those that show nothing do not count."""
    if side.count < 2 or not side.changes.shape[2]:
        return -1.0
    most = len(side.changes) - 1
    rows = (other.margin + np.arange(other.count + 1) * other.step) // side.every
    rows = np.unique(np.minimum(rows, most))
    rows = np.append(rows[:-1], most) if len(rows) > 1 else np.array([0, most])
    parts = np.diff(side.changes[rows], axis=0)
    here, near = parts[:, 0], parts[:, 1 : len(BESIDE)].max(axis=1)
    if side.gap:
        here = np.maximum(here, parts[:, -1])
    shown = np.count_nonzero((here + near) > 0)
    return np.count_nonzero(here > near) / shown if shown else 0.0


def _likeness(seen: Scene, across: Side, down: Side) -> tuple[float, ...]:
    """How unlike cells are to those beside, below and anywhere, against how much they vary, and
    the share that is met twice."""
    columns, rows = min(across.count, MOST_ALONG), min(down.count, MOST_ALONG)
    if columns * rows < 2:
        return 0.0, 0.0, 0.0, 0.0
    means = _means(seen, across, down, columns, rows)
    flat = means.reshape(rows, columns, -1)
    spread = float(flat.std()) + 1.0
    beside = np.abs(np.diff(flat, axis=1)).mean() / spread if columns > 1 else 0.0
    below = np.abs(np.diff(flat, axis=0)).mean() / spread if rows > 1 else 0.0
    cells = flat.reshape(rows * columns, -1)
    anywhere = np.abs(cells - cells[::-1]).mean() / spread
    rounded = np.rint(cells).astype(np.int64)
    different = len(np.unique(rounded @ MIXED[: rounded.shape[1]]))
    return float(beside), float(below), float(anywhere), 1 - different / len(cells)


def _means(seen: Scene, across: Side, down: Side, columns: int, rows: int) -> Reals:
    """The mean brightness of the parts of each cell, of shape (rows, columns, parts)."""
    sums, every = seen.sums, seen.every
    parts = np.arange(FINE + 1) / FINE
    xs = (across.margin + np.arange(columns)[:, None] * across.step + parts * across.cell) / every
    ys = (down.margin + np.arange(rows)[:, None] * down.step + parts * down.cell) / every
    x = np.clip(np.rint(xs).astype(int), 0, sums.shape[1] - 1)
    y = np.clip(np.rint(ys).astype(int), 0, sums.shape[0] - 1)
    picked = sums.take(y.ravel(), axis=0).take(x.ravel(), axis=1)
    below = np.diff(picked.reshape(rows, FINE + 1, -1), axis=1)
    total = np.diff(below.reshape(rows, FINE, columns, FINE + 1), axis=3)
    area = np.diff(y, axis=1)[:, :, None, None] * np.diff(x, axis=1)
    means: Reals = total / np.maximum(area, 1)
    return means.transpose(0, 2, 1, 3).reshape(rows, columns, -1)


def _of_picture(
    picture: Picture,
    mask: Mask,
    profiles: tuple[Profiles, Profiles],
    regions: Boxes,
    name: str,
    keyed: bool,
    enlarged: bool,
) -> Floats:
    height, width = mask.shape
    largest = regions[regions[:, 4].argmax()] if len(regions) else np.zeros(5)
    box = (largest[2] - largest[0]) * (largest[3] - largest[1])
    sample = np.ascontiguousarray(picture[:: max(1, height // 128), :: max(1, width // 128)])
    colours = len(np.unique(sample.view(np.uint32)))
    light = sample[..., 1].astype(np.int16)
    steps = np.abs(np.diff(light, axis=1))
    moved = steps[steps > 0]
    alpha = sample[..., 3]
    rim = np.concatenate([picture[0], picture[-1], picture[:, 0], picture[:, -1]])[:, :3]
    rim_alike = (np.abs(rim.astype(np.int16) - rim[0]).max(axis=1) <= 8).mean()
    words = name.lower()
    return np.array(
        [
            np.log2(width),
            np.log2(height),
            np.log2(width / height),
            width & (width - 1) == 0,
            height & (height - 1) == 0,
            np.count_nonzero(mask) / mask.size,
            ((alpha > 0) & (alpha < 255)).mean(),
            np.log2(1 + len(regions)),
            largest[4] / mask.size,
            box / mask.size,
            np.log2(colours),
            np.median(moved) if len(moved) else 0,
            keyed,
            enlarged,
            profiles[0].repeats.max(),
            profiles[1].repeats.max(),
            rim_alike,
            any(word in words for word in PICTURES),
            any(word in words for word in CELLS),
            *_of_regions(regions),
            np.log2(1 + alike_parts(mask, regions)),
        ],
        np.float32,
    )


def _of_regions(regions: Boxes) -> tuple[float, ...]:
    """How regions lie to each other: the share whose boxes overlap others, how much their heights
    vary, how well they fill their boxes, and the share of them that is tiny."""
    if len(regions) < 2:
        return 0.0, 0.0, 1.0, 0.0
    some = regions[np.argsort(-regions[:, 4], kind="stable")][:256]
    left, top, right, bottom, area = some.T
    wide = np.minimum(right[:, None], right) > np.maximum(left[:, None], left)
    high = np.minimum(bottom[:, None], bottom) > np.maximum(top[:, None], top)
    meets = (wide & high).sum(axis=1) > 1
    large = area >= np.median(area)
    heights = (bottom - top)[large]
    boxes = (right - left) * (bottom - top)
    return (
        float(meets.mean()),
        float(heights.std() / max(1.0, float(heights.mean()))),
        float((area / boxes).mean()),
        float((regions[:, 4] < 0.05 * area.max()).mean()),
    )


PICTURES = ("back", "bg", "title", "logo", "screen", "sky", "splash", "intro", "panorama")
CELLS = ("tile", "sheet", "anim", "sprite", "icon", "font", "set", "walk", "run", "frames", "strip")
"""Words in names that speak of one picture, or of many cells."""
