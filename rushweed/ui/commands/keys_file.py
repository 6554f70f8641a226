"""The user's own keys: a small file beside the settings, `keys.toml`.

Each line gives a command other keys: `"cut.join" = "Ctrl+J"`, or several, `["J", "Shift+J"]`;
an empty text takes them away.
"""

from __future__ import annotations

import tomllib
from collections import defaultdict
from pathlib import Path

from PyQt6.QtGui import QKeySequence

from rushweed.core.own_files import own_text
from rushweed.core.values import Refusal
from rushweed.ui.commands.listed import COMMANDS, WINDOW

OwnKeys = dict[str, tuple[str, ...]]
COMMAND_OF = {command.identity: command for command in COMMANDS}


def read_own_keys(file: Path) -> OwnKeys:
    """The user's keys by command; none without a file. Raises Refusal for a line that is not right,
    and for keys that two commands would have in one place."""
    try:
        lines = tomllib.loads(own_text(file))
    except FileNotFoundError:
        return {}
    except (OSError, ValueError, RecursionError) as problem:
        raise Refusal(
            "{file} cannot be read: {problem}. The usual keys hold.", file=file, problem=problem
        ) from problem
    own = {name: _keys_of(file, name, value) for name, value in lines.items()}
    _refuse_twice(file, own)
    return own


def write_all_keys(file: Path) -> None:
    """Write all commands with their usual keys, to be changed; every line is a remark at first.
    A file that is there stays as it is. Raises Refusal."""
    lines = ['# Take the # away and give the command other keys: "Ctrl+J", ["J", "F5"], or "".']
    for command in COMMANDS:
        keys = ", ".join(f'"{key}"' for key in command.keys)
        value = f"[{keys}]" if len(command.keys) != 1 else keys
        lines.append(f'# "{command.identity}" = {value}  # {command.place}: {command.words}')
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        with file.open("x", encoding="utf-8") as written:
            written.write("\n".join(lines) + "\n")
    except FileExistsError:
        return
    except OSError as problem:
        raise Refusal(
            "{file} cannot be written ({strerror}).", file=file, strerror=problem.strerror
        ) from problem


def _keys_of(file: Path, name: str, value: object) -> tuple[str, ...]:
    if name not in COMMAND_OF:
        raise Refusal(
            "{file} names {name}, which is no command. Help › Keys writes a file with all of them.",
            file=file,
            name=name,
        )
    texts = value if isinstance(value, list) else [value]
    command, keys = COMMAND_OF[name], []
    if command.stepped and len(texts) > len(command.keys):
        raise Refusal(
            "{file} gives {name} {count} keys, but it has {choices} choices. Take some away.",
            file=file,
            name=name,
            count=len(texts),
            choices=len(command.keys),
        )
    for text in texts:
        if text == "":
            keys += [""] if command.stepped else []  # the others keep their places
            continue
        sequence = QKeySequence(text if isinstance(text, str) else "")
        written = sequence.toString(QKeySequence.SequenceFormat.PortableText)
        if (
            sequence.count() != 1
            or not written
            or not written.isprintable()
            or not written.isascii()
        ):
            raise Refusal(
                "{file} gives {name} the key {text!r}. Write it as Ctrl+J or F5.",
                file=file,
                name=name,
                text=text,
            )
        keys.append(written)
    return tuple(keys)


def _refuse_twice(file: Path, own: OwnKeys) -> None:
    for (place, key), names in claims(own).items():
        if len(names) > 1 and any(name in own for name in names):
            raise Refusal(
                "{file} gives {key} to {names}, which both hold in {place}. Give one of "
                "them another key.",
                file=file,
                key=key,
                names=" and ".join(names),
                place=place,
            )


def claims(own: OwnKeys) -> dict[tuple[str, str], list[str]]:
    """Who wants each key in each place; keys that hold everywhere are wanted in all places."""
    found: dict[tuple[str, str], list[str]] = defaultdict(list)
    places = {command.place for command in COMMANDS}
    for name, command in COMMAND_OF.items():
        for key in filter(None, own.get(name, command.keys)):
            for place in places if command.place == WINDOW else (command.place,):
                found[place, key].append(name)
    return found
