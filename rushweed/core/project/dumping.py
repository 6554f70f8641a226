"""A value as plain JSON, written by its full model: what is long in parts, since a model lets no
other thread go on until it is done."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields
from typing import TYPE_CHECKING, Any, get_type_hints

if TYPE_CHECKING:
    from pydantic import TypeAdapter

Model = Callable[[Any], "TypeAdapter[Any]"]
"""Gives the full model of a type hint."""

PART = 256
"""So many items are written at once."""


def dumped(value: Any, model: Model) -> dict[str, Any]:
    """A value of a dataclass as its model writes it, by the names of its fields."""
    kind = type(value)
    long = {field.name for field in fields(kind) if _is_long(getattr(value, field.name))}
    body = model(kind).dump_python(value, mode="json", exclude=long)
    if not long:
        return body  # type: ignore[no-any-return]
    hints = get_type_hints(kind, include_extras=True)
    written = {name: _in_parts(model(hints[name]), getattr(value, name)) for name in long}
    return {field.name: (written if field.name in long else body)[field.name]
            for field in fields(kind)}  # fmt: skip


def _is_long(items: Any) -> bool:
    return isinstance(items, tuple) and not hasattr(items, "_fields") and len(items) > PART


def _in_parts(model: TypeAdapter[Any], items: tuple[Any, ...]) -> list[Any]:
    parts = (items[first : first + PART] for first in range(0, len(items), PART))
    return [one for part in parts for one in model.dump_python(part, mode="json")]
