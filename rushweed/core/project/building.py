"""Building values from plain JSON by their own type hints, quickly and strictly.

Reading a project should not keep its window waiting, so files that are plainly right take this
way. It accepts nothing doubtful: anything unexpected raises `Doubtful`, and the file is then read
by the full models, which say in words what is wrong.
"""

from __future__ import annotations

import types
import typing
from collections.abc import Callable
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from rushweed.core.project.cells import Cells
from rushweed.core.value_ranges import one_of


class Doubtful(Exception):  # noqa: N818 - not a fault, only a reason to look closer
    """This is not plainly right."""


Builder = Callable[[Any], Any]


def build(kind: Any, body: Any) -> Any:
    """A value of that type hint from plain JSON. Raises Doubtful."""
    try:
        return _builder(kind)(body)
    except (KeyError, TypeError, ValueError, AttributeError, OverflowError) as problem:
        raise Doubtful from problem


def _builder(kind: Any) -> Builder:
    """What makes a value of a type hint: a function is put together once, and then called often."""
    origin, parts = get_origin(kind), get_args(kind)
    if isinstance(kind, type) and is_dataclass(kind):
        return _of_dataclass(kind)
    if hasattr(kind, "_fields"):
        return _of_named_tuple(kind)
    if origin is tuple:
        return _of_many(parts[0]) if parts[-1] is Ellipsis else _of_tuple(parts)
    if origin in (Union, types.UnionType):
        return _of_choice(parts)
    if origin is Literal:
        return _of_literal(parts)
    if origin is typing.Annotated:
        return _builder(parts[0]) if isinstance(parts[1], one_of) else _of_bounded(*parts)
    if kind is Cells:
        return lambda body: Cells.from_rows(_exact(list, body))
    if kind is float:
        return _number
    return lambda body: _exact(kind, body)


@cache
def _of_dataclass(kind: Any) -> Builder:
    builders = _parts(kind)
    needed = frozenset(
        field.name
        for field in fields(kind)
        if field.default is MISSING and field.default_factory is MISSING
    )

    def made(body: Any) -> Any:
        given = {name: builders[name](part) for name, part in _exact(dict, body).items()}
        if not needed <= given.keys():
            raise Doubtful
        return kind(**given)

    return made


@cache
def _of_named_tuple(kind: Any) -> Builder:
    builders = list(_parts(kind).values())
    least, most = len(builders) - len(kind._field_defaults), len(builders)

    def made(body: Any) -> Any:
        if not least <= len(_exact(list, body)) <= most:
            raise Doubtful
        return kind(*[builder(part) for builder, part in zip(builders, body, strict=False)])

    return made


def _parts(kind: Any) -> dict[str, Builder]:
    return {name: _builder(hint) for name, hint in _hints(kind).items()}


def _of_many(kind: Any) -> Builder:
    builder = _builder(kind)
    return lambda body: tuple([builder(part) for part in _exact(list, body)])


def _of_tuple(kinds: tuple[Any, ...]) -> Builder:
    builders = [_builder(kind) for kind in kinds]

    def made(body: Any) -> Any:
        pairs = zip(builders, _exact(list, body), strict=True)
        return tuple([builder(part) for builder, part in pairs])

    return made


def _of_choice(kinds: tuple[Any, ...]) -> Builder:
    """One of several: by its `kind` when it says so, else the one that is not None."""
    others = [kind for kind in kinds if kind is not types.NoneType]
    may_be_none = len(others) < len(kinds)
    if len(others) == 1:
        choose = _builder(others[0])
    else:
        named = {get_args(_hints(kind)["kind"])[0]: _builder(kind) for kind in others}

        def choose(body: Any) -> Any:
            return named[_exact(dict, body)["kind"]](body)

    def made(body: Any) -> Any:
        if body is not None:
            return choose(body)
        if not may_be_none:
            raise Doubtful
        return None

    return made


def _of_literal(values: tuple[Any, ...]) -> Builder:
    known = {(type(value), value) for value in values}

    def made(body: Any) -> Any:
        if (type(body), body) not in known:
            raise Doubtful
        return body

    return made


def _of_bounded(kind: Any, bound: Any) -> Builder:
    builder, low, high = _builder(kind), bound.bounds["ge"], bound.bounds["le"]

    def made(body: Any) -> Any:
        value = builder(body)
        if not low <= value <= high:
            raise Doubtful
        return value

    return made


def _number(body: Any) -> float:
    if type(body) not in (int, float):
        raise Doubtful
    return float(body)


def _exact(kind: Any, body: Any) -> Any:
    if type(body) is not kind:
        raise Doubtful
    return body


@cache
def _hints(kind: Any) -> dict[str, Any]:
    return get_type_hints(kind, include_extras=True)
