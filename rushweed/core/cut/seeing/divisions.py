"""Ways to divide one side of a picture into even cells, and what is measured of each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rushweed.core.arrays import Floats, Mask, Whole
from rushweed.core.cut.seeing.profiles import Profiles

SMALLEST, LARGEST = 4, 1024
GAPS = (1, 2, 3, 4, 5, 6, 8)
SAME_SHADE = 0.01
CLEAN = 0.004
"""A line that is crossed by no more of what is drawn counts as clean."""
MOST_MARGIN = 16
USUAL = (8, 10, 12, 16, 20, 24, 32, 40, 48, 50, 64, 80, 96, 100, 128, 256)
PERIODS, SPACED, PADDED = 16, 24, 24
"""So many steps at which the picture repeats itself, divisions with gaps, and divisions that leave
something over are looked at."""


@dataclass(frozen=True, slots=True)
class Divisions:
    """Ways to divide a side: cell, margin, gap and count of each, and its measures, an array of
    shape (ways, `len(MEASURES)`). The first way is not to divide it at all."""

    cell: Whole
    margin: Whole
    gap: Whole
    count: Whole
    measures: Floats


def divisions(lines: Profiles) -> Divisions:
    """The ways worth looking at."""
    ways = {(lines.length, 0, 0): None}
    most = min(lines.length // 2, LARGEST)
    sides = np.arange(SMALLEST, most + 1)
    ways.update(dict.fromkeys((int(c), 0, 0) for c in sides[lines.length % sides == 0]))
    ways.update(dict.fromkeys((c, 0, 0) for c in USUAL if c <= lines.length))
    ways.update(dict.fromkeys((c, 0, 0) for c in _periods(lines, most)))
    ways.update(dict.fromkeys((c, 0, 0) for c in _clean(lines, sides)))
    ways.update(dict.fromkeys(_spaced(lines, most)))
    ways.update(dict.fromkeys(_spaced_exactly(lines)))
    cell, margin, gap = np.array(list(ways), np.int64).T
    count = np.maximum(1, (lines.length - margin + gap) // (cell + gap))
    return Divisions(cell, margin, gap, count, _measures(lines, cell, margin, gap, count))


def _periods(lines: Profiles, most: int) -> list[int]:
    """Steps at which the picture is more like itself than beside them, with their neighbours,
    doubles and halves."""
    values = lines.repeats[: most + 2]
    inner = values[1:-1]
    peaks = 1 + np.flatnonzero((inner >= values[:-2]) & (inner > values[2:]) & (inner > 0.05))
    peaks = peaks[np.argsort(-values[peaks], kind="stable")][:PERIODS]
    found: dict[int, None] = {}
    for peak in peaks.tolist():
        for step in (peak, peak - 1, peak + 1, 2 * peak, 3 * peak, peak // 2):
            if SMALLEST <= step <= most:
                found[step] = None
    return list(found)


def _clean(lines: Profiles, sides: Whole) -> list[int]:
    """Cells from the corner whose borders are crossed by next to nothing."""
    if lines.opaque or not len(sides):
        return []
    crossed = lines.crossed[: lines.extent[1] - 1]
    if not len(crossed):
        return []
    counts = np.maximum(1, len(crossed) // sides)
    means = np.array([crossed[c - 1 :: c].sum() if c <= len(crossed) else 9.0 for c in sides])
    means /= counts
    worth = means - 0.02 * np.sqrt(counts)
    return [int(c) for c in sides[np.argsort(worth, kind="stable")][:PADDED]]


def _spaced(lines: Profiles, most: int) -> list[tuple[int, int, int]]:
    """Cells with gaps or margins, likeliest first: what makes gaps is that thin lines, drawn or
    empty, come back at a steady period."""
    likeness = _line_likeness(lines)
    found: dict[tuple[int, int, int], float] = {}
    for gap in GAPS if lines.length > 2 * SMALLEST else ():
        inside = np.lib.stride_tricks.sliding_window_view(likeness, gap).min(axis=1)
        before = np.concatenate([[0.0], likeness[:-gap]])
        after = np.concatenate([likeness[gap:], [0.0]])
        apart = inside - np.maximum(before, after) > 0.02
        places = np.flatnonzero((inside > 0.5) & apart)
        if not len(places):
            continue
        for period in _periods_of(places, gap, lines.length):
            cell = period - gap
            if not SMALLEST <= cell <= most:
                continue
            remainders = np.bincount(places % period, minlength=period)
            for at in np.argsort(-remainders, kind="stable")[:2].tolist():
                margin = (at + gap) % period
                expected = max(1, (lines.length - margin + gap) // period - 1)
                value = min(1.0, remainders[at] / expected) + 0.02 * min(expected, 20)
                if margin <= MOST_MARGIN and remainders[at] >= 0.4 * expected:
                    found[cell, margin, gap] = max(found.get((cell, margin, gap), 0.0), value)
    return sorted(found, key=lambda way: -found[way])[:SPACED]


def _periods_of(places: Whole, gap: int, length: int) -> list[int]:
    """Steps between lines that are met most often, and those a single line allows."""
    steps: list[Whole] = [places[n:] - places[:-n] for n in range(1, 5)]
    values, counts = np.unique(np.concatenate(steps), return_counts=True)
    common = values[np.argsort(-counts, kind="stable")][:PERIODS].tolist()
    first = [at + gap - margin for at in places[:6].tolist() for margin in (0, gap)]
    return list(dict.fromkeys(step for step in (*common, *first) if 0 < step < length))


def _spaced_exactly(lines: Profiles) -> list[tuple[int, int, int]]:
    """Cells with a gap between them, and perhaps around, that fill the side to the pixel."""
    found = []
    for gap in (1, 2):
        for margin in (0, gap):
            room = lines.length + gap - 2 * margin
            steps = np.arange(SMALLEST + gap, room // 2 + 1)
            for step in steps[room % steps == 0].tolist():
                at = slice(margin + step - gap, lines.length - 1, step)
                if lines.crossed[at].mean() < 0.06 or lines.even[at].mean() > 0.85:
                    found.append((step - gap, margin, gap))
    return found


def _line_likeness(lines: Profiles) -> Floats:
    """For each column, from 0 to 1, how much it looks like a part of a line: empty in a narrow
    stretch, or drawn, alike from end to end, and unlike what lies beside it."""
    lengths = np.bincount(lines.run, minlength=lines.runs + 1)
    narrow = lines.empty & (lengths[lines.run] <= max(GAPS))
    change = np.concatenate([[0.0], np.abs(np.diff(lines.light)), [0.0]])
    apart = np.concatenate([[0.0], lines.stands_out, [0.0]])
    strong = (np.maximum(apart[:-1], apart[1:]) - lines.usual) / lines.spread
    unlike = np.clip(np.maximum(change[:-1], change[1:]) * 8, 0, 1)
    even = lines.even * (lines.filled > 0.5)
    drawn = even * np.clip(np.maximum(unlike, strong / 2), 0, 1)
    goes_on = change[1:-1] < SAME_SHADE
    for _ in range(max(GAPS) // 2):  # the middle of a wide line looks like its edges
        beside = np.zeros_like(drawn)
        beside[:-1] = np.where(goes_on, drawn[1:], 0)
        beside[1:] = np.maximum(beside[1:], np.where(goes_on, drawn[:-1], 0))
        drawn = np.maximum(drawn, even * beside)
    wanted: Floats = np.where(narrow, 1.0, np.where(lines.empty, 0.0, drawn)).astype(np.float32)
    return wanted


MEASURES = (
    "whole", "once", "outside", "count", "stands_out", "weakest", "part_of_two",
    "part_of_three", "peaks", "crossed",
    "most_crossed", "clean", "clean_usual", "runs_on", "beside_empty", "empty_usual", "runs_met",
    "runs", "begins", "ends", "middles", "least_begin", "least_end", "full", "empty_cells",
    "repeats", "repeats_beside", "repeats_twice", "repeats_half", "best_repeat", "even_at",
    "even_before", "line", "gap", "margin", "gap_even", "gap_empty", "gap_apart", "rest",
    "rest_share", "exact", "content_over", "log_cell", "usual", "by_16", "by_8", "by_10", "even",
    "power", "step_power", "cell_share", "margin_like_gap",
)  # fmt: skip


def _measures(lines: Profiles, cell: Whole, margin: Whole, gap: Whole, count: Whole) -> Floats:
    """All measures of each way, in the order of their names."""
    if lines.length < 2:
        return np.zeros((len(cell), len(MEASURES)), np.float32)
    borders = _Borders(lines, cell, margin, gap, count)
    found = {
        **_of_numbers(lines, cell, margin, gap, count),
        **_of_borders(borders),
        **_of_cells(borders),
        **_of_repeats(lines, cell + gap),
        **_of_gaps(borders),
    }
    return np.stack([found[name] for name in MEASURES], axis=1).astype(np.float32)


class _Borders:
    """Where the cells of each way begin and end, and the lines between them: arrays of shape (ways,
    the most cells of any). Between two cells of a way with a gap lie

        … end │ inside … inside_last │ start …      `at` is the border after the end, `after` the
              at                   after            one before the next start

    `inner` says which borders lie between two cells, `valid` which cells there are."""

    def __init__(
        self, lines: Profiles, cell: Whole, margin: Whole, gap: Whole, count: Whole
    ) -> None:
        self.lines, self.cell, self.gap, self.many = lines, cell, gap, count > 1
        step, place = cell + gap, np.arange(int(count.max()))
        final, last = lines.length - 1, max(lines.length - 2, 0)
        start = margin[:, None] + place * step[:, None]
        self.valid = place < count[:, None]
        self.inner = place < (count - 1)[:, None]
        self.end = np.minimum(start + cell[:, None] - 1, final)
        self.start = np.minimum(start, final)
        self.at = np.minimum(self.end, last)
        self.after = np.minimum(self.at + gap[:, None], last)
        self.inside = np.minimum(self.end + 1, final)
        self.inside_last = np.minimum(self.end + np.maximum(gap, 1)[:, None], final)
        self.next = np.minimum(self.end + gap[:, None], final)
        self.number = np.maximum(self.inner.sum(axis=1), 1)

    def mean(self, values: Floats) -> Floats:
        """The mean of each way's values between cells."""
        result: Floats = (values * self.inner).sum(axis=1) / self.number
        return result

    def same(self, value: float) -> Floats:
        """One value for all ways."""
        return np.full(len(self.cell), value)


def _of_numbers(
    lines: Profiles, cell: Whole, margin: Whole, gap: Whole, count: Whole
) -> dict[str, Floats]:
    """What the numbers themselves say, and what they leave over."""
    step, length = cell + gap, lines.length
    used = margin + count * step - gap
    rest = length - used
    filled = np.concatenate([[0.0], np.cumsum(lines.filled)])
    within = filled[np.clip(used, 0, length)] - filled[margin]
    return {
        "whole": (cell == length) & (margin == 0),
        "once": count <= 1,
        "outside": 1 - within / max(filled[-1], 1e-6),
        "count": np.log2(count),
        "gap": gap,
        "margin": margin,
        "rest": np.minimum(rest, 64),
        "rest_share": rest / cell,
        "exact": rest == 0,
        "content_over": np.maximum(0, lines.extent[1] - used) / cell,
        "log_cell": np.log2(cell),
        "usual": np.isin(cell, USUAL),
        "by_16": cell % 16 == 0,
        "by_8": cell % 8 == 0,
        "by_10": cell % 10 == 0,
        "even": cell % 2 == 0,
        "power": (cell & (cell - 1)) == 0,
        "step_power": (step & (step - 1)) == 0,
        "cell_share": cell / length,
        "margin_like_gap": (margin == gap) & (gap > 0),
    }


def _of_borders(borders: _Borders) -> dict[str, Floats]:
    """How much the lines between cells stand out, and how much is drawn across them."""
    lines, at, after, inner = borders.lines, borders.at, borders.after, borders.inner
    number, last = borders.number, max(lines.length - 2, 0)
    strength = (lines.stands_out - lines.usual) / lines.spread
    here = (strength[at] + strength[after]) / 2
    beside = [strength[np.clip(at + d, 0, last)] for d in (-2, -1, 1, 2)]
    crossed = np.minimum(lines.crossed[at], lines.crossed[after])
    met = np.zeros((len(borders.cell), lines.runs + 1), bool)
    rows = np.broadcast_to(np.arange(len(borders.cell))[:, None], at.shape)
    for place in (borders.end, borders.inside, borders.next):
        met[rows[inner], lines.run[place[inner]]] = True
    root = np.sqrt(number / (number + 1.5)) * np.sqrt(number)
    return {
        "stands_out": borders.mean(here) * root,
        "weakest": np.where(borders.many, np.where(inner, here, 99).min(axis=1), 0),
        "part_of_two": _part(here, inner, 2),
        "part_of_three": _part(here, inner, 3),
        "peaks": borders.mean(here >= np.max(beside, axis=0)),
        "crossed": borders.mean(crossed),
        "most_crossed": np.where(inner, crossed, 0).max(axis=1),
        "clean": borders.mean(crossed <= CLEAN),
        "clean_usual": borders.same((lines.crossed <= CLEAN).mean()),
        "runs_on": borders.mean(np.minimum(lines.runs_on[at], lines.runs_on[after])),
        "beside_empty": borders.mean(lines.empty[borders.end] | lines.empty[borders.inside]),
        "empty_usual": borders.same(lines.empty.mean()),
        "runs_met": met[:, 1:].sum(axis=1) / max(lines.runs, 1),
        "runs": borders.same(np.log2(1 + lines.runs)),
    }


def _of_cells(borders: _Borders) -> dict[str, Floats]:
    """Where what is drawn begins and ends within its cells."""
    lines, cell, start, end = borders.lines, borders.cell, borders.start, borders.end
    first, last = lines.first[start], lines.last[end]
    drawn = borders.valid & (first <= last) & (first <= end) & (last >= start)
    begin, stop = (first - start) * drawn, (last - start + 1) * drawn
    full = ((stop - begin) >= cell[:, None]) * drawn
    return {
        "begins": _spread(begin, drawn),
        "ends": _spread(stop, drawn),
        "middles": _spread((begin + stop) / 2, drawn),
        "least_begin": np.where(drawn, begin, 9999).min(axis=1) / cell,
        "least_end": (cell - np.where(drawn, stop, 0).max(axis=1)) / cell,
        "full": full.sum(axis=1) / np.maximum(drawn.sum(axis=1), 1),
        "empty_cells": 1 - drawn.sum(axis=1) / np.maximum(borders.valid.sum(axis=1), 1),
    }


def _of_repeats(lines: Profiles, step: Whole) -> dict[str, Floats]:
    """How much the picture is like itself a step further on, against other steps."""
    repeats, up_to = lines.repeats, len(lines.repeats) - 1
    at_step = repeats[np.minimum(step, up_to)]
    around = np.max([repeats[np.clip(step + d, 0, up_to)] for d in (-2, -1, 1, 2)], axis=0)
    return {
        "repeats": at_step,
        "repeats_beside": at_step - around,
        "repeats_twice": repeats[np.minimum(2 * step, up_to)],
        "repeats_half": repeats[np.maximum(step // 2, 1)],
        "best_repeat": at_step - repeats[:-1].max(),
    }


def _of_gaps(borders: _Borders) -> dict[str, Floats]:
    """Whether what lies just behind a cell looks like a line, and not like the cells beside it."""
    lines, gap, inner, end = borders.lines, borders.gap, borders.inner, borders.end
    inside, inside_last, final = borders.inside, borders.inside_last, lines.length - 1
    further = np.minimum(inside + 1, final)
    apart = [
        np.where(inner, np.abs(lines.light[inside] - lines.light[np.clip(place, 0, final)]), 0)
        for place in (end, inside_last + 1)
    ]
    line = lines.even[inside] - (lines.even[end] + lines.even[further]) / 2
    gaps = {
        "gap_even": (lines.even[inside] + lines.even[inside_last]) / 2,
        "gap_empty": lines.empty[inside] & lines.empty[inside_last],
        "gap_apart": np.minimum(*apart),
    }
    return {
        "even_at": borders.mean(lines.even[inside]),
        "even_before": borders.mean(lines.even[end]),
        "line": borders.mean(line),
        **{name: np.where(gap > 0, borders.mean(values), 0) for name, values in gaps.items()},
    }


def _part(values: Floats, inner: Mask, every: int) -> Floats:
    """How much weaker the weakest of every second (or third) line is than all of them."""
    number = np.maximum(inner.sum(axis=1), 1)
    whole = (values * inner).sum(axis=1) / number
    weakest = whole.copy()
    for first in range(every):
        part = values[:, first::every]
        keep = inner[:, first::every]
        count = keep.sum(axis=1)
        mean = (part * keep).sum(axis=1) / np.maximum(count, 1)
        weakest = np.where((count > 0) & (number >= every), np.minimum(weakest, mean), weakest)
    result: Floats = weakest - whole
    return result


def _spread(values: Floats, keep: Mask) -> Floats:
    """The standard deviation of what is kept, in pixels, at most 32."""
    number = np.maximum(keep.sum(axis=1), 1)
    mean = (values * keep).sum(axis=1) / number
    apart = np.where(keep, values - mean[:, None], 0)
    result: Floats = np.minimum(np.sqrt((apart**2).sum(axis=1) / number), 32)
    return result
