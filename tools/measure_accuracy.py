"""Reads every generated sheet and writes docs/accuracy.md, with what was found on real sheets when
the weights were learned, and the picture of how sureness and truth agree."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from itertools import product
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.cut.inspect import SURE, Seen, inspect  # noqa: E402
from rushweed.core.cut.seeing.trees import weights  # noqa: E402
from rushweed.core.project.sheet import EvenCells, LoosePieces, OnePicture  # noqa: E402
from rushweed.core.values import Rect  # noqa: E402
from rushweed.core.weave.hem_marks import read_marks  # noqa: E402
from tools.corpus.hem_sets import HemSet, draw_set  # noqa: E402
from tools.corpus.pages import pages  # noqa: E402
from tools.corpus.sheets import KINDS, UNLEARNED, Sample, corpus  # noqa: E402
from tools.measured_repairs import enlargement_table, keys_table  # noqa: E402
from tools.reading_code import reading_code  # noqa: E402

REPORTED = 9000
"""Sheets of other seeds are learned from."""

HEAD = """# How often a picture is read rightly

Written by `tools/measure_accuracy.py`; the weights are learned by `tools/learn_readings.py`, which
measures the real sheets as it learns.

All readings of a picture compete: one picture, loose pieces, every likely grid. *Taken* is what
*Take it as seen* does: kind, cell, margin and gap are all right, both ways. *First* and *first
three* look at grids only. *Held* says that the right reading was among those that compete. *Sure*
is how many say that they are right with at least {sure:.0%}, and how many of these are.

Whether the sheets of a figure come to lie over each other stands in [stands.md](stands.md).

## On real sheets

{real} sheets of {games} games, drawn by many hands, in formats of every kind. They are not a part
of this project. Learned {when}, together with {generated} generated ones. Each figure is for
sheets of games that nothing was learned from: the games are dealt into {folds} folds, and each
fold is read with what was learned from the others. {code}

{table}

![Of answers that are so sure, so many are right](sureness.svg)

Of {sure_count} answers that are sure, {sure_right} are right; {sure_wrong} of {asked} pictures are
read wrongly by one who is sure. What is not sure is not taken: its likeliest readings are shown
beside each other, and a click chooses.

Of {kinds_count} that are cut rightly and known to be tilesets, figures or pictures, {kinds_right}
are told as what they are.

### Next to the other sheets of their game

Whoever draws a sheet keeps to a few sizes of cells, so the sheets of a project are heard on each
other (`core/cut/seeing/packs.py`). {company} of them have others of their game here. No sheet was
cut by anybody before.

{together}

Of {together_count} that are sure then, {together_right} are right.

Of {keys_count} pictures with a flat colour that stands for nothing, {keys_right} are read with that
colour; of {unkeyed_count} without one, {unkeyed_right} are read with none. Keys are not learned.

## On generated sheets

{count} sheets from `tools/corpus/`, other ones than those that were learned from. Of the kinds in
the last rows ({unlearned}) none was, and *all* leaves them out.

{made}

## Boxes of loose pieces

Pages of figures whose boxes are known (`tools/corpus/pages.py`), trimmed and laid on shelves: how
many boxes are found, to nine tenths of what both cover, and how many of those that are found are
boxes of figures. Where figures of all sizes touch, nothing tells where one ends but what is drawn.

| page | found | right of those found |
| --- | --- | --- |
{boxes}

## Hems

Generated sets of tiles with a rim of known width (`tools/corpus/hem_sets.py`), from one pixel to
nearly half a tile, straight and rough, square and not: how many tiles are marked rightly in all
nine parts, by `core/weave/hem_marks.py`.

{hems}

## Keys of lossy pictures

Figures over a flat colour, saved as JPEG: hard pixels, enlarged ones, soft edges. How many keys are
seen; what share of the pixels that are shown then is nearer to the key than to what was drawn; how
many of the same sheets, saved without loss, are taken for lossy.

| key | quality | seen | nearer to the key | taken for lossy |
| --- | --- | --- | --- | --- |
{keys}

## Bad enlargement

Generated sheets enlarged by whole and broken factors, and parts of such that begin and end within
a pixel, as parts of a screen do. How many are told with the very size they were drawn at, and what
share of the pixels that are drawn comes back within 12 levels of 255.
Cubic kernels overshoot, and what is cut off there can only be guessed.

| factor | repeated | linear | cubic |
| --- | --- | --- | --- |
{enlarged}
"""
SAME_BOX = 0.9
HEM_HEADING = "| tiles in a set | clear rims | opaque rims |\n| --- | --- | --- |"
HEM_SEEDS, HEM_SIZES = range(100, 104), ((16, 16), (32, 32), (24, 16), (8, 8), (48, 40))
COLUMNS = ("taken", "first", "first three", "held")
SIDE, MARGIN = 240, 40


def main() -> None:
    each = int(sys.argv[1]) if len(sys.argv) > 1 else 25
    learned = weights().learned
    figures = learned["figures"]
    everything = figures["all"]
    folds = sorted(name for name in figures if name.startswith("fold "))
    told = [name for name, found in figures.items() if "taken" in found]  # else but of its key
    tags = sorted(set(told) - {"all", *folds})
    rows = [_row(name, figures[name]) for name in ("all", *folds, *tags)]
    beside = learned["together"]
    together = [_row(name, beside[name]) for name in ("all", *folds, *tags)]
    together_right, together_count = beside["all"]["right of sure"]
    made = _generated(each)
    sure_right, sure_count = everything["right of sure"]
    text = HEAD.format(
        sure=SURE,
        **{name: learned[name] for name in ("real", "games", "when", "generated")},
        code=_code(learned["code"]),
        folds=len(folds),
        table="\n".join([_heading("sheets", "one picture", "loose, counted"), *rows]),
        company=learned["company"],
        together="\n".join([_heading("sheets", "one picture", "loose, counted"), *together]),
        together_right=together_right,
        together_count=together_count,
        kinds_right=everything["kind"][0],
        kinds_count=everything["kind"][1],
        sure_count=sure_count,
        sure_right=sure_right,
        sure_wrong=everything["sure and wrong"][0],
        asked=everything["taken"][1],
        keys_right=everything["keys"][0],
        keys_count=everything["keys"][1],
        unkeyed_right=everything["no key"][0],
        unkeyed_count=everything["no key"][1],
        count=each * len(KINDS | UNLEARNED),
        unlearned=", ".join(UNLEARNED),
        made="\n".join([_heading("kind of sheet"), *made]),
        boxes="\n".join(_boxes(each)),
        hems="\n".join([HEM_HEADING, *_hems()]),
        keys="\n".join(keys_table()),
        enlarged="\n".join(enlargement_table()),
    )
    (ROOT / "docs" / "accuracy.md").write_text(text, encoding="utf-8")
    (ROOT / "docs" / "sureness.svg").write_text(_curve(learned["curve"]), encoding="utf-8")
    print("\n".join([*rows[: 1 + len(folds)], *together[: 1 + len(folds)], *made]))


def _boxes(each: int) -> list[str]:
    """How many boxes of loose pieces are found, by kind of page."""
    found: dict[str, list[int]] = {}
    for kind, picture, wanted in pages(each, REPORTED):
        pieces = inspect(picture).loose
        hits = sum(any(_shared(box, piece) >= SAME_BOX for piece in pieces) for box in wanted)
        row = found.setdefault(kind, [0, 0, 0])
        for place, number in enumerate((hits, len(wanted), len(pieces))):
            row[place] += number
    return [
        f"| {kind} | {_share((hits, wanted))} | {_share((hits, pieces))} |"
        for kind, (hits, wanted, pieces) in found.items()
    ]


def _shared(one: Rect, other: Rect) -> float:
    """What two rectangles share, against what both cover."""
    shared = one.intersection(other).area
    return shared / (one.area + other.area - shared)


def _hems() -> list[str]:
    rows = []
    for count in (9, 13, 16, 47, 256):
        shares = [_share(_marked(count, clear)) for clear in (True, False)]
        rows.append(f"| {count} | {shares[0]} | {shares[1]} |")
    return rows


def _marked(count: int, clear: bool) -> tuple[int, int]:
    """How many tiles of sets of one kind are marked rightly, and of how many."""
    right = asked = 0
    for seed, (width, height) in product(HEM_SEEDS, HEM_SIZES):
        widest = min(width, height) // 2 - 1
        for rim in sorted({1, 2, width // 4, width // 3, widest}):
            rough = int(2 < rim < widest - 1)
            if rim > widest:
                continue
            tiles, marks = draw_set(HemSet(count, width, height, rim, clear, rough), seed)
            read = read_marks(dict(enumerate(tiles)))
            right += sum(read[place] == parts for place, parts in enumerate(marks))
            asked += len(marks)
    return right, asked


def _code(learned: str) -> str:
    """Whether the figures that came with the weights are those of this code."""
    now = reading_code()
    if learned == now:
        return f"They were measured with the code as it is (`core/cut` and `core/gather`, {now})."
    return f"They were measured with older code ({learned}; now it is {now}): learn anew."


def _heading(first: str, *more: str) -> str:
    names = (first, *COLUMNS, "sure", "right of these", *more)
    return f"| {' | '.join(names)} |\n|{' --- |' * len(names)}"


def _row(name: str, found: dict[str, Any], more: Sequence[str] = ("one picture", "loose")) -> str:
    """A line of a table: shares as they are, and of how many."""
    label = name.replace("_", " ")
    sure, asked = found.get("right of sure", (0, 0))[1], found.get("taken", (0, 0))[1]
    cells = [
        *(_share(found.get(what)) for what in COLUMNS),
        _share((sure, asked)),
        _share(found.get("right of sure")),
        *(_share(found.get(what)) for what in more),
    ]
    return f"| {label} | {' | '.join(cells)} |"


def _share(found: Sequence[int] | None) -> str:
    if not found or not found[1]:
        return ""
    return f"{found[0] / found[1]:.1%} of {found[1]}"


def _generated(each: int) -> list[str]:
    whole: dict[str, dict[str, list[int]]] = {}
    for sample in corpus(each, REPORTED, unlearned=True):
        for name in (sample.kind, "all") if sample.kind in KINDS else (sample.kind,):
            row = whole.setdefault(name, {})
            for what, right in _answers(sample).items():
                found = row.setdefault(what, [0, 0])
                found[0] += right
                found[1] += 1
    everything = whole.pop("all")
    return [_row(name, row, ()) for name, row in {"all": everything, **whole}.items()]


def _answers(sample: Sample) -> dict[str, bool]:
    """What is right about how a generated sheet is read."""
    seen = inspect(sample.picture)
    right = [is_right(sample, seen, reading.layout) for reading in seen.readings]
    answers = {"taken": right[0], "held": any(right)}
    if sample.cell > (0, 0):
        grids = [is_right(sample, seen, reading.layout) for reading in seen.grids]
        answers |= {"first": any(grids[:1]), "first three": any(grids[:3])}
    if seen.is_sure:
        answers["right of sure"] = right[0]
    return answers


def is_right(sample: Sample, seen: Seen, layout: object) -> bool:
    """Whether a layout is that of a generated sheet. With a single row or column there is no gap
    to be seen that way."""
    if not isinstance(layout, EvenCells):
        kinds = {(0, 0): OnePicture, (-1, -1): LoosePieces}
        return isinstance(layout, kinds.get(sample.cell, type(None)))
    return all(
        layout.cell[side] == sample.cell[side]
        and layout.margin[side] == sample.margin[side]
        and (layout.gap[side] == sample.gap[side] or seen.size[side] < 2 * sample.cell[side])
        for side in (0, 1)
    )


def _curve(bins: Sequence[Sequence[float]]) -> str:
    """Of answers that are about so sure, the share that is right, as a picture; the larger a dot,
    the more answers."""
    whole = SIDE + 2 * MARGIN

    def place(told: float, right: float) -> tuple[float, float]:
        return MARGIN + told * SIDE, whole - MARGIN - right * SIDE

    dots = [
        '<circle cx="{:.1f}" cy="{:.1f}" r="{:.1f}" fill="#1f7a78" fill-opacity="0.75"/>'.format(
            *place(told, right), 3 + (count**0.5) * 0.8
        )
        for count, told, right in bins
    ]
    (left, bottom), (right, top) = place(0, 0), place(1, 1)
    words = (
        f'<text x="{whole / 2}" y="{whole - 8}" text-anchor="middle">sure</text>',
        f'<text x="14" y="{whole / 2}" text-anchor="middle" '
        f'transform="rotate(-90 14 {whole / 2})">right</text>',
        f'<text x="{left}" y="{bottom + 16}" text-anchor="middle">0</text>',
        f'<text x="{right}" y="{bottom + 16}" text-anchor="middle">1</text>',
        f'<text x="{left - 10}" y="{top + 4}" text-anchor="middle">1</text>',
    )
    return "\n".join(
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {whole} {whole}" '
            f'width="{whole}" height="{whole}" font-family="sans-serif" font-size="12">',
            f'<rect width="{whole}" height="{whole}" fill="#faf8f2"/>',
            f'<path d="M{left} {top}V{bottom}H{right}" fill="none" stroke="#55524a"/>',
            f'<path d="M{left} {bottom}L{right} {top}" stroke="#b8b2a2" stroke-dasharray="4 4"/>',
            *dots,
            *words,
            "</svg>\n",
        )
    )


if __name__ == "__main__":
    main()
