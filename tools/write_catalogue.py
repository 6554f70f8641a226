"""Writes `rushweed/languages/rushweed.pot`: every text that somebody may be shown, for translators.
Brings each `LANGUAGE/LC_MESSAGES/rushweed.po` there up to date with it, and makes what the program
reads of it, `rushweed.mo`.

The texts are those that are handed to the functions of `rushweed/core/words.py`, and those in the
tables of modules that hand over what stands in a table.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from datetime import datetime
from functools import cache
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

ROOT = Path(__file__).parent.parent
CODE = ROOT / "rushweed"
WORDS = CODE / "core" / "words.py"
TEMPLATE = CODE / "languages" / "rushweed.pot"
SAYING = {"say", "said", "Refusal", "Command", "FactKind"}
COUNTING = {"say_of", "counted"}
ALWAYS = datetime(2026, 1, 1)
"""So that the file changes with the texts alone."""
Text = str | tuple[str, str]
KEYS = re.compile(r"Return|Esc|Del|V Esc|F\d+|[A-Z]|((Ctrl|Shift|Alt)\+)+\w*")
NAMES = re.compile(
    r"[\^\\].*|[a-z]/|-{1,2}[a-z-]+|[a-z]+(_[a-z]+)+|[a-z_]+(\.[a-z0-9_]*)+|[/.][\w./]+"
)
PLACES = re.compile(r"\{[^}]*\}")


@cache
def texts(code: Path = CODE) -> dict[Text, list[tuple[str, int]]]:
    """Every text, or pair of texts for one and many, with the places where it is."""
    found: dict[Text, list[tuple[str, int]]] = {}
    for path in sorted(code.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        place = path.relative_to(code.parent).as_posix()
        for text, line in _texts_of(tree, path != WORDS):
            found.setdefault(text, []).append((place, line))
    return found


def template() -> Catalog:
    """The catalogue without translations."""
    head = "# What Rushweed says. A translation goes under the same licence as the program."
    catalogue = Catalog(project="Rushweed", header_comment=head, creation_date=ALWAYS)
    for text, places in texts().items():
        catalogue.add(text, locations=places)
    return catalogue


def translations() -> dict[Path, Catalog]:
    """The file of each language, and what is said in it, of the texts that there are now."""
    found = {}
    for path in sorted(TEMPLATE.parent.glob("*/LC_MESSAGES/rushweed.po")):
        with path.open("rb") as file:
            found[path] = catalogue = read_po(file, locale=path.parent.parent.name)
        catalogue.update(template(), no_fuzzy_matching=True)
        catalogue.obsolete.clear()
    return found


def as_text(catalogue: Catalog) -> str:
    """A catalogue as it lies in a file."""
    catalogue.fuzzy = False
    made = BytesIO()
    write_po(made, catalogue, width=0, sort_output=True, include_lineno=False)
    return made.getvalue().decode()


def as_read(catalogue: Catalog) -> bytes:
    """A catalogue as the program reads it."""
    made = BytesIO()
    write_mo(made, catalogue)
    return made.getvalue()


def _texts_of(tree: ast.Module, tables_too: bool) -> Iterator[tuple[Text, int]]:
    calls = [node for node in ast.walk(tree) if isinstance(node, ast.Call)]
    tables = False
    for call in calls:
        name = ast.unparse(call.func)
        if name in COUNTING:
            one, many = call.args[1:3] if len(call.args) > 2 else (None, None)
            if isinstance(one, ast.Constant) and isinstance(many, ast.Constant):
                yield (str(one.value), str(many.value)), call.lineno
            else:
                yield from _pairs(tree)
        elif name in SAYING:
            tables = tables or not isinstance(call.args[0], ast.Constant)
            yield from _strings(call)
            yield from _held(tree, call.args[0])
    if tables and tables_too:
        for node in tree.body:
            if not isinstance(node, ast.Assign | ast.AnnAssign) or node.value is None:
                continue
            if not ast.unparse(node.value).startswith("TypeVar"):
                yield from _strings(node.value)


def _held(tree: ast.Module, said: ast.expr) -> Iterator[tuple[Text, int]]:
    """The texts that a name may stand for that is handed over, as functions of the module say."""
    names = [part.id for part in ast.walk(said) if isinstance(part, ast.Name)]
    for node in ast.walk(tree):
        if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) in names:
            yield from _strings(node.value)
            if isinstance(node.value, ast.IfExp):
                yield from _held(tree, node.value)


def _pairs(tree: ast.Module) -> Iterator[tuple[Text, int]]:
    """Tables of one text for one and another for many."""
    for node in tree.body:
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Tuple):
            parts = [part.value for part in node.value.elts if isinstance(part, ast.Constant)]
            if (
                len(parts) == 2
                and len(node.value.elts) == 2
                and all(map(_is_shown, map(str, parts)))
            ):
                yield (str(parts[0]), str(parts[1])), node.lineno


def _strings(node: ast.AST) -> Iterator[tuple[Text, int]]:
    for part in ast.walk(node):
        text = part.value if isinstance(part, ast.Constant) else None
        if isinstance(text, str) and _is_shown(text):
            yield text, part.lineno  # type: ignore[attr-defined]


def _is_shown(text: str) -> bool:
    """Whether it is a text, and no key, file's name, option or identity of a command."""
    if KEYS.fullmatch(text) or NAMES.fullmatch(text):
        return False
    return any(sign.isalpha() for sign in PLACES.sub("", text))


def main() -> None:
    TEMPLATE.parent.mkdir(exist_ok=True)
    TEMPLATE.write_text(as_text(template()), encoding="utf-8")
    print(f"{TEMPLATE.relative_to(ROOT)}: {len(texts())} texts", file=sys.stderr)
    for path, catalogue in translations().items():
        path.write_text(as_text(catalogue), encoding="utf-8")
        path.with_suffix(".mo").write_bytes(as_read(catalogue))
        left = sum(not said_in(message) for message in catalogue if message.id)
        print(f"{path.relative_to(ROOT)}: {left} left", file=sys.stderr)


def said_in(message: Message) -> bool:
    """Whether a text is translated, in all forms of its count."""
    said = message.string
    return all(said) if isinstance(said, tuple) else bool(said)


if __name__ == "__main__":
    main()
