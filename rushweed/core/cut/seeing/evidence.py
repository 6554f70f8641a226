"""What speaks for each reading of a picture: named measurements, one row a reading."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.cut.loose import Mask
from rushweed.core.cut.regions import Boxes
from rushweed.core.cut.seeing.divisions import MEASURES, Divisions
from rushweed.core.cut.seeing.profiles import Profiles, brightness
from rushweed.core.gather.pictures import Picture

Floats = npt.NDArray[np.float32]

ONE_PICTURE, LOOSE = (0, 0), (-1, -1)
"""The readings that have no cells."""
FINE = 4
"""Cells are compared by the means of so many parts across and down."""
MOST_CELLS = 4096
LARGEST_COMPARED = 1 << 21
"""A picture of more pixels is compared by every second one, or fewer."""

OF_PICTURE = (
    "log_width", "log_height", "aspect", "width_power", "height_power", "something", "soft",
    "regions", "largest_region", "largest_box", "colours", "median_step", "keyed", "enlarged",
    "best_repeat_across", "best_repeat_down", "rim_alike", "named_picture", "named_cells",
    "boxes_overlap", "sizes_vary", "boxes_fill", "small_regions",
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
    sums: npt.NDArray[np.float64]
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
    light = brightness(picture[::every, ::every], mask[::every, ::every]).astype(np.float64)
    sums = np.zeros((light.shape[0] + 1, light.shape[1] + 1))
    sums[1:, 1:] = light.cumsum(axis=0).cumsum(axis=1)
    of_picture = _of_picture(picture, mask, profiles, regions, name, keyed, enlarged)
    return Scene(profiles, regions, sums, every, of_picture, named)


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
    own = np.stack([_of_pair(seen, across, down, *pair) for pair in pairs])
    whole = np.broadcast_to(seen.of_picture, (len(pairs), len(OF_PICTURE)))
    return np.concatenate([*axes, own, whole], axis=1).astype(np.float32)


def _of_pair(seen: Scene, across: Divisions, down: Divisions, i: int, j: int) -> Floats:
    if (i, j) == LOOSE:
        bare = np.zeros(len(OF_PAIR), np.float32)
        bare[OF_PAIR.index("is_loose")] = 1
        return bare
    cell = float(across.cell[i]), float(down.cell[j])
    step = int(across.cell[i] + across.gap[i]), int(down.cell[j] + down.gap[j])
    margin = int(across.margin[i]), int(down.margin[j])
    count = int(across.count[i]), int(down.count[j])
    many = count[0] > 1, count[1] > 1
    cuts = _cuts(seen, step, margin, count)
    segments = (
        _segments(seen.profiles[0], across, i, step[1], margin[1], count[1]) if many[0] else -1.0,
        _segments(seen.profiles[1], down, j, step[0], margin[0], count[0]) if many[1] else -1.0,
    )
    judged = [value for value in segments if value >= 0]
    likeness = _likeness(seen, cell, step, margin, count)
    width, height = seen.profiles[0].length, seen.profiles[1].length
    named = (int(cell[0]), int(cell[1])) in seen.named
    return np.array(
        [
            (i, j) == ONE_PICTURE,
            False,
            cell[0] == cell[1],
            np.log2(cell[0] / cell[1]),
            np.log2(count[0] * count[1]),
            across.gap[i] == down.gap[j] or not all(many),
            across.margin[i] == down.margin[j],
            named,
            *cuts,
            sum(judged) / len(judged) if judged else 0.0,
            *segments,
            *likeness,
            (step[0] & (step[0] - 1)) == 0 and (step[1] & (step[1] - 1)) == 0,
            width % step[0] == 0 and height % step[1] == 0,
            *_fit(seen.regions, cell),
        ],
        np.float32,
    )


def _cuts(
    seen: Scene, step: tuple[int, int], margin: tuple[int, int], count: tuple[int, int]
) -> tuple[float, ...]:
    """Share of regions that are cut, by number and by area; regions a cell; share of cells that are
    empty; share of the others with just one region."""
    cells = count[0] * count[1]
    if not len(seen.regions):
        return 0.0, 0.0, 0.0, 1.0, 0.0
    left, top, right, bottom, area = seen.regions.T
    columns = [
        np.clip((side - margin[0]) // step[0], 0, count[0] - 1) for side in (left, right - 1)
    ]
    rows = [np.clip((side - margin[1]) // step[1], 0, count[1] - 1) for side in (top, bottom - 1)]
    cut = (columns[0] != columns[1]) | (rows[0] != rows[1])
    weight = np.sqrt(area)
    middle = (columns[0] + columns[1]) // 2 + (rows[0] + rows[1]) // 2 * count[0]
    held = np.bincount(middle, minlength=1)
    met = held[held > 0]
    covered = ((columns[1] - columns[0] + 1) * (rows[1] - rows[0] + 1))[cut].sum() + len(met)
    return (
        float(cut.mean()),
        float((cut * weight).sum() / weight.sum()),
        float(np.log2(1 + len(area) / max(1, len(met)))),
        float(max(0.0, 1 - covered / cells)),
        float((met == 1).mean()),
    )


def _fit(regions: Boxes, cell: tuple[float, float]) -> tuple[float, ...]:
    """How large the largest and the usual regions are against a cell, across and down, as powers of
    two; and the share of regions that fit."""
    if not len(regions):
        return 0.0, 0.0, 0.0, 0.0, 0.0
    width, height = (regions[:, 2] - regions[:, 0]), (regions[:, 3] - regions[:, 1])
    large = regions[:, 4] >= np.median(regions[:, 4])
    return (
        float(np.log2(width.max() / cell[0])),
        float(np.log2(height.max() / cell[1])),
        float(np.log2(np.median(width[large]) / cell[0])),
        float(np.log2(np.median(height[large]) / cell[1])),
        float(((width <= cell[0]) & (height <= cell[1])).mean()),
    )


def _segments(
    lines: Profiles, ways: Divisions, i: int, step: int, margin: int, count: int
) -> float:
    """Of the sides of cells that lie along the boundaries of a division, the share at which the
    picture changes more than a pixel or two beside it; those that show nothing do not count."""
    cell, gap = int(ways.cell[i]), int(ways.gap[i])
    number = int(ways.count[i])
    ends = int(ways.margin[i]) + np.arange(number - 1) * (cell + gap) + cell - 1
    ends = ends[ends < lines.length - 1]
    if not len(ends) or not lines.changes.shape[1]:
        return -1.0
    rows = np.minimum((margin + np.arange(count + 1) * step) // lines.every, len(lines.changes))
    rows = np.unique(rows)
    if len(rows) < 2:
        rows = np.array([0, len(lines.changes)])
    last = lines.changes.shape[1] - 1
    places = [np.clip(ends + d, 0, last) for d in (0, -1, 1, -2, 2)]
    columns = lines.changes[:, np.concatenate(places)].astype(np.float32)
    parts = np.add.reduceat(columns, rows[:-1], axis=0)
    here, *beside = np.split(parts, 5, axis=1)
    if gap:
        after = lines.changes[:, np.clip(ends + gap, 0, last)].astype(np.float32)
        here = np.maximum(here, np.add.reduceat(after, rows[:-1], axis=0))
    near = np.max(beside, axis=0)
    shown = (here + near) > 0
    if not shown.any():
        return 0.0
    return float(((here > near) & shown).sum() / shown.sum())


def _likeness(
    seen: Scene,
    cell: tuple[float, float],
    step: tuple[int, int],
    margin: tuple[int, int],
    count: tuple[int, int],
) -> tuple[float, ...]:
    """How unlike cells are to those beside, below and anywhere, against how much they vary, and
    the share that is met twice."""
    columns, rows = min(count[0], 64), min(count[1], 64)
    if columns * rows < 2:
        return 0.0, 0.0, 0.0, 0.0
    means = _means(seen, cell, step, margin, columns, rows)
    flat = means.reshape(rows, columns, -1)
    spread = float(flat.std()) + 1.0
    beside = np.abs(np.diff(flat, axis=1)).mean() / spread if columns > 1 else 0.0
    below = np.abs(np.diff(flat, axis=0)).mean() / spread if rows > 1 else 0.0
    cells = flat.reshape(rows * columns, -1)
    anywhere = np.abs(cells - cells[::-1]).mean() / spread
    different = len({row.tobytes() for row in np.rint(cells).astype(np.int16)})
    return float(beside), float(below), float(anywhere), 1 - different / len(cells)


def _means(
    seen: Scene,
    cell: tuple[float, float],
    step: tuple[int, int],
    margin: tuple[int, int],
    columns: int,
    rows: int,
) -> npt.NDArray[np.float64]:
    """The mean brightness of the parts of each cell, of shape (rows, columns, parts)."""
    sums, every = seen.sums, seen.every
    parts = np.arange(FINE + 1) / FINE
    xs = (margin[0] + np.arange(columns)[:, None] * step[0] + parts * cell[0]) / every
    ys = (margin[1] + np.arange(rows)[:, None] * step[1] + parts * cell[1]) / every
    x = np.clip(np.rint(xs).astype(int), 0, sums.shape[1] - 1)
    y = np.clip(np.rint(ys).astype(int), 0, sums.shape[0] - 1)
    picked = sums[y[:, None, :, None], x[None, :, None, :]]
    total = (
        picked[..., 1:, 1:] - picked[..., :-1, 1:] - picked[..., 1:, :-1] + picked[..., :-1, :-1]
    )
    area = np.diff(y, axis=1)[:, None, :, None] * np.diff(x, axis=1)[None, :, None, :]
    means: npt.NDArray[np.float64] = total / np.maximum(area, 1)
    return means.reshape(rows, columns, -1)


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
            mask.mean(),
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
