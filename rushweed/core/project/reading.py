"""Reading one file of a project into a value, with a sentence for whatever is wrong."""

from __future__ import annotations

import json
import os
import re
from dataclasses import is_dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, get_args, get_type_hints

from rushweed.core.bulk import in_bulk
from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import printable
from rushweed.core.project.building import Doubtful, build
from rushweed.core.project.head import HEAD
from rushweed.core.project.migrations import migrate
from rushweed.core.project.salvaging import without
from rushweed.core.values import Refusal
from rushweed.core.words import say

if TYPE_CHECKING:
    from pydantic import TypeAdapter

CONFLICT = re.compile(rb"^(<{7}|={7}|>{7})( |\r?$)", re.MULTILINE)
"""The marks that version control leaves where two versions of a file did not fit."""


def read_part(inside: Inside, name: str, kind: type, left_out: list[str] | None = None) -> Any:
    """A value of that kind from a file of a project's folder. With a list, what is not right in it
    is left out and told there, where the rest makes sense without. Raises Refusal with file, place
    and sentence when it is missing, broken, or newer than this program."""
    try:
        data = saving.read(inside, name)
    except (FileNotFoundError, NotADirectoryError) as problem:
        raise Refusal(_missing(inside.folder, name)) from problem
    except OSError as problem:
        raise Refusal(
            "“{number}” cannot be read ({strerror}). Check its permissions.",
            number=inside.folder / name,
            strerror=problem.strerror,
        ) from problem
    try:
        with in_bulk():
            body = json.loads(data, object_pairs_hook=_once_each)
        if b"\\ud" in data or b"\\uD" in data:  # half of a character, which no file can hold
            json.dumps(body, ensure_ascii=False).encode()
    except RecursionError as problem:
        raise Refusal(
            "{name} is nested deeper than any file of Rushweed. Bring back an older copy.",
            name=name,
        ) from problem
    except _Twice as twice:
        raise Refusal(
            "{name} has “{key}” twice in one place. Keep one of them.", name=name, key=twice.args[0]
        ) from twice
    except ValueError as problem:
        mark = CONFLICT.search(data)
        if mark is not None:
            raise Refusal(
                "{name} holds two versions of its line {line} on: putting them together was not "
                "ended. Choose between them there and take the marks away.",
                name=name,
                line=data.count(b"\n", 0, mark.start()) + 1,
            ) from problem
        raise Refusal(
            "{name} is not whole JSON ({problem}). Put it right or bring back an older copy.",
            name=name,
            problem=problem,
        ) from problem
    body = migrate(body, name)
    try:
        with in_bulk():
            return build(kind, body)
    except Doubtful:
        return _read_closely(name, kind, body, left_out)


class _Twice(Exception):  # noqa: N818 - told by a Refusal
    """A key that stands twice in one object: the second would count without a word."""


def _once_each(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    body = dict(pairs)
    if len(body) != len(pairs):
        keys = [key for key, _ in pairs]
        raise _Twice(next(printable(key) for key in keys if keys.count(key) > 1))
    return body


def _read_closely(name: str, kind: type, body: Any, left_out: list[str] | None) -> Any:
    """Read with the full models, which know what is wrong."""
    from pydantic import ValidationError

    try:
        return exactly(kind, body)
    except ValidationError as problem:
        wrong = problem.errors()
        told = _told(name, wrong[0])
        if left_out is None:
            raise Refusal(told) from problem
    try:
        whole = exactly(kind, without(body, [error["loc"] for error in wrong]))
    except ValidationError as problem:
        raise Refusal(told) from problem
    left_out += [_told(name, error) for error in wrong]
    return whole


def exactly(kind: type, body: Any) -> Any:
    """A value as the full model reads it: a text is no number, and neither is true."""
    return adapter(kind).validate_json(json.dumps(body, ensure_ascii=False), strict=True)


def _told(name: str, error: Any) -> str:
    place = " › ".join(printable(str(part)) for part in error["loc"]) or say("the file")
    words = error["msg"].lower().replace("valid tuple", "list")
    if error["type"] == "union_tag_not_found":
        words = say("it says no kind")
    return say(
        "{name}: {place} is not right ({words}). Put it right or bring back an older copy.",
        name=name,
        place=place,
        words=words,
    )


def _missing(folder: Path, name: str) -> str:
    if name != HEAD:
        return say(
            "The project lists {name}, but the file is gone. Bring it back or take it off {head}.",
            name=name,
            head=HEAD,
        )
    if not os.path.lexists(folder):
        return say("There is no folder “{folder}”. Check the path.", folder=folder)
    return say(
        "“{folder}” holds no {head}, so it is not a project. Choose a folder that has one.",
        folder=folder,
        head=HEAD,
    )


_adapters: dict[Any, TypeAdapter[Any]] = {}


def adapter(kind: Any) -> TypeAdapter[Any]:
    """The full model of a kind of value, which also writes it."""
    from pydantic import TypeAdapter

    if kind not in _adapters:
        _refuse_unknown_keys(kind)
        _adapters[kind] = TypeAdapter(kind)
    return _adapters[kind]


def _refuse_unknown_keys(kind: Any) -> None:
    """A key that nobody knows is a slip of the pen; dropping it would lose what it meant."""
    for part in get_args(kind):
        _refuse_unknown_keys(part)
    if is_dataclass(kind) and not hasattr(kind, "__pydantic_config__"):
        kind.__pydantic_config__ = {"extra": "forbid"}  # type: ignore[union-attr]
        for hint in get_type_hints(kind).values():
            _refuse_unknown_keys(hint)
