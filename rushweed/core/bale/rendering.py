"""Templates at work, in a process of their own: `python -m rushweed.core.bale.rendering`.

It reads two lines of JSON, one with the process that began it, names of templates and all
templates, one with the manifest, and writes one with the texts, or with what is wrong. Jinja2's
sandbox keeps templates from reaching anything; limits of the system keep them from filling the
memory or running for ever, whatever they ask of whole numbers and strings.
"""

from __future__ import annotations

import json
import re
import resource
import signal
import sys
import traceback
from collections.abc import Iterable, Mapping, Sequence
from html import escape
from typing import TYPE_CHECKING, Any

from rushweed.core.processes import end_with
from rushweed.core.values import Refusal
from rushweed.core.words import say

if TYPE_CHECKING:
    from jinja2.sandbox import ImmutableSandboxedEnvironment

ENDING = ".j2"
LONGEST = 10.0
"""Seconds after which a template is stopped."""
LARGEST = 64 << 20
"""Bytes that a template may write."""
MEMORY = 1 << 30
"""Bytes of memory that templates may take, beyond what the manifest needs."""
PER_BYTE = 24
"""Bytes of memory for each byte of the manifest."""


class _TooLong(Exception):  # noqa: N818 - not a fault of ours
    """A template did not end in time."""


def main() -> None:
    """Answer one request."""
    data = sys.stdin.buffer.read()
    most = MEMORY + PER_BYTE * len(data)
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    head, _, manifest = data.partition(b"\n")
    asked = json.loads(head)
    end_with(asked["parent"])
    bundle = json.loads(manifest)
    bundle.pop("files", None)  # what templates write belongs to these
    try:
        texts = {
            name: rendered(name, asked["templates"], bundle, asked["seconds"])
            for name in asked["names"]
        }
        answer: dict[str, Any] = {"texts": texts}
    except Refusal as refusal:
        answer = {"refused": str(refusal)}
    sys.stdout.buffer.write(json.dumps(answer).encode())


def rendered(name: str, templates: Mapping[str, str], bundle: Any, seconds: float) -> str:
    """What a template writes. Raises Refusal with template, line and sentence."""
    import jinja2

    def stop(*_: object) -> None:
        raise _TooLong

    signal.signal(signal.SIGALRM, stop)
    signal.setitimer(signal.ITIMER_REAL, seconds)
    try:
        parts: list[str] = []
        size = 0
        for part in _environment(templates).get_template(name).generate(bundle=bundle):
            parts.append(part)
            size += len(part)
            if size > LARGEST:
                raise Refusal(
                    told(name, None, say("it writes more than {number} MiB", number=LARGEST >> 20))
                )
        text = "".join(parts)
        text.encode()
        return text
    except jinja2.TemplateSyntaxError as problem:
        raise Refusal(told(problem.name or name, problem.lineno, problem.message or "")) from None
    except _TooLong as problem:
        words = say("it did not end within {seconds:g} s", seconds=seconds)
        raise Refusal(told(name, _line_of(problem, templates), words)) from None
    except UnicodeEncodeError:
        words = say("it writes half of a character, which no file can hold")
        raise Refusal(told(name, None, words)) from None
    except MemoryError as problem:
        words = say("it takes more than {number} MiB of memory", number=MEMORY >> 20)
        raise Refusal(told(name, _line_of(problem, templates), words)) from None
    except RecursionError as problem:
        words = say("it goes round in circles")
        raise Refusal(told(name, _line_of(problem, templates), words)) from None
    except Refusal:
        raise
    except Exception as problem:
        words = str(problem) or type(problem).__name__
        raise Refusal(told(name, _line_of(problem, templates), words)) from None
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)


def told(name: str, line: int | None, words: str) -> str:
    """The sentence about what is wrong with a template."""
    where = say(", line {line}", line=line) if line else ""
    return say(
        "The template {name}{ending}{where}: {words}. Put it right.",
        name=name,
        ending=ENDING,
        where=where,
        words=words.rstrip("."),
    )


def _line_of(problem: BaseException, templates: Mapping[str, str]) -> int | None:
    """The line of the template that was being written."""
    frames = traceback.extract_tb(problem.__traceback__)
    lines = [f.lineno for f in frames if f.filename == "<template>" or f.filename in templates]
    return lines[-1] if lines else None


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


if __name__ == "__main__":
    main()
