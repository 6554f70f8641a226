"""The sheets of a project speak for each other: who draws one keeps to a few sizes of cells."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.cut.inspect import SURE, Seen, with_sentences
from rushweed.core.cut.seeing.ranked import LIKELY, Ranked, Reading
from rushweed.core.cut.seeing.trees import logistic, weights
from rushweed.core.project.sheet import EvenCells, LoosePieces, OnePicture, Sheet
from rushweed.core.values import Refusal, Size
from rushweed.core.words import say

WORDS = re.compile(r"[^\W\d_]+")
HEARD = 3
"""A sheet that nobody cut yet is heard as far as it is sure itself, to this power."""
BACKED = 0.5
"""A reading that so many sheets speak for has company."""
MOST_LEAD, MOST_RIVAL = 4.0, 2.0
Votes = Mapping[Size, float]
"""How much a sheet speaks for each size of cells, 1 in all where it is sure."""


@dataclass(frozen=True)
class Pack:
    """How much all sheets together speak for each size of cells, how much those of one size do
    (size of the sheet, size of the cells), and each sheet's part of it."""

    cells: Counter[Size]
    alike: Counter[tuple[Size, Size]]
    own: Mapping[str, tuple[Size, Votes]]

    @classmethod
    def of(cls, own: Mapping[str, tuple[Size, Votes]]) -> Pack:
        """The pack of sheets by name, each with its size in drawn pixels and what it speaks for."""
        cells: Counter[Size] = Counter()
        alike: Counter[tuple[Size, Size]] = Counter()
        for size, votes in own.values():
            for cell, vote in votes.items():
                cells[cell] += vote  # type: ignore[assignment] # the standard counter takes parts
                alike[size, cell] += vote  # type: ignore[assignment]
        return cls(cells, alike, own)

    def is_company(self, name: str) -> bool:
        """Whether there is any other sheet than that."""
        return bool(self.own.keys() - {name})

    def _backing(self, name: str, size: Size, reading: Reading) -> tuple[float, float]:
        """How many other sheets speak for a reading of a sheet, and how many of its own size."""
        if not isinstance(reading.layout, EvenCells):
            return 0.0, 0.0
        cell = reading.layout.cell
        own = self.own[name][1].get(cell, 0.0) if name in self.own else 0.0
        return max(self.cells[cell] - own, 0.0), max(self.alike[size, cell] - own, 0.0)

    def weighed(self, name: str, size: Size, ranked: Ranked) -> tuple[Ranked, Reals]:
        """A sheet's readings with the others heard, likeliest first, as sure as they were alone;
        and what sureness is told by then, with a constant first.

        A reading's score grows by the logarithm of one more than twice what speaks for it, so that
        the first sheets say most and no crowd shouts down what a picture shows.
        """
        backing = np.array([self._backing(name, size, one) for one in ranked.readings])
        shares = np.array([max(one.share, 1e-12) for one in ranked.readings])
        gains: Reals = np.log1p(2 * backing).sum(axis=1)
        scores = np.log(shares) / LIKELY + gains
        order = np.argsort(-scores, kind="stable")
        weighed = np.exp(LIKELY * (scores - scores.max()))
        weighed *= shares.sum() / weighed.sum()
        readings = tuple(
            replace(ranked.readings[place], share=float(weighed[place])) for place in order.tolist()
        )
        lead = float(scores[order[0]] - scores[order[1]]) if len(order) > 1 else MOST_LEAD
        lead, first = min(lead, MOST_LEAD), readings[0].layout
        rival = float(max(backing[order[1:], 0], default=0.0))
        told = [
            1.0,
            lead,
            math.sqrt(lead),
            float(order[0] != 0),
            *(backing[order[0]] > BACKED),
            min(rival, MOST_RIVAL),
            lead * isinstance(first, OnePicture),
            lead * isinstance(first, LoosePieces),
        ]
        return Ranked(readings, ranked.sure), np.array(told, float)


def votes_of(ranked: Ranked) -> Votes:
    """What a sheet speaks for that nobody cut yet."""
    votes: Counter[Size] = Counter()
    for one in ranked.readings:
        if isinstance(one.layout, EvenCells):
            votes[one.layout.cell] += one.share * ranked.sure**HEARD  # type: ignore[assignment]
    return votes


def pack_of(sheets: Iterable[Sheet], seen: Callable[[Sheet], Seen | None]) -> Pack:
    """The pack of a project's sheets; `seen` tells what is seen in those that nobody cut, as far as
    that is known. What cannot be read is not heard."""
    own: dict[str, tuple[Size, Votes]] = {}
    for sheet in sheets:
        if isinstance(sheet.layout, EvenCells):
            own[sheet.name] = sheet.size, {sheet.layout.cell: 1.0}
        elif sheet.layout is None and sheet.belongs is None:
            try:
                found = seen(sheet)
            except Refusal:
                found = None
            if found is not None and found.readings:
                own[sheet.name] = found.drawn, votes_of(Ranked(found.readings, found.sure))
    return Pack.of(own)


def seen_in_pack(seen: Seen, sheet: Sheet, sheets: Iterable[Sheet], pack: Pack) -> Seen:
    """What is seen in a sheet that waits, next to the others: its likeliest reading is that for
    which most speaks, and a reading by which somebody cut a sheet like it comes first of all."""
    if not seen.listed and seen.readings and seen.sure < 1.0:
        seen = _weighed(seen, sheet, pack)
    return _as_its_like(seen, sheet, sheets)


def _weighed(seen: Seen, sheet: Sheet, pack: Pack) -> Seen:
    first = seen.readings[0]
    open_ones, rest = seen.readings, seen.readings[:0]
    if "kind" in sheet.decided:  # only what fits the kind that somebody said competes
        fits = first.layout.kind
        open_ones = tuple(one for one in seen.readings if one.layout.kind == fits)
        rest = tuple(one for one in seen.readings if one.layout.kind != fits)
    if not pack.is_company(sheet.name):
        return seen
    weighed, told = pack.weighed(sheet.name, seen.drawn, Ranked(open_ones, seen.sure))
    best, *others = weighed.readings
    if best.layout != first.layout:
        best = replace(best, why=say("other pictures here have cells of this size"))
    return with_sentences(
        replace(
            seen,
            readings=(best, *others, *rest),
            sure=logistic(told, weights().sure_in_company),
            kind=seen.kind if "kind" in sheet.decided else best.kind,
        )
    )


def _as_its_like(seen: Seen, sheet: Sheet, sheets: Iterable[Sheet]) -> Seen:
    """The reading first by which a sheet like it is cut: one of the same size; or one that is as
    wide or as high and whose name begins with the same word, or that the same author drew. Where it
    was not the first before, it is asked for."""
    for other in sheets:
        if other.name == sheet.name or other.layout is None or not is_like(sheet, other):
            continue
        for reading in seen.readings:
            same = reading.layout == other.layout or (
                isinstance(reading.layout, LoosePieces) and isinstance(other.layout, LoosePieces)
            )
            if same:
                told = replace(reading, why=say("“{name}” is cut like that", name=other.name))
                rest = tuple(one for one in seen.readings if one is not reading)
                sure = seen.sure if reading is seen.readings[0] else min(seen.sure, 0.99 * SURE)
                kind = seen.kind if "kind" in sheet.decided else reading.kind
                return with_sentences(replace(seen, readings=(told, *rest), sure=sure, kind=kind))
    return seen


def is_like(sheet: Sheet, other: Sheet) -> bool:
    """Whether two sheets look like parts of one pack that are cut alike."""
    one, two = sheet.sources[0].size, other.sources[0].size
    if one == two:
        return True
    sides = one.width == two.width or one.height == two.height
    cells = isinstance(other.layout, EvenCells)
    named = _first_word(sheet) == _first_word(other) != ""
    drawn = sheet.licence.author == other.licence.author != ""
    return sides and cells and (named or drawn)


def _first_word(sheet: Sheet) -> str:
    found = WORDS.search(sheet.name.lower())
    return found.group() if found else ""
