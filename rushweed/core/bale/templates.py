"""Text files that the game wants, written by Jinja2 templates in a sandbox.

A template's name is the file's name with `.j2` after it. It sees the manifest as `bundle`, and the
filters below. It reads no files but other templates by name, and is stopped when it does not end.
"""

from __future__ import annotations

import ctypes
import json
import re
import threading
import traceback
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from html import escape
from pathlib import Path
from typing import TYPE_CHECKING, Any

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.saving import HIDDEN
from rushweed.core.values import Refusal

if TYPE_CHECKING:
    from jinja2.sandbox import ImmutableSandboxedEnvironment

ENDING = ".j2"
LONGEST = 10.0
"""Seconds after which a template is stopped."""
LARGEST = 64 << 20
LARGEST_TEMPLATE = 4 << 20
SHIPPED = Path(__file__).parent.parent.parent / "templates"


class _TooLong(Exception):  # noqa: N818 - not a fault of ours
    """A template did not end in time."""


def shipped_templates() -> dict[str, str]:
    """The templates that come with the program, by the name of the file they write."""
    return read_templates(SHIPPED)


def read_templates(folder: Path) -> dict[str, str]:
    """The templates of a folder, by the name of the file they write. Raises Refusal for one that is
    no UTF-8."""
    inside, found = Inside(folder.parent), {}
    for path in inside.names(folder.name, ENDING):
        name = path.removeprefix(f"{folder.name}/")
        try:
            found[name.removesuffix(ENDING)] = inside.read(path, LARGEST_TEMPLATE).decode()
        except UnicodeDecodeError as problem:
            raise Refusal(
                f"The template {name} is not UTF-8 text. Save it again as UTF-8."
            ) from problem
        except OSError as problem:
            raise Refusal(f"The template {name} cannot be read. Check it.") from problem
    return found


def render_all(names: Sequence[str], bundle: Any, own: Mapping[str, str]) -> dict[str, bytes]:
    """The files that the named templates write. Raises Refusal with template, line and sentence."""
    if not names:
        return {}
    known = {**shipped_templates(), **own}
    files = {}
    for name in names:
        if name not in known:
            raise Refusal(
                f"There is no template “{name}{ENDING}”. Put it into the project's templates/, or "
                f"take one of {', '.join(sorted(known))}."
            )
        check_name(name)
        files[name] = render(name, known, bundle).encode()
    return files


def render(name: str, templates: Mapping[str, str], bundle: Any) -> str:
    """What a template writes. Raises Refusal with template, line and sentence."""
    import jinja2

    environment = _environment(templates)
    try:
        with _stopped_after(LONGEST):
            parts: list[str] = []
            size = 0
            for part in environment.get_template(name).generate(bundle=bundle):
                parts.append(part)
                size += len(part)
                if size > LARGEST:
                    raise Refusal(f"The template {name}{ENDING} writes more than 64 MiB. Stop it.")
            return "".join(parts)
    except jinja2.TemplateSyntaxError as problem:
        raise Refusal(
            _told(problem.name or name, problem.lineno, problem.message or "")
        ) from problem
    except _TooLong as problem:
        words = f"it did not end within {LONGEST:g} s"
        raise Refusal(_told(name, _line_of(problem, templates), words)) from problem
    except Refusal:
        raise
    except Exception as problem:
        raise Refusal(_told(name, _line_of(problem, templates), str(problem))) from problem


def check_name(name: str) -> None:
    """Raise Refusal for what cannot be the name of a file in a bundle."""
    taken = name in ("bundle.json", "credits.txt") or name.startswith("page-")
    if taken or not re.fullmatch(r"[\w][\w. -]*", name) or name.startswith(HIDDEN):
        raise Refusal(
            f"A template cannot write “{name}”. Give it the name of a file of its own, "
            "without folders."
        )


def _environment(templates: Mapping[str, str]) -> ImmutableSandboxedEnvironment:
    from jinja2 import DictLoader, StrictUndefined
    from jinja2.sandbox import ImmutableSandboxedEnvironment

    environment = ImmutableSandboxedEnvironment(
        loader=DictLoader(dict(templates)),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
    )
    environment.filters.update(
        c_name=c_name,
        c_text=json.dumps,
        py=repr,
        csv=csv_field,
        svg_path=svg_path,
        html=escape,
        json=_json,
    )
    return environment


def c_name(text: str) -> str:
    """A name that C and most languages take."""
    name = re.sub(r"\W+", "_", text, flags=re.ASCII).strip("_")
    return f"_{name}" if not name or name[0].isdigit() else name


def csv_field(value: object) -> str:
    """A field of a table (RFC 4180)."""
    text = "" if value is None else str(value)
    return '"' + text.replace('"', '""') + '"' if re.search(r'[",\n\r]', text) else text


def svg_path(rings: Iterable[Iterable[Sequence[float]]]) -> str:
    """Rings of corners as the data of an SVG path."""
    return " ".join("M " + " L ".join(f"{x:g} {y:g}" for x, y in ring) + " Z" for ring in rings)


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)


def _told(name: str, line: int | None, words: str) -> str:
    where = f", line {line}" if line else ""
    return f"The template {name}{ENDING}{where}: {words.rstrip('.')}. Put it right."


def _line_of(problem: BaseException, templates: Mapping[str, str]) -> int | None:
    """The line of the template that was being written."""
    frames = traceback.extract_tb(problem.__traceback__)
    lines = [f.lineno for f in frames if f.filename == "<template>" or f.filename in templates]
    return lines[-1] if lines else None


@contextmanager
def _stopped_after(seconds: float) -> Iterator[None]:
    """Raise _TooLong in this thread when the time is over."""
    thread = threading.get_ident()
    over = threading.Event()

    def stop() -> None:
        if not over.wait(seconds):
            kind = ctypes.py_object(_TooLong)
            ctypes.pythonapi.PyThreadState_SetAsyncExc(ctypes.c_ulong(thread), kind)

    watch = threading.Thread(target=stop, daemon=True)
    watch.start()
    try:
        yield
    finally:
        over.set()
        watch.join()
