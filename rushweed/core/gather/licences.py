"""What licences ask for, in plain words."""

from __future__ import annotations

import re
from functools import lru_cache

from rushweed.core.gather.licence_duties import (
    ALIKE,
    NAME,
    NOT_FOR_SALE,
    NOTHING,
    READ,
    TEXT,
    UNCHANGED,
    duty_said,
)
from rushweed.core.values import Refusal

DUTIES: dict[str, tuple[str, ...]] = {
    "CC0-1.0": (),
    "Unlicense": (),
    "0BSD": (),
    "MIT-0": (),
    "WTFPL": (),
    "CC-PDDC": (),
    "MIT": (NAME, TEXT),
    "ISC": (NAME, TEXT),
    "Zlib": (),
    "BSD-2-Clause": (NAME, TEXT),
    "BSD-3-Clause": (NAME, TEXT),
    "Apache-2.0": (NAME, TEXT),
    "OFL-1.1": (NAME, TEXT, ALIKE),
    "MPL-2.0": (TEXT, ALIKE),
}
"""By SPDX identifier. Families whose identifiers say it themselves are read from those."""


TEXTS = "https://spdx.org/licenses/{identifier}.html"
"""Where the text of a licence is, by its SPDX identifier."""


def duties(expression: str) -> tuple[str, ...]:
    """What an SPDX licence expression asks for, in the user's language."""
    return tuple(map(duty_said, asked_for(expression)))


def texts_of(expression: str) -> tuple[str, ...]:
    """The addresses of the texts of all licences of an SPDX expression that SPDX lists.

    >>> texts_of("MIT OR CC-BY-4.0")
    ('https://spdx.org/licenses/MIT.html', 'https://spdx.org/licenses/CC-BY-4.0.html')
    """
    joining = {"AND", "OR", "WITH"}
    names = (name for name in re.findall(r"[\w.+-]+", expression) if name not in joining)
    listed = (name for name in names if name in USUAL or name in identifiers())
    return tuple(dict.fromkeys(TEXTS.format(identifier=name) for name in listed))


def asked_for(expression: str) -> tuple[str, ...]:
    """What an SPDX licence expression asks for, as short sentences; none for an empty one.

    Of several licences joined with AND all duties hold; with OR the lightest are told.
    """
    if not expression:
        return ()
    try:
        alternatives = _alternatives(expression)
    except Refusal:
        return (READ,)
    lightest = min(alternatives, key=len)
    return lightest or (NOTHING,)


def names_author(expression: str) -> bool:
    """Whether the author has to be named."""
    return NAME in asked_for(expression)


USUAL = (
    "CC0-1.0",
    "CC-BY-4.0",
    "CC-BY-SA-4.0",
    "CC-BY-3.0",
    "CC-BY-SA-3.0",
    "CC-BY-NC-4.0",
    "CC-BY-NC-SA-4.0",
    "GPL-3.0-or-later",
    "GPL-2.0-or-later",
    "LGPL-2.1-or-later",
    "MIT",
    "Zlib",
    "Apache-2.0",
    "OFL-1.1",
)
"""Those that art is mostly under."""
COPYLEFT = re.compile(
    r"^(?P<kind>[AL]?GPL)[ -]?v?(?P<number>\d)(?P<minor>\.\d)?(?P<later>.*)$", re.IGNORECASE
)
COMMONS = re.compile(
    r"^cc[ -]?(?P<kind>by(?:[ -](?:sa|nc|nd))*)[ -]?(?P<number>\d\.\d)$", re.IGNORECASE
)


@lru_cache(maxsize=1)
def identifiers() -> tuple[str, ...]:
    """Every SPDX identifier, the usual ones first, then the older short forms."""
    from license_expression import get_spdx_licensing

    known = get_spdx_licensing().known_symbols.values()
    names = sorted({s.key for s in known if not s.is_exception} - set(USUAL), key=str.lower)
    older = sorted({a for s in known for a in s.aliases if " " not in a}, key=str.lower)
    return (*USUAL, *names, *older)


@lru_cache(maxsize=256)
def spdx(text: str) -> str:
    """A licence expression in SPDX's own spelling (SPDX specification 2.3, annex D), from what
    people write, such as GPL-2+ or CC BY 4.0; empty when it is none."""
    if text in USUAL or text in DUTIES:
        return text
    from license_expression import ExpressionError, get_spdx_licensing

    for spelling in (text, _spelt_out(text)):
        try:
            return str(get_spdx_licensing().parse(spelling, validate=True))
        except ExpressionError:
            continue
    return ""


def _spelt_out(text: str) -> str:
    """A short form of a licence's name as SPDX writes it."""
    short = re.sub(r"\s+licen[cs]e$", "", text.strip(), flags=re.IGNORECASE)
    if copyleft := COPYLEFT.match(short):
        later = "or-later" if re.search(r"\+|later", copyleft["later"]) else "only"
        return f"{copyleft['kind'].upper()}-{copyleft['number']}{copyleft['minor'] or '.0'}-{later}"
    if commons := COMMONS.match(short):
        return f"CC-{commons['kind'].upper().replace(' ', '-')}-{commons['number']}"
    return {"cc0": "CC0-1.0", "public domain": "CC-PDDC"}.get(short.lower(), short)


@lru_cache(maxsize=256)
def _alternatives(expression: str) -> tuple[tuple[str, ...], ...]:
    """The duties of each way to satisfy an expression."""
    if " " not in expression:
        return (_of_one(expression),)
    from license_expression import ExpressionError, get_spdx_licensing

    try:
        parsed = get_spdx_licensing().parse(expression)
    except ExpressionError as problem:
        raise Refusal("“{expression}” is not an SPDX licence.", expression=expression) from problem
    return tuple(_walk(parsed))


def _walk(node) -> list[tuple[str, ...]]:  # type: ignore[no-untyped-def]
    operator = getattr(node, "operator", "").strip()
    if operator == "OR":
        return [ways for part in node.args for ways in _walk(part)]
    if operator == "AND":
        ways: list[tuple[str, ...]] = [()]
        for part in node.args:
            ways = [_together(one, other) for one in ways for other in _walk(part)]
        return ways
    return [_of_one(str(node))]


def _together(one: tuple[str, ...], other: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(dict.fromkeys((*one, *other)))


def _of_one(identifier: str) -> tuple[str, ...]:
    if identifier in DUTIES:
        return DUTIES[identifier]
    parts = identifier.split("-")
    if identifier.startswith("CC-BY"):
        said = {"SA": ALIKE, "NC": NOT_FOR_SALE, "ND": UNCHANGED}
        return (NAME, *(said[part] for part in parts if part in said))
    if parts[0] in ("GPL", "LGPL", "AGPL"):
        return (NAME, TEXT, ALIKE)
    return (READ,)
