"""Lists of rectangles with names, in texts that lie beside packed pictures.

JSON, XML, property lists and tables of values are read without knowing who wrote them: every list
or map of things that each hold numbers is a candidate, whatever its names are. What the numbers
mean is told later by the picture (`core/cut/listed.py`).

    {"frames": {"crab_1.png": {"frame": {"x": 2, "y": 4, "w": 16, "h": 12}, "turned": false}, …}}

becomes a series of entries, called `crab_1.png` and so on, with the fields `frame.x`, `frame.y`,
`frame.w`, `frame.h` and `turned`.
"""

from __future__ import annotations

import csv
import json
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

LARGEST = 8 << 20
"""Bytes of a text that are read at most."""
MOST_SERIES, MOST_ENTRIES, DEEPEST = 256, 16384, 12
MOST_FIELDS = 64
NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
APART = r"[\s{}\[\]()<>,;:@|x]"
NUMBERS_ALONE = re.compile(rf"{APART}*{NUMBER.pattern}(?:{APART}+{NUMBER.pattern}){{1,3}}{APART}*")
ENDING = re.compile(r"\.[A-Za-z]{3,4}$")
TRUTHS = {"true": True, "yes": True, "false": False, "no": False}


@dataclass(slots=True)
class Entry:
    """One thing of a series: what it is called there, and its fields."""

    called: str
    numbers: dict[str, float] = field(default_factory=dict)
    words: dict[str, str] = field(default_factory=dict)
    flags: dict[str, bool] = field(default_factory=dict)

    def has(self, fields: Sequence[str]) -> bool:
        """Whether all of these are numbers of it."""
        return all(name in self.numbers for name in fields)


Series = list[Entry]


@lru_cache(maxsize=4)
def series_in(data: bytes) -> list[Series]:
    """All series of a text that may be rectangles; none where it is no text of a form known here,
    is damaged, or is too large. Kept for the other pictures that the same text may be about."""
    if len(data) > LARGEST:
        return []
    found: list[Series] = []
    try:
        for things in _series(_parsed(data), 0):
            entries = [_entry(called, thing) for called, thing in things]
            found.append([entry for entry in entries if len(entry.numbers) >= 4])
            if len(found) == MOST_SERIES:
                break
    except (ValueError, LookupError, RecursionError, csv.Error):
        return []
    return [series for series in found if series]


def _parsed(data: bytes) -> Any:
    """What a text holds: maps, lists and plain values. Raises ValueError for other texts."""
    if data.startswith(b"bplist"):
        return _property_list(data)
    text = data.decode("utf-8-sig")
    begin = text.lstrip()[:1]
    if begin in ("{", "["):
        return json.loads(text)
    if begin == "<":
        return _property_list(data) if "<plist" in text[:1024] else _markup(data)
    return _table(text)


def _property_list(data: bytes) -> Any:
    import plistlib

    try:
        return plistlib.loads(data)
    except Exception as problem:  # whatever is wrong with a damaged list
        raise ValueError("not a property list") from problem


def _markup(data: bytes) -> Any:
    """Elements as maps of their attributes, with the elements inside by their tags."""
    from xml.etree import ElementTree

    if b"<!ENTITY" in data:
        raise ValueError("entities are not needed to list rectangles")
    try:
        root = ElementTree.fromstring(data)
    except ElementTree.ParseError as problem:
        raise ValueError("not whole") from problem

    def plain(element: ElementTree.Element, level: int) -> Any:
        inside: dict[str, list[Any]] = {}
        for child in element if level < DEEPEST else ():
            inside.setdefault(child.tag.rpartition("}")[2], []).append(plain(child, level + 1))
        if not inside and not element.attrib:
            return (element.text or "").strip()
        several = {tag: all_of if len(all_of) > 1 else all_of[0] for tag, all_of in inside.items()}
        return {**element.attrib, **several}

    return [plain(root, 0)]


def _table(text: str) -> list[Any]:
    """Rows of values, parted as most of them are; a first row without numbers names them."""
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    parted = max(",;\t ", key=lambda mark: sum(mark in line for line in lines[:64]))
    rows = list(csv.reader(lines, delimiter=parted, skipinitialspace=True))
    if not rows or len(rows) > MOST_ENTRIES:
        raise ValueError("not a table")
    named = sum(_number(value) is not None for value in rows[0]) < 4
    heads = rows.pop(0) if named else [str(place) for place in range(len(rows[0]))]
    return [dict(zip(heads, row, strict=False)) for row in rows]


def _series(parsed: Any, level: int) -> Iterator[list[tuple[str, Any]]]:
    """All lists and maps within, each as what its things are called and the things."""
    if isinstance(parsed, Mapping):
        things = [(str(name), thing) for name, thing in parsed.items()]
    else:
        things = [("", thing) for thing in parsed] if isinstance(parsed, list) else []
    if level > DEEPEST or not things:
        return
    if len(things) <= MOST_ENTRIES:
        yield [(name, thing) for name, thing in things if isinstance(thing, Mapping | list | str)]
    for _, thing in things:
        yield from _series(thing, level + 1)


def _entry(called: str, thing: Any) -> Entry:
    """A thing with its plain values, those a level or two deeper by their path."""
    entry = Entry(called)
    for path, value in _values(thing, ""):
        if len(entry.numbers) + len(entry.words) > MOST_FIELDS:
            break
        number = _number(value)
        if isinstance(value, bool):
            entry.flags[path] = value
        elif number is not None:
            entry.numbers[path] = number
        elif isinstance(value, str) and value.lower() in TRUTHS:
            entry.flags[path] = TRUTHS[value.lower()]
        elif isinstance(value, str) and len(value) < 80 and NUMBERS_ALONE.fullmatch(value):
            found = NUMBER.findall(value)
            entry.numbers |= {f"{path}.{place}": float(one) for place, one in enumerate(found)}
        elif isinstance(value, str):
            entry.words[path] = value
    return entry


def _values(thing: Any, path: str, level: int = 0) -> Iterator[tuple[str, Any]]:
    """The plain values within, each with the way to it; of long lists the first few."""
    inside = dict(enumerate(thing[:8])) if isinstance(thing, list) else thing
    if isinstance(inside, Mapping) and level < 3:
        for name, value in inside.items():
            yield from _values(value, f"{path}.{name}" if path else str(name), level + 1)
    else:
        yield path, thing


def _number(value: Any) -> float | None:
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        return None
    try:
        number = float(value)
    except (ValueError, OverflowError):
        return None
    return number if abs(number) < 1e9 else None


def names_of(series: Sequence[Entry]) -> list[str]:
    """What the things of a series are called: by their own names there, else by the words that
    differ most. Folders and the endings of pictures are left away where they tell nothing."""
    paths = {path for entry in series for path in entry.words}
    ways = [[entry.called for entry in series]]
    ways += [[entry.words.get(path, "") for entry in series] for path in sorted(paths)]
    names = max(ways, key=lambda way: len(set(way) - {""}))
    bare = [ENDING.sub("", name) for name in names]
    last = [name.replace("\\", "/").rpartition("/")[2] for name in bare]
    if len(set(last)) < len(set(bare)):
        last = [name.replace("\\", "/").strip("/").replace("/", "_") for name in bare]
    return [name.strip() for name in last]
