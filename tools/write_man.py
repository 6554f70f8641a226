"""Writes the manual page `share/man/man1/rushweed.1` from the verbs and their options."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from typer.main import get_command

from rushweed import __version__
from rushweed.cli import app

TARGET = Path(__file__).parent.parent / "share" / "man" / "man1" / "rushweed.1"
HEAD = f""".TH RUSHWEED 1 "" "Rushweed {__version__}" "User Commands"
.SH NAME
rushweed \\- the bench between the art and the game
.SH SYNOPSIS
.B rushweed
[\\fIPROJECT\\fR]
.br
.B rushweed
\\fIVERB\\fR ...
.br
.B rushweed
\\-\\-version
.SH DESCRIPTION
Without a verb, opens the window on a project's folder, or on a copy of the demo.
The verbs work without a window. Exit status: 0 fine, 1 findings or refused input, 2 wrong use.
.SH VERBS
"""


def manual() -> str:
    """The whole page."""
    group = get_command(app)
    commands: dict[str, Any] = group.commands  # type: ignore[attr-defined]
    return HEAD + "".join(_verb(name, command) for name, command in commands.items())


def _verb(name: str, command: Any) -> str:
    arguments = [p for p in command.params if p.param_type_name == "argument"]
    options = [p for p in command.params if p.param_type_name == "option"]
    names = " ".join(argument.name.upper() for argument in arguments)
    text = f".SS rushweed {name} {names}\n{_plain(command.help or '')}\n"
    for option in options:
        text += f".TP\n.B {_plain(', '.join(option.opts))}\n{_plain(option.help or '')}\n"
    return text


def _plain(text: str) -> str:
    return " ".join(text.split()).replace("\\", "\\\\").replace("-", "\\-")


if __name__ == "__main__":
    TARGET.write_text(manual(), encoding="utf-8")
