"""Whatever is shown to somebody goes through here: one catalogue, in the user's language.

Catalogues are those of gettext (GNU gettext manual, chapter 10: MO files), found by the language
that the environment asks for: first among the user's own, then among those that come along.
"""

from __future__ import annotations

import gettext
import os
from collections.abc import Mapping
from pathlib import Path
from typing import TypeVar

DOMAIN = "rushweed"
COME_ALONG = Path(__file__).parent.parent / "languages"
Value = TypeVar("Value")


def own_catalogues() -> Path:
    """Where the user's own catalogues lie: `LANGUAGE/LC_MESSAGES/rushweed.mo`."""
    data = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(data) / DOMAIN / "languages"


def _catalogue() -> gettext.NullTranslations:
    for folder in (own_catalogues(), COME_ALONG):
        if gettext.find(DOMAIN, folder):
            return gettext.translation(DOMAIN, folder)
    return gettext.NullTranslations()


CATALOGUE = _catalogue()


def say(text: str, /, **values: object) -> str:
    """A text in the user's language, with values in the places that are named in it."""
    told = CATALOGUE.gettext(text)
    return told.format(**values) if values else told


def say_of(count: int, one: str, many: str, /, **values: object) -> str:
    """A text about one or many, with `count` and values in the places that are named in it."""
    return CATALOGUE.ngettext(one, many, count).format(count=count, **values)


def counted(count: int, one: str, many: str) -> str:
    """“1 piece” or “4 pieces”."""
    return f"{count} {CATALOGUE.ngettext(one, many, count)}"


def said(choices: Mapping[Value, str]) -> dict[Value, str]:
    """The texts of choices in the user's language."""
    return {value: say(text) for value, text in choices.items()}
