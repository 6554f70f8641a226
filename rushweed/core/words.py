"""Whatever is shown to somebody goes through here: one catalogue, in the user's language.

Catalogues are those of gettext (GNU gettext manual, chapter 10: MO files), found by the language
that the environment asks for, or that is chosen: first among the user's own, then among those that
come along. The code itself speaks English.
"""

from __future__ import annotations

import gettext
import os
import re
import struct
from collections.abc import Mapping, Sequence
from functools import cache
from io import BytesIO
from itertools import takewhile
from pathlib import Path
from string import Formatter
from typing import TypeVar

from rushweed.core.own_files import own_bytes

DOMAIN = "rushweed"
COME_ALONG = Path(__file__).parent.parent / "languages"
CODE_SPEAKS = ("en", "C", "POSIX")
Value = TypeVar("Value")


def own_catalogues() -> Path:
    """Where the user's own catalogues lie: `LANGUAGE/LC_MESSAGES/rushweed.mo`."""
    data = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(data) / DOMAIN / "languages"


def come_along() -> tuple[str, ...]:
    """The languages that Rushweed speaks besides that of its code, as codes of ISO 639-1."""
    return tuple(sorted(path.name for path in COME_ALONG.iterdir() if path.is_dir()))


def _asked() -> list[str]:
    """The languages that the environment asks for, the first first. English is what the code
    speaks, so none that comes after it is looked for."""
    names = ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG")
    asked = next(filter(None, map(os.environ.get, names)), "").split(":")
    return list(takewhile(lambda name: re.split("[_.@]", name)[0] not in CODE_SPEAKS, asked))


def _catalogue(languages: Sequence[str]) -> gettext.NullTranslations:
    for folder in (own_catalogues(), COME_ALONG):
        try:
            file = gettext.find(DOMAIN, folder, languages)
            if file is not None:
                made = gettext.GNUTranslations(BytesIO(own_bytes(Path(file))))
                made.ngettext("", "", 1)  # how it counts may be anything
                made.ngettext("", "", 0)
                return made
        except (OSError, ValueError, LookupError, ArithmeticError, RecursionError, struct.error):
            continue
    return gettext.NullTranslations()


class _Spoken:
    """What this process speaks."""

    catalogue = _catalogue(_asked())


def speak(language: str) -> None:
    """Speak a language that was chosen, “en” or one that comes along. Tables of texts are made
    when their modules are brought in, so choose before."""
    _Spoken.catalogue = _catalogue([] if language in CODE_SPEAKS else [language])


def language() -> str:
    """The language that is spoken, such as “de”; “en” where there is no catalogue."""
    return _Spoken.catalogue.info().get("language", CODE_SPEAKS[0])


def _told_of(count: int, one: str, many: str) -> str:
    """The text for a count; a catalogue that counts oddly must not stop anybody at work."""
    try:
        return _Spoken.catalogue.ngettext(one, many, count)
    except (ArithmeticError, ValueError, LookupError):
        return one if count == 1 else many


def say(text: str, /, **values: object) -> str:
    """A text in the user's language, with values in the places that are named in it."""
    told = _Spoken.catalogue.gettext(text)
    if told == text:  # one that is counted elsewhere stands in the catalogue with its plural
        told = _told_of(1, text, text)
    told = told if _keeps_places(told, text) else text
    return told.format(**values) if values else told


def say_of(count: int, one: str, many: str, /, **values: object) -> str:
    """A text about one or many, with `count` and values in the places that are named in it."""
    told = _told_of(count, one, many)
    told = told if _keeps_places(told, one + many + "{count}") else (one if count == 1 else many)
    return told.format(count=count, **values)


@cache
def _keeps_places(told: str, text: str) -> bool:
    """Whether a translation has no places for values but those of the text: a slip of who
    translates must not stop anybody at work."""
    return told == text or _places(told) <= _places(text)


def _places(text: str) -> set[tuple[str, ...]]:
    try:
        parts = list(Formatter().parse(text))
    except ValueError:
        return {("not", "to", "be", "filled")}
    return {(name, form or "", turned or "") for _, name, form, turned in parts if name is not None}


def counted(count: int, one: str, many: str) -> str:
    """“1 piece” or “4 pieces”."""
    return f"{count} {_told_of(count, one, many)}"


def some(names: Sequence[str], most: int = 3) -> str:
    """The first few of many names, and how many more there are."""
    more = len(names) - most
    return ", ".join(names[:most]) + (say(" and {more} more", more=more) if more > 0 else "")


def said(choices: Mapping[Value, str]) -> dict[Value, str]:
    """The texts of choices in the user's language."""
    return {value: say(text) for value, text in choices.items()}
