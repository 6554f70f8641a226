"""The sheets of a project speak for each other: who draws one keeps to a few sizes of cells."""

from __future__ import annotations

import math
import re
from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from operator import itemgetter

import numpy as np

from rushweed.core.arrays import Reals
from rushweed.core.cut.inspect import SURE, Seen, with_sentences
from rushweed.core.cut.seeing.ranked import LIKELY, Ranked, Reading
from rushweed.core.cut.seeing.trees import logistic, weights
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture, Sheet
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
Named = tuple[int, str]
"""A sheet's place in the project, and its name."""


@dataclass(frozen=True)
class Pack:
    """How much all sheets together speak for each size of cells, how much those of one size do
    (size of the sheet, size of the cells), and each sheet's part of it; and by what those are like
    others that somebody cut: how they are cut, each by the first two of them."""

    cells: Mapping[Size, float]
    alike: Mapping[tuple[Size, Size], float]
    own: Mapping[str, tuple[Size, Votes]]
    cut: Mapping[Hashable, Mapping[Layout, Sequence[Named]]]

    @classmethod
    def of(cls, own: Mapping[str, tuple[Size, Votes]], sheets: Iterable[Sheet] = ()) -> Pack:
        """The pack of sheets by name, each with its size in drawn pixels and what it speaks for;
        `sheets` are the project's."""
        cells: dict[Size, float] = defaultdict(float)
        alike: dict[tuple[Size, Size], float] = defaultdict(float)
        for size, votes in own.values():
            for cell, vote in votes.items():
                cells[cell] += vote
                alike[size, cell] += vote
        cut: dict[Hashable, dict[Layout, list[Named]]] = defaultdict(lambda: defaultdict(list))
        for place, sheet in enumerate(sheets):
            if sheet.layout is not None:
                of_size, *more = likeness(sheet)
                for by in (of_size, *more) if isinstance(sheet.layout, EvenCells) else (of_size,):
                    named = cut[by][_plain(sheet.layout)]
                    if len(named) < 2:  # one may be the very sheet that is asked about
                        named.append((place, sheet.name))
        return cls(cells, alike, own, cut)

    def is_company(self, name: str) -> bool:
        """Whether there is any other sheet than that."""
        return len(self.own) > (name in self.own)

    def _backing(self, name: str, size: Size, reading: Reading) -> tuple[float, float]:
        """How many other sheets speak for a reading of a sheet, and how many of its own size."""
        if not isinstance(reading.layout, EvenCells):
            return 0.0, 0.0
        cell = reading.layout.cell
        own = self.own[name][1].get(cell, 0.0) if name in self.own else 0.0
        every, alike = self.cells.get(cell, 0.0), self.alike.get((size, cell), 0.0)
        return max(every - own, 0.0), max(alike - own, 0.0)

    def first_like(self, sheet: Sheet, readings: Sequence[Reading]) -> tuple[str, Reading] | None:
        """The first sheet like one that is cut by any of its readings, and that reading: a sheet of
        the same size; or one of cells that is as wide or as high, and whose name begins with the
        same word or that the same author drew."""
        found = [
            (place, name, reading)
            for by in likeness(sheet)
            for reading in readings
            for place, name in self.cut.get(by, {}).get(_plain(reading.layout), ())
            if name != sheet.name
        ]
        return min(found, key=itemgetter(0))[1:] if found else None

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
    votes: dict[Size, float] = defaultdict(float)
    for one in ranked.readings:
        if isinstance(one.layout, EvenCells):
            votes[one.layout.cell] += one.share * ranked.sure**HEARD
    return votes


def likeness(sheet: Sheet) -> Iterator[Hashable]:
    """By what a sheet is like others: its size; one of its sides with the first word of its name,
    and with its author."""
    size = sheet.sources[0].size
    yield size
    word = WORDS.search(sheet.name.lower())
    for who in (("word", word and word.group()), ("author", sheet.licence.author)):
        if who[1]:
            yield from ((who, side, length) for side, length in enumerate(size))


def _plain(layout: Layout) -> Layout:
    """A layout; loose pieces are alike however they are told apart."""
    return LoosePieces() if isinstance(layout, LoosePieces) else layout


def pack_of(sheets: Iterable[Sheet], seen: Callable[[Sheet], Seen | None]) -> Pack:
    """The pack of a project's sheets; `seen` tells what is seen in those that nobody cut, as far as
    that is known. What cannot be read is not heard."""
    own: dict[str, tuple[Size, Votes]] = {}
    sheets = tuple(sheets)
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
    return Pack.of(own, sheets)


def seen_in_pack(seen: Seen, sheet: Sheet, pack: Pack) -> Seen:
    """What is seen in a sheet that waits, next to the others: its likeliest reading is that for
    which most speaks; one by which somebody cut a sheet like it comes first of all, and where it
    did not before, it is asked for. What is certain, as by a list or by frames, stays."""
    if seen.listed or seen.sure >= 1.0:
        return seen
    if pack.is_company(sheet.name):
        seen = _weighed(seen, sheet, pack)
    like = pack.first_like(sheet, seen.readings)
    if like is None:
        return seen
    name, reading = like
    rest = tuple(one for one in seen.readings if one is not reading)
    sure = seen.sure if reading is seen.readings[0] else min(seen.sure, 0.99 * SURE)
    told = replace(reading, why=say("“{name}” is cut like that", name=name))
    return _first(replace(seen, sure=sure), sheet, (told, *rest))


def _weighed(seen: Seen, sheet: Sheet, pack: Pack) -> Seen:
    first, is_said = seen.readings[0], "kind" in sheet.decided
    fits: list[Reading] = []
    rest: list[Reading] = []
    for one in seen.readings:  # where somebody said the kind, only what fits it competes
        (rest if is_said and one.layout.kind != first.layout.kind else fits).append(one)
    weighed, told = pack.weighed(sheet.name, seen.drawn, Ranked(tuple(fits), seen.sure))
    best, *others = weighed.readings
    if best.layout != first.layout:
        best = replace(best, why=say("other pictures here have cells of this size"))
    sure = logistic(told, weights().sure_in_company)
    return _first(replace(seen, sure=sure), sheet, (best, *others, *rest))


def _first(seen: Seen, sheet: Sheet, readings: tuple[Reading, ...]) -> Seen:
    """What was seen with its readings in another order, and told so."""
    kind = seen.kind if "kind" in sheet.decided else readings[0].kind
    return with_sentences(replace(seen, readings=readings, kind=kind))
