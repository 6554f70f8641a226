"""Building values from plain JSON by their own type hints, quickly and strictly.

Reading a project should not keep its window waiting, so files that are plainly right take this
way. It accepts nothing doubtful: anything unexpected raises `Doubtful`, and the file is then read
by the full models, which say in words what is wrong.
"""

from __future__ import annotations

import types
import typing
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from rushweed.core.project.cells import Cells


class Doubtful(Exception):  # noqa: N818 - not a fault, only a reason to look closer
    """This is not plainly right."""


def build(kind: Any, body: Any) -> Any:
    """A value of that type hint from plain JSON. Raises Doubtful."""
    try:
        return _build(kind, body)
    except (KeyError, TypeError, ValueError, AttributeError, OverflowError) as problem:
        raise Doubtful from problem


def _build(kind: Any, body: Any) -> Any:
    origin = get_origin(kind)
    if is_dataclass(kind):
        return _build_dataclass(kind, body)
    if origin is tuple:
        items = get_args(kind)
        if items[-1] is not Ellipsis:
            pairs = zip(items, _of(list, body), strict=True)
            return tuple([_build(item, part) for item, part in pairs])
        return tuple([_build(items[0], part) for part in _of(list, body)])
    if origin in (Union, types.UnionType):
        return _build_choice(get_args(kind), body)
    if origin is Literal:
        return _sure(body, any(type(body) is type(one) and body == one for one in get_args(kind)))
    if origin is typing.Annotated:
        return _within(_build(get_args(kind)[0], body), get_args(kind)[1])
    if kind is Cells:
        return Cells.from_rows(_of(list, body))
    if kind is float:
        return float(_sure(body, type(body) in (int, float)))
    if hasattr(kind, "_fields"):
        hints, names = _hints(kind), kind._fields
        least = len(names) - len(kind._field_defaults)
        _sure(body, least <= len(_of(list, body)) <= len(names))
        return kind(*[_build(hints[n], p) for n, p in zip(names, body, strict=False)])
    return _of(kind, body)


def _build_dataclass(kind: Any, body: Any) -> Any:
    hints = _hints(kind)
    given = {name: _build(hints[name], part) for name, part in _of(dict, body).items()}
    needed = _needed(kind)
    return kind(**_sure(given, needed <= given.keys()))


def _build_choice(kinds: tuple[Any, ...], body: Any) -> Any:
    """One of several: by its `kind` when it says so, else the one that fits."""
    if body is None:
        return _sure(None, types.NoneType in kinds)
    others = [kind for kind in kinds if kind is not types.NoneType]
    if len(others) == 1:
        return _build(others[0], body)
    named = {get_args(_hints(kind)["kind"])[0]: kind for kind in others}
    return _build(named[_of(dict, body)["kind"]], body)


@cache
def _hints(kind: Any) -> dict[str, Any]:
    return get_type_hints(kind, include_extras=True)


@cache
def _needed(kind: Any) -> frozenset[str]:
    return frozenset(
        field.name
        for field in fields(kind)
        if field.default is MISSING and field.default_factory is MISSING
    )


def _of(kind: Any, body: Any) -> Any:
    return _sure(body, type(body) is kind)


def _within(value: Any, bound: Any) -> Any:
    return _sure(value, bound.bounds["ge"] <= value <= bound.bounds["le"])


def _sure(value: Any, holds: bool) -> Any:
    if not holds:
        raise Doubtful
    return value
