"""Text files that the game wants, written by Jinja2 templates in a sandbox.

A template's name is the file's name with `.j2` after it. It sees the manifest as `bundle`, and the
filters of docs/format/templates.md. It reads no files but other templates by name, and is stopped
when it does not end.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path
from threading import Lock
from typing import Any

import rushweed
from rushweed.core.bale import rendering
from rushweed.core.bale.rendering import ENDING, told
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import leaves_well
from rushweed.core.folder.saving import HIDDEN
from rushweed.core.values import Refusal
from rushweed.core.words import say

TAKEN = ("bundle.json", "credits.txt", HIDDEN)
LARGEST_TEMPLATE = 4 << 20
SHIPPED = Path(__file__).parent.parent.parent / "templates"
ENDED = say("it was ended")
PATIENCE = 1.0
"""Seconds that a template has to end once it was asked to."""


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
                "The template {name} is not UTF-8 text. Save it again as UTF-8.", name=name
            ) from problem
        except OSError as problem:
            raise Refusal("The template {name} cannot be read. Check it.", name=name) from problem
    return found


def render_all(names: Sequence[str], bundle: Any, own: Mapping[str, str]) -> dict[str, bytes]:
    """The files that the named templates write of a manifest as plain JSON. Raises Refusal with
    template, line and sentence."""
    if not names:
        return {}
    known = {**shipped_templates(), **own}
    for name in names:
        if name not in known:
            raise Refusal(
                "There is no template “{name}{ending}”. Put it into the project's "
                "templates/, or take one of {names}.",
                name=name,
                ending=ENDING,
                names=", ".join(sorted(known)),
            )
        check_name(name)
    texts = Rendering(names, known, json.dumps(bundle).encode()).texts()
    return {name: text.encode() for name, text in texts.items()}


class Rendering:
    """Templates at work in a process of their own, which may be waited for or stopped."""

    def __init__(self, names: Sequence[str], templates: Mapping[str, str], bundle: bytes) -> None:
        """`bundle` is the manifest as it is written."""
        self._names, self._bundle = list(names), bundle
        asked = {"parent": os.getpid(), "names": self._names, "templates": dict(templates)}
        self._head = json.dumps(asked | {"seconds": rendering.LONGEST}).encode() + b"\n"
        self.begun: subprocess.Popen[bytes] | None = None
        """The process that works on it, once there is one."""
        self._stopped = False
        self._lock = Lock()

    def texts(self) -> dict[str, str]:
        """What the templates write, by name. Raises Refusal with template, line and sentence."""
        seconds = rendering.LONGEST * len(self._names) + PATIENCE
        process = self._begin()
        with process:  # whatever becomes of it, no pipe to it is left open
            try:
                answer, _ = process.communicate(self._head + self._bundle, timeout=seconds)
                body = json.loads(answer)
            except subprocess.TimeoutExpired:
                process.kill()
                words = say("it did not end within {LONGEST:g} s", LONGEST=rendering.LONGEST)
                raise Refusal(told(self._names[0], None, words)) from None
            except (OSError, ValueError):
                process.kill()
                raise Refusal(told(self._names[0], None, ENDED)) from None
        if "refused" in body:
            raise Refusal(body["refused"])
        texts: dict[str, str] = body["texts"]
        return texts

    def stop(self) -> None:
        """End it at once, or before it begins; whoever waits for it gets a Refusal."""
        with self._lock:
            self._stopped = True
            if self.begun is not None:
                self.begun.kill()

    def _begin(self) -> subprocess.Popen[bytes]:
        package = str(Path(rushweed.__file__).parent.parent)
        with self._lock:
            if self._stopped:
                raise Refusal(told(self._names[0], None, ENDED))
            self.begun = subprocess.Popen(
                [sys.executable, "-P", "-m", rendering.__name__],
                env={**os.environ, "PYTHONPATH": package},
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
            )
            return self.begun


def check_name(name: str) -> None:
    """Raise Refusal for what cannot be the name of a file in a bundle."""
    taken = name.casefold() in TAKEN or name.casefold().startswith("page-")
    if taken or not re.fullmatch(r"[\w][\w. -]*", name) or not leaves_well(name):
        raise Refusal(
            "A template cannot write “{name}”. Give it the name of a file of its own, "
            "without folders.",
            name=name,
        )
