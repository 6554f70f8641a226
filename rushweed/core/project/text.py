"""JSON that lives well in version control: stable order, one piece or one row of cells a line."""

from __future__ import annotations

import json
from typing import Any

WIDTH = 96
EXPANDED = frozenset({"cells", "props", "pieces"})
"""Objects with one of these keys hold many rows, and take as many lines."""


def to_json(value: Any) -> bytes:
    """UTF-8 JSON in which every item of a list takes one line, and short objects too."""
    return (_render(_plain(value), 0) + "\n").encode()


def _plain(value: Any) -> Any:
    """The same value with whole floats as whole numbers, so that 8.0 is written 8."""
    if isinstance(value, float) and value.is_integer():
        return int(value)
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return value


def _compact(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(", ", ": "))


def _render(value: Any, depth: int, one_line: bool = False) -> str:
    compact = _compact(value)
    if one_line or not isinstance(value, dict | list) or not value:
        return compact
    if depth and len(compact) + 2 * depth <= WIDTH and not _is_expanded(value):
        return compact
    inner, outer = "  " * (depth + 1), "  " * depth
    if isinstance(value, dict):
        items = [f"{_compact(key)}: {_render(item, depth + 1)}" for key, item in value.items()]
        opening, closing = "{", "}"
    else:
        items = [_render(item, depth + 1, not _is_expanded(item)) for item in value]
        opening, closing = "[", "]"
    return f"{opening}\n{inner}" + f",\n{inner}".join(items) + f"\n{outer}{closing}"


def _is_expanded(item: Any) -> bool:
    return isinstance(item, dict) and not EXPANDED.isdisjoint(item)
