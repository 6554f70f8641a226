"""Taking out of a file's content what is not right, so that the rest can be read."""

from __future__ import annotations

import copy
from collections.abc import Iterable, Sequence
from typing import Any

Place = Sequence[int | str]
"""The way to a value: keys and places in lists, with words in between that are neither."""


def without(body: Any, wrong: Iterable[Place]) -> Any:
    """A copy of plain JSON without what is wrong: of what is in lists, the innermost thing with
    keys of its own that holds it; else its key, so that it is as it would be anyway."""
    result = copy.deepcopy(body)
    holders: dict[int, Any] = {}
    gone: dict[int, set[int | str]] = {}
    for place in wrong:
        holder, key = _holder_of(result, place)
        if holder is not None:
            holders[id(holder)] = holder
            gone.setdefault(id(holder), set()).add(key)
    for number, keys in gone.items():
        holder = holders[number]
        if isinstance(holder, list):
            holder[:] = [item for at, item in enumerate(holder) if at not in keys]
        else:
            for key in keys:
                holder.pop(key, None)
    return result


def _holder_of(body: Any, place: Place) -> tuple[Any, int | str]:
    """What holds the thing that has to go, and where."""
    node = body
    found: tuple[Any, int | str] | None = None
    for step in place:
        if isinstance(node, dict) and step in node:
            if not (found and isinstance(found[0], list)):
                found = node, step
            node = node[step]
        elif isinstance(node, list) and isinstance(step, int) and step < len(node):
            if isinstance(node[step], dict):
                found = node, step
            node = node[step]
    return found or (None, "")
