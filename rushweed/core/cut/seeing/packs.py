"""What was decided for one sheet of a pack counts for those that are like it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace

from rushweed.core.cut.inspect import Seen
from rushweed.core.project.sheet import EvenCells, LoosePieces, Sheet
from rushweed.core.words import say

WORDS = re.compile(r"[^\W\d_]+")


def seen_in_pack(seen: Seen, sheet: Sheet, sheets: Iterable[Sheet]) -> Seen:
    """What was seen in a sheet that waits, with the reading first by which a sheet like it is cut:
    one of the same size; or one that is as wide or as high and whose name begins with the same
    word, or that the same author drew. How sure it is stays as it was."""
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
                return replace(seen, readings=(told, *rest))
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
