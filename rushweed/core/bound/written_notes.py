"""The game's own notes as one writes them on one line: `gold = 5; locked; says = "go; then stop"`.

A note without a value is a yes; numbers, yes and no are what they are, and a text that would be
taken for something else stands in quotes, in which a quote is written twice.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from rushweed.core.bound.facts import note_value
from rushweed.core.project.facts import Note, NoteKind
from rushweed.core.values import Refusal

QUOTED = r'"(?:[^"]|"")*"'
PART = re.compile(rf"\s*+({QUOTED}\s*+|[^;=\"]*+)(?:=\s*+({QUOTED}\s*+|[^;\"]*+))?+(;|$)")
NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?")
ANSWERS = ("yes", "no")


def written_notes(notes: Sequence[Note]) -> str:
    """Notes on one line.

    >>> written_notes([Note("gold", "5", "number"), Note("locked", "yes", "yes or no")])
    'gold = 5; locked'
    """
    return "; ".join(map(_written, notes))


def read_notes(line: str) -> tuple[Note, ...]:
    """The notes that a line means; of two with one key the last. Raises Refusal with a sentence for
    what cannot be read.

    >>> read_notes("says = hello")
    (Note(key='says', value='hello', kind='text'),)
    """
    found: dict[str, Note] = {}
    place = 0
    while place < len(line):
        part = PART.match(line, place)
        if part is None:
            raise Refusal(
                "“{rest}” is not understood. Write notes as gold = 5; locked; says = hello.",
                rest=line[place:].strip(),
            )
        place = part.end()
        if part[1].strip() or part[2] is not None:
            note = _read(part[1].strip(), part[2])
            note_value(note)
            found[note.key] = note
    return tuple(found.values())


def _read(key: str, value: str | None) -> Note:
    name = _unquoted(key)
    if value is None:
        return Note(name, "yes", "yes or no")
    text = value.strip()
    if text.startswith('"'):
        return Note(name, _unquoted(text))
    return Note(name, text, _kind_of(text))


def _kind_of(text: str) -> NoteKind:
    if text in ANSWERS:
        return "yes or no"
    return "number" if NUMBER.fullmatch(text) else "text"


def _written(note: Note) -> str:
    key = (
        note.key
        if re.fullmatch(r"[^;=\"\s](?:[^;=\"]*[^;=\"\s])?", note.key)
        else _quoted(note.key)
    )
    if note.kind == "yes or no" and note.value == "yes":
        return key
    plain = re.fullmatch(r"[^;\"\s](?:[^;\"]*[^;\"\s])?", note.value)
    if note.kind == "text" and (not plain or _kind_of(note.value) != "text"):
        return f"{key} = {_quoted(note.value)}"
    return f"{key} = {note.value}"


def _quoted(text: str) -> str:
    return '"' + text.replace('"', '""') + '"'


def _unquoted(text: str) -> str:
    return text[1:-1].replace('""', '"') if text.startswith('"') else text
