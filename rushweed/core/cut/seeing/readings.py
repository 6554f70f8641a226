"""The readings of a picture, ranked: one picture, loose pieces, and every likely grid compete."""

from __future__ import annotations

import math

import numpy as np

from rushweed.core.arrays import Floats, Mask, Reals
from rushweed.core.cut.regions import Boxes
from rushweed.core.cut.seeing.divisions import Divisions, divisions
from rushweed.core.cut.seeing.evidence import LOOSE, NAMES, ONE_PICTURE, Scene, evidence, scene
from rushweed.core.cut.seeing.profiles import measure
from rushweed.core.cut.seeing.ranked import LIKELY, Ranked, Reading
from rushweed.core.cut.seeing.trees import Weights, logistic, weights
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture
from rushweed.core.values import Size
from rushweed.core.words import say

MOST_SIDES, MOST_PAIRS = 10, 40
"""So many divisions of each side are paired, and so many pairs are looked at closely."""
SQUARE = 0.8
"""What it is worth, before pairs are looked at closely, that both sides are cut alike."""
Pair = tuple[int, int]


def read(
    picture: Picture,
    mask: Mask,
    regions: Boxes,
    name: str = "",
    named: frozenset[tuple[int, int]] = frozenset(),
    keyed: bool = False,
    enlarged: bool = False,
) -> Ranked:
    """Read a picture of shape (height, width, 4), of which `mask` says what is something and
    `regions` what hangs together. Its name and the sizes that the name speaks of count a little."""
    profiles = measure(picture, mask)
    across, down = map(divisions, profiles)
    seen = scene(picture, mask, profiles, regions, name, named, keyed, enlarged)
    learned = weights()
    pairs = likely_pairs(seen, across, down, learned)
    rows = evidence(seen, across, down, pairs)
    scores = learned.readings.scores(rows)
    order = np.argsort(-scores, kind="stable")
    shares = np.exp(LIKELY * (scores - scores.max()))
    shares /= shares.sum()
    readings = tuple(
        Reading(
            *laid_out(across, down, pairs[place]),
            float(shares[place]),
            _why(rows[place], pairs[place]),
        )
        for place in order.tolist()
    )
    return Ranked(readings, sureness(scores[order], rows[order[0]], learned.sure))


def likely_pairs(seen: Scene, across: Divisions, down: Divisions, learned: Weights) -> list[Pair]:
    """The readings worth a closer look, by how likely the divisions of both sides are."""
    values = [
        learned.sides.scores(side_evidence(ways, seen, side))
        for side, ways in enumerate((across, down))
    ]
    tops = []
    for value in values:
        order = np.argsort(-value, kind="stable")[:MOST_SIDES].tolist()
        tops.append(order if 0 in order else [*order, 0])
    found = [
        (values[0][i] + values[1][j] + SQUARE * (across.cell[i] == down.cell[j]), (i, j))
        for i in tops[0]
        for j in tops[1]
        if (i, j) != ONE_PICTURE
    ]
    found.sort(key=lambda pair: -pair[0])
    return [ONE_PICTURE, LOOSE, *(pair for _, pair in found[:MOST_PAIRS])]


def side_evidence(ways: Divisions, seen: Scene, side: int) -> Floats:
    """The measures of the divisions of a side, with a few of the picture's."""
    picked = seen.of_picture[[side, 5, 7, 17, 18]]
    whole = np.broadcast_to(picked, (len(ways.cell), len(picked)))
    return np.concatenate([ways.measures, whole], axis=1)


SURE_OF = ("lead", "score", "is_one_picture", "is_loose", "cut_area", "segments")


def sureness(scores: Reals, best: Floats, fitted: tuple[float, ...]) -> float:
    """How probable it is that the best reading is right: a logistic function of its lead over the
    next, its score, and what kind it is; its weights come from pictures not learned from."""
    return logistic(sure_of(scores, best), fitted)


def sure_of(scores: Reals, best: Floats) -> Reals:
    """What sureness is told by, with a constant first. `scores` are in falling order."""
    lead = float(scores[0] - scores[1]) if len(scores) > 1 else 3.0
    own = [float(best[NAMES.index(name)]) for name in SURE_OF[2:]]
    return np.array([1.0, min(lead, 4.0), math.sqrt(min(lead, 4.0)), min(scores[0], 4.0), *own])


def laid_out(across: Divisions, down: Divisions, pair: Pair) -> tuple[Layout, int, int]:
    """The layout of a reading, with its columns and rows."""
    if pair == ONE_PICTURE:
        return OnePicture(), 1, 1
    if pair == LOOSE:
        return LoosePieces(), 1, 1
    i, j = pair
    cell = Size(int(across.cell[i]), int(down.cell[j]))
    margin = Size(int(across.margin[i]), int(down.margin[j]))
    gap = Size(int(across.gap[i]), int(down.gap[j]))
    return EvenCells(cell, margin, gap), int(across.count[i]), int(down.count[j])


def _why(row: Floats, pair: Pair) -> str:
    """The strongest evidence for a reading, in words."""
    value = dict(zip(NAMES, row.tolist(), strict=True))
    if pair == ONE_PICTURE:
        if value["something"] > 0.97:
            return say("it fills its canvas and nothing in it comes back at a steady step")
        return say("what is drawn hangs together")
    if pair == LOOSE:
        return say("things of many sizes lie apart from each other")
    if value["most_gap"] > 0 and value["most_gap_even"] > 0.8:
        return say(
            "thin lines come back every {value:g} px of gap, right across", value=value["most_gap"]
        )
    if value["cut_regions"] == 0 and value["regions_a_cell"] > 0 and value["something"] < 0.97:
        return say("every cut runs through empty space")
    if value["most_repeats"] > 0.35 and value["mean_repeats_beside"] > 0:
        return say("the picture is most like itself when moved by one cell")
    if value["segments"] > 0.6:
        return say("the picture changes along most sides of the cells")
    if value["cut_area"] < 0.15:
        return say("cuts cross little of what is drawn")
    return say("its sides divide evenly")
