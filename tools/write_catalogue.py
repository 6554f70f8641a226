"""Writes `rushweed/languages/rushweed.pot`: every text that somebody may be shown, for translators.

The texts are those that are handed to the functions of `rushweed/core/words.py`, and those in the
tables of modules that hand over what stands in a table.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from datetime import datetime
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

ROOT = Path(__file__).parent.parent
CODE = ROOT / "rushweed"
TEMPLATE = CODE / "languages" / "rushweed.pot"
SAYING = {"say", "said", "Refusal", "Command", "FactKind"}
COUNTING = {"say_of", "counted"}
ALWAYS = datetime(2026, 1, 1)
"""So that the file changes with the texts alone."""
Text = str | tuple[str, str]


def texts(code: Path = CODE) -> dict[Text, list[tuple[str, int]]]:
    """Every text, or pair of texts for one and many, with the places where it is."""
    found: dict[Text, list[tuple[str, int]]] = {}
    for path in sorted(code.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        place = path.relative_to(code.parent).as_posix()
        for text, line in _texts_of(tree):
            found.setdefault(text, []).append((place, line))
    return found


def template() -> str:
    """The catalogue without translations, as text."""
    head = "# What Rushweed says. A translation goes under the same licence as the program."
    catalogue = Catalog(project="Rushweed", header_comment=head, creation_date=ALWAYS)
    for text, places in texts().items():
        catalogue.add(text, locations=places)
    made = BytesIO()
    write_po(made, catalogue, width=0, sort_output=True, include_lineno=False)
    return made.getvalue().decode()


def _texts_of(tree: ast.Module) -> Iterator[tuple[Text, int]]:
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
    if tables:
        for node in tree.body:
            if isinstance(node, ast.Assign | ast.AnnAssign) and node.value is not None:
                yield from _strings(node.value)


def _pairs(tree: ast.Module) -> Iterator[tuple[Text, int]]:
    """Tables of one text for one and another for many."""
    for node in tree.body:
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Tuple):
            parts = [part.value for part in node.value.elts if isinstance(part, ast.Constant)]
            if len(parts) == 2 and len(node.value.elts) == 2:
                yield (str(parts[0]), str(parts[1])), node.lineno


def _strings(node: ast.AST) -> Iterator[tuple[Text, int]]:
    for part in ast.walk(node):
        text = part.value if isinstance(part, ast.Constant) else None
        if isinstance(text, str) and any(sign.isalpha() for sign in text):
            yield text, part.lineno  # type: ignore[attr-defined]


def main() -> None:
    TEMPLATE.parent.mkdir(exist_ok=True)
    TEMPLATE.write_text(template(), encoding="utf-8")
    print(f"{TEMPLATE.relative_to(ROOT)}: {len(texts())} texts", file=sys.stderr)


if __name__ == "__main__":
    main()
