"""A value as plain JSON: lists, and objects by the names of their fields.

The way back from `building.py`. It is Python all through, so that other threads have their turn
while something long is written.
"""

from __future__ import annotations

from dataclasses import MISSING, Field, fields
from functools import cache
from typing import Any

from rushweed.core.project.cells import Cells
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.text import WRITTEN_AS_IS


def dumped(value: Any) -> Any:
    """All of a value, as bundles tell it."""
    if isinstance(value, str | int | float | None):
        return value
    if isinstance(value, tuple | list):
        return [item if type(item) in WRITTEN_AS_IS else dumped(item) for item in value]
    if isinstance(value, dict):
        return {key: dumped(item) for key, item in value.items()}
    if isinstance(value, Cells):
        return value.rows()
    kind = value.__class__
    return {name: dumped(getattr(value, name)) for name, _, _ in _fields(kind)}


def dumped_briefly(value: Any) -> Any:
    """A value without what is as it would be anyway, as files hold it; but always of what kind a
    thing is. Whole floats are whole numbers, so that 8.0 is written 8."""
    if isinstance(value, float):
        return int(value) if value.is_integer() else value
    if isinstance(value, str | int | None):
        return value
    if isinstance(value, tuple):
        return [item if type(item) in WRITTEN_AS_IS else dumped_briefly(item) for item in value]
    if isinstance(value, Cells):
        return value.rows()
    kept, kind = {}, value.__class__
    for name, usual, always in _fields(kind):
        inner = getattr(value, name)
        if always or (inner is not usual and inner != usual):
            kept[name] = inner if type(inner) in WRITTEN_AS_IS else dumped_briefly(inner)
    return kept


@cache
def _fields(kind: Any) -> tuple[tuple[str, Any, bool], ...]:
    """The fields of a dataclass by name: what each is as a rule, and whether it says of what kind
    a thing is. That of a sheet is what its picture is, and has a usual one."""
    always = frozenset() if kind is Sheet else frozenset({"kind"})
    return tuple((field.name, _usual(field), field.name in always) for field in fields(kind))


def _usual(field: Field[Any]) -> Any:
    if field.default_factory is not MISSING:
        return field.default_factory()
    return field.default
