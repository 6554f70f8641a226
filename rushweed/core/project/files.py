"""The project on disk: a folder of JSON files, read with care and written all at once.

`project.rushweed` holds what the whole project shares, `sheets/` and `levels/` one file each,
`art/` the pictures. The forms are described in docs/format/.
"""

from __future__ import annotations

import gc
import json
import re
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import MISSING, Field, dataclass, fields, is_dataclass
from pathlib import Path, PurePosixPath
from typing import TYPE_CHECKING, Any, get_args, get_type_hints

from rushweed.core.project import saving
from rushweed.core.project.building import Doubtful, build
from rushweed.core.project.drawing_sets import Hem, Mix, Patch
from rushweed.core.project.level import Level
from rushweed.core.project.migrations import FORMAT, migrate
from rushweed.core.project.project import Project
from rushweed.core.project.rules import GroundRules, Recipe, Treatment, Walker
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.text import to_json
from rushweed.core.values import Refusal

if TYPE_CHECKING:
    from pydantic import TypeAdapter

HEAD = "project.rushweed"
TEMPLATES = "templates"
"""The folder of the project's own templates."""


@dataclass(frozen=True, slots=True)
class Head:
    """What `project.rushweed` holds. `sheets` and `levels` are file names without their endings."""

    name: str
    next_number: int
    rules: GroundRules
    treatments: tuple[Treatment, ...]
    recipes: tuple[Recipe, ...]
    walker: Walker
    hems: tuple[Hem, ...] = ()
    patches: tuple[Patch, ...] = ()
    mixes: tuple[Mix, ...] = ()
    sheets: tuple[str, ...] = ()
    levels: tuple[str, ...] = ()


def load(folder: Path) -> Project:
    """Read a project's folder.

    Raises Refusal with one sentence when something is missing, broken, newer than this program,
    or points outside the folder.
    """
    head = _read(folder, HEAD, Head)
    sheets = tuple(_read(folder, f"sheets/{_stem(n)}.sheet.json", Sheet) for n in head.sheets)
    levels = tuple(_read(folder, f"levels/{_stem(n)}.level.json", Level) for n in head.levels)
    for sheet in sheets:
        for source in sheet.sources:
            check_inside(source.path, sheet.name)
    shared = {field.name: getattr(head, field.name) for field in fields(Head)}
    return Project(**shared | {"sheets": sheets, "levels": levels})


def save(project: Project, folder: Path) -> None:
    """Write the project, all or nothing; only files whose content changed are touched.

    Raises Refusal when the folder cannot be written; what it held is then still there.
    """
    files = to_files(project)
    changed = {name: data for name, data in files.items() if _stored(folder, name) != data}
    listed = (*folder.glob("sheets/*.sheet.json"), *folder.glob("levels/*.level.json"))
    gone = [str(path.relative_to(folder)) for path in listed]
    saving.write_all(folder, changed, [name for name in gone if name not in files])


def to_files(project: Project) -> dict[str, bytes]:
    """The project as path inside its folder → bytes; the same project gives the same bytes."""
    stems = file_stems([sheet.name for sheet in project.sheets])
    level_stems = file_stems([level.name for level in project.levels])
    shared = {
        field.name: getattr(project, field.name)
        for field in fields(Head)
        if field.name not in ("sheets", "levels")
    }
    head = Head(**shared, sheets=tuple(stems), levels=tuple(level_stems))
    files = {HEAD: _dump(head)}
    for stem, sheet in zip(stems, project.sheets, strict=True):
        files[f"sheets/{stem}.sheet.json"] = _dump(sheet)
    for stem, level in zip(level_stems, project.levels, strict=True):
        files[f"levels/{stem}.level.json"] = _dump(level)
    return files


def file_stems(names: list[str]) -> list[str]:
    """A file name for each name: readable, safe on any system, and each one different."""
    stems: list[str] = []
    for name in names:
        base = re.sub(r"[^\w.-]+", "-", name.strip().lower()).strip("-.")[:60] or "unnamed"
        stem, count = base, 2
        while stem in stems:
            stem, count = f"{base}-{count}", count + 1
        stems.append(stem)
    return stems


def check_inside(path: str, owner: str) -> None:
    """Raise Refusal when a stored path is absolute or leaves the project's folder."""
    parts = PurePosixPath(path)
    if parts.is_absolute() or ".." in parts.parts or "\\" in path or not path:
        raise Refusal(
            f"“{owner}” names the picture “{path}”, which lies outside the project's folder. "
            "Move the picture into art/ and put the path right."
        )


def schemas() -> dict[str, dict[str, Any]]:
    """JSON Schemas of the three kinds of file, by the name of their ending."""
    kinds: Mapping[str, type] = {"project": Head, "sheet": Sheet, "level": Level}
    return {name: _adapter(kind).json_schema() for name, kind in kinds.items()}


def _stem(name: str) -> str:
    if "/" in name or "\\" in name or name in ("", ".", ".."):
        raise Refusal(f"{HEAD} lists “{name}”, which is not a file name. Put it right.")
    return name


def _stored(folder: Path, name: str) -> bytes | None:
    try:
        return saving.read(folder, name)
    except OSError:
        return None


_adapters: dict[type, TypeAdapter[Any]] = {}


def _adapter(kind: type) -> TypeAdapter[Any]:
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


def _dump(value: Any) -> bytes:
    with without_collecting():
        return _write(value)


def _write(value: Any) -> bytes:
    body = _adapter(type(value)).dump_python(value, mode="json")
    if not isinstance(value, Head):
        body = _without_defaults(value, body)
    return to_json({"format": FORMAT, **body})


def _without_defaults(value: Any, body: Any) -> Any:
    """Leave out what is as it would be anyway, but always say of what kind a thing is."""
    if isinstance(value, tuple) and not hasattr(value, "_fields"):
        return [_without_defaults(*pair) for pair in zip(value, body, strict=True)]
    if not is_dataclass(value):
        return body
    kept = {}
    for field in fields(value):
        inner = getattr(value, field.name)
        if (field.name == "kind" and not isinstance(value, Sheet)) or inner != _default(field):
            kept[field.name] = _without_defaults(inner, body[field.name])
    return kept


def _default(field: Field[Any]) -> Any:
    if field.default_factory is not MISSING:
        return field.default_factory()
    return field.default


def _read(folder: Path, name: str, kind: type) -> Any:
    try:
        data = saving.read(folder, name)
    except FileNotFoundError as problem:
        raise Refusal(_missing(folder, name)) from problem
    except OSError as problem:
        raise Refusal(
            f"“{folder / name}” cannot be read ({problem.strerror}). Check its permissions."
        ) from problem
    try:
        with without_collecting():
            body = json.loads(data)
    except ValueError as problem:
        raise Refusal(
            f"{name} is not whole JSON ({problem}). Put it right or bring back an older copy."
        ) from problem
    body = migrate(body, name)
    try:
        with without_collecting():
            return build(kind, body)
    except Doubtful:
        return _read_closely(name, kind, body)


@contextmanager
def without_collecting() -> Iterator[None]:
    """Many small lists at once would have the collector walk through all of them again and again,
    though none of them is garbage."""
    collects = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collects:
            gc.enable()


def _read_closely(name: str, kind: type, body: Any) -> Any:
    """Read with the full models, which know what is wrong."""
    from pydantic import ValidationError

    try:
        return _adapter(kind).validate_python(body)
    except ValidationError as problem:
        first = problem.errors()[0]
        place = " › ".join(str(part) for part in first["loc"]) or "the file"
        raise Refusal(
            f"{name}: {place} is not right ({first['msg'].lower()}). "
            "Put it right or bring back an older copy."
        ) from problem


def _missing(folder: Path, name: str) -> str:
    if name != HEAD:
        return (
            f"The project lists {name}, but the file is gone. Bring it back or take it off {HEAD}."
        )
    if not folder.exists():
        return f"There is no folder “{folder}”. Check the path."
    return f"“{folder}” holds no {HEAD}, so it is not a project. Choose a folder that has one."
