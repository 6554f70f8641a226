"""JSON that lives well in version control: stable order, one piece or one row of cells a line."""

from __future__ import annotations

import json
from typing import Any

WIDTH = 96
EXPANDED = frozenset({"cells", "props", "pieces"})
"""Objects with one of these keys hold many rows, and take as many lines; a row of cells says its
y, and takes one."""
WRITTEN_AS_IS = frozenset({str, int, bool, type(None)})


def to_json(value: Any) -> bytes:
    """UTF-8 JSON in which every item of a list takes one line, and short objects too."""
    return rendered(_plain(value))


def rendered(plain: Any) -> bytes:
    """The same of a value without tuples and whole floats."""
    return (_render(plain, 0) + "\n").encode()


def to_compact_json(value: Any) -> bytes:
    """UTF-8 JSON without line breaks and spaces."""
    return json.dumps(_plain(value), ensure_ascii=False, separators=(",", ":")).encode()


def _plain(value: Any) -> Any:
    """The same value with whole floats as whole numbers, so that 8.0 is written 8."""
    if isinstance(value, dict):
        return {key: i if type(i) in WRITTEN_AS_IS else _plain(i) for key, i in value.items()}
    if isinstance(value, list | tuple):
        if value and type(value[0]) is list and type(value[0][0] if value[0] else None) is int:
            return value
        return [i if type(i) in WRITTEN_AS_IS else _plain(i) for i in value]
    return int(value) if isinstance(value, float) and value.is_integer() else value


_compact = json.JSONEncoder(ensure_ascii=False, separators=(", ", ": ")).encode


def _render(value: Any, depth: int, one_line: bool = False) -> str:
    if one_line or not isinstance(value, dict | list) or not value:
        return _compact(value)
    if depth and not _is_expanded(value) and _may_be_short(value):
        compact = _compact(value)
        if len(compact) + 2 * depth <= WIDTH:
            return compact
    inner, outer = "  " * (depth + 1), "  " * depth
    if isinstance(value, dict):
        items = [f"{_compact(key)}: {_render(item, depth + 1)}" for key, item in value.items()]
        opening, closing = "{", "}"
    else:
        items = [_render(item, depth + 1, not _is_expanded(item)) for item in value]
        opening, closing = "[", "]"
    return f"{opening}\n{inner}" + f",\n{inner}".join(items) + f"\n{outer}{closing}"


def _may_be_short(value: Any) -> bool:
    """Whether a value may fit in a line, without writing all of it."""
    left, waiting = WIDTH, [value]
    while waiting and left > 0:
        item = waiting.pop()
        left -= 1
        if isinstance(item, dict | list):
            if len(item) > left:
                return False
            waiting.extend(item.values() if isinstance(item, dict) else item)
    return left > 0


def _is_expanded(item: Any) -> bool:
    return isinstance(item, dict) and "y" not in item and not EXPANDED.isdisjoint(item)
