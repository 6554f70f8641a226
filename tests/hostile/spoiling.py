"""Junk put into a project's files, one place at a time."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

GONE = object()
NUMBERS = [-1, 0, 1, 7, 255, 4097, 65_536, 100_000, 10**6, 2**24, 10**9, 2**31 - 1, 2**31, 10**30]
BROKEN = [-2.5, 0.001, 1e300, float("nan"), float("inf")]
TEXTS = ["", "x" * 300, "../up", "a\x00b", "\ud800", "CON", "\u202egnp.exe", "{{ 7 }}"]
LISTS: list[Any] = [[], [[]], [0, 0], [[0, 0], [1, 1]], [0, 0, 10**6, 10**6], [1] * 5000]
JUNK: list[Any] = [GONE, None, True, {}, *NUMBERS, *BROKEN, *TEXTS, *LISTS]
DEEP = '{"format": 5, "name": ' + "[" * 100_000 + "]" * 100_000 + "}"


def spots(node: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The way to every value in a file; of long lists, to the first few."""
    items = node.items() if isinstance(node, dict) else enumerate(node)
    for key, part in list(items)[:8] if isinstance(node, list) else items:
        yield (*at, key)
        if isinstance(part, (dict, list)):
            yield from spots(part, (*at, key))


def like(value: Any) -> list[Any]:
    """Junk of the same kind as a value, which looks right at first."""
    if isinstance(value, bool) or value is None:
        return JUNK
    if isinstance(value, (int, float)):
        return [*NUMBERS, *BROKEN]
    if isinstance(value, str):
        return TEXTS
    return [*LISTS, *(value[:-1], value * 2)] if isinstance(value, list) else [{}, *LISTS]


def spoil(path: Path, choose: Any) -> str:
    """Put junk in one place of a file, any depth as likely as any other. Returns what was done."""
    body = json.loads(path.read_text())
    ways = list(spots(body))
    depth = choose(st.sampled_from(sorted({len(way) for way in ways})))
    way = choose(st.sampled_from([way for way in ways if len(way) == depth]))
    node = body
    for key in way[:-1]:
        node = node[key]
    junk = choose(st.sampled_from(JUNK))
    if choose(st.sampled_from((0, 1, 2))):
        junk = choose(st.sampled_from(like(node[way[-1]])))
    if junk is GONE:
        del node[way[-1]]
    else:
        node[way[-1]] = junk
    path.write_text(json.dumps(body))
    return f"{path.name} {way} {'gone' if junk is GONE else repr(junk)[:40]}"


def put(path: Path, way: tuple[Any, ...], junk: Any) -> None:
    """Put something in one place of a file, or in place of all of it."""
    if not way:
        path.write_text(junk)
        return
    body = json.loads(path.read_text())
    node = body
    for key in way[:-1]:
        node = node.setdefault(key, {}) if isinstance(node, dict) else node[key]
    node[way[-1]] = junk
    path.write_text(json.dumps(body))
