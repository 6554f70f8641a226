"""Edits are pure: what they are to do they know from the beginning, what they have to tell they
give back. So they can be made later, on another project, and beside the window."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.conftest import ROOT

TAKES_EDITS = {
    "do": 1,
    "make": 1,
    "do_stepwise": 1,
    "amend": 2,
    "to": 0,
    "further": 0,
    "bind": 2,
    "_do": 1,
}
"""Methods that are given an edit, and at which place."""
Function = ast.FunctionDef | ast.Lambda


def functions_in(scope: ast.AST) -> dict[str, Function]:
    """The functions that are defined within another one, by name; a name for a lambda too."""
    found: dict[str, Function] = {}
    for node in ast.walk(scope):
        if isinstance(node, ast.FunctionDef) and node is not scope:
            found[node.name] = node
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Lambda):
            found |= {t.id: node.value for t in node.targets if isinstance(t, ast.Name)}
    return found


CHANGES = {"append", "extend", "clear", "update", "add"}
"""What edits may do to nothing but to what they made themselves."""


def is_written(name: ast.Name) -> bool:
    return isinstance(name.ctx, ast.Store)


def changed_by(node: ast.AST) -> str:
    """The name of what a call of a method, or an assignment to a part, changes."""
    if not isinstance(node, ast.Subscript | ast.Attribute) or not isinstance(node.value, ast.Name):
        return ""
    calls = isinstance(node, ast.Attribute) and node.attr in CHANGES
    return node.value.id if calls or isinstance(node.ctx, ast.Store) else ""


def reads_self(edit: ast.expr, known: dict[str, Function], seen: frozenset[str]) -> bool:
    """Whether an edit reads the object it is made by, or calls what does."""
    if isinstance(edit, ast.Attribute):
        return isinstance(edit.value, ast.Name) and edit.value.id == "self"
    if isinstance(edit, ast.Call):  # partial(verb, a value, …): values may be read, verbs not
        verb = isinstance(edit.func, ast.Name) and edit.func.id == "partial"
        return bool(verb) and reads_self(edit.args[0], known, seen)
    if isinstance(edit, ast.Name):
        if edit.id in seen or edit.id not in known:
            return False
        return body_reads_self(known[edit.id], known, seen | {edit.id})
    return isinstance(edit, ast.Lambda) and body_reads_self(edit, known, seen)


def body_reads_self(function: Function, known: dict[str, Function], seen: frozenset[str]) -> bool:
    own = {n.id for n in ast.walk(function) if isinstance(n, ast.Name) and is_written(n)}
    for node in ast.walk(function):
        if isinstance(node, ast.Nonlocal) or ((changed := changed_by(node)) and changed not in own):
            return True  # it tells something by the way
        if isinstance(node, ast.Name) and node.id == "self":
            return True
        if isinstance(node, ast.Name) and reads_self(node, known, seen):
            return True
    return False


def impure_edits(tree: ast.AST) -> Iterator[int]:
    """The lines at which an edit is given that reads `self`."""
    for scope in ast.walk(tree):
        if not isinstance(scope, ast.FunctionDef):
            continue
        known = functions_in(scope)
        for call in ast.walk(scope):
            if isinstance(call, ast.Call) and isinstance(call.func, ast.Attribute):
                place = TAKES_EDITS.get(call.func.attr, len(call.args))
                given = call.args[place : place + 1]
                impure = any(reads_self(edit, known, frozenset()) for edit in given)
                if impure and not is_no_edit(call):
                    yield call.lineno


def is_no_edit(call: ast.Call) -> bool:
    """Commands and keys are bound to acts of an object by the same word."""
    return isinstance(call.func, ast.Attribute) and "commands" in ast.unparse(call.func.value)


FILES = sorted((ROOT / "rushweed" / "ui").rglob("*.py"))


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_no_edit_reads_the_interface(path: Path) -> None:
    assert not list(impure_edits(ast.parse(path.read_text()))), path


@pytest.mark.parametrize(
    "body",
    [
        "self.desk.do(words, lambda p: edit(p, self.number))",
        "self.desk.do(words, self.edit)",
        "self.desk.do(words, partial(self.edit, 3))",
        "drag.to(partial(lay, place=3)) or drag.further(lambda p: self.edit(p))",
        "def edit(p):\n        return verb(p, self.name)\n    desk.do(words, edit)",
        "one = lambda p: self.name\n    def edit(p):\n        return one(p)\n    desk.do('', edit)",
        "made = []\n    def edit(p):\n        made.append(p)\n    desk.do('', edit)",
        "made = []\n    def edit(p):\n        made[:] = [p]\n    desk.do('', edit)",
        "def edit(p):\n        nonlocal made\n        made = p\n    desk.do('', edit)",
        "self.bound.bind(control, read, lambda p, value: set_it(p, self.names, value), words)",
    ],
)
def test_an_edit_that_does_is_found(body: str) -> None:
    assert list(impure_edits(ast.parse(f"def act(self):\n    {body}")))


@pytest.mark.parametrize(
    "body",
    [
        "name = self.name\n    self.desk.do(words, lambda p: edit(p, name))",
        "self.desk.do(words, partial(edit, name=self.name))",
        "self.commands.bind('cut.join', self.join, self.can_join)",
    ],
)
def test_one_that_closes_over_values_is_not(body: str) -> None:
    assert not list(impure_edits(ast.parse(f"def act(self):\n    {body}")))
