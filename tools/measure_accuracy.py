"""Guesses the grid of every generated sheet and writes docs/accuracy.md."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.cut.inspect import inspect  # noqa: E402
from tests.corpus.sheets import KINDS, Sample, corpus  # noqa: E402

REPORTED = 9000
"""The method was tuned on other sheets, those of seed 0."""

HEAD = """# How often the grid is right

Written by `tools/measure_accuracy.py` from generated sheets (`tests/corpus/`), {count} in all.
A guess is right when cell, margin and gap are those the sheet was made with, in both directions;
*first three* counts sheets whose true grid is among the three best guesses. None of these
sheets was looked at while the method was tuned. Real art differs from generated art: read this
as a comparison between kinds, and between versions.

| kind of sheet | sheets | right first | within the first three |
| --- | --- | --- | --- |
"""


def place_of_truth(sample: Sample) -> int:
    """The place of the true grid among the guesses, 99 when it is not among them."""
    truth = (sample.cell, sample.margin, sample.gap)
    columns, rows = (
        sample.picture.shape[1] // sample.cell[0],
        sample.picture.shape[0] // sample.cell[1],
    )
    for place, guess in enumerate(inspect(sample.picture).grids):
        grid = guess.grid
        found = (tuple(grid.cell), tuple(grid.margin), tuple(grid.gap))
        if found == truth or _same_but_for_one_line(found, truth, columns, rows):
            return place
    return 99


def _same_but_for_one_line(found: tuple, truth: tuple, columns: int, rows: int) -> bool:  # type: ignore[type-arg]
    """With a single row or column there is no gap to be seen in that direction."""
    one = [columns == 1, rows == 1]
    return all(
        found[0][axis] == truth[0][axis]
        and found[1][axis] == truth[1][axis]
        and (found[2][axis] == truth[2][axis] or one[axis])
        for axis in (0, 1)
    )


def main() -> None:
    each = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    places: dict[str, list[int]] = {kind: [] for kind in KINDS}
    for sample in corpus(each, REPORTED):
        places[sample.kind].append(place_of_truth(sample))
    rows = list(places.items())
    rows.append(("**all**", [place for found in places.values() for place in found]))
    lines = [
        f"| {kind} | {len(found)} | {_share(found, 0)} | {_share(found, 2)} |\n"
        for kind, found in rows
    ]
    text = HEAD.format(count=len(rows[-1][1])) + "".join(lines)
    (ROOT / "docs" / "accuracy.md").write_text(text, encoding="utf-8")
    print("".join(lines))


def _share(places: list[int], last: int) -> str:
    right = sum(place <= last for place in places)
    return f"{right / len(places):.0%}"


if __name__ == "__main__":
    main()
