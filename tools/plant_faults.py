"""Plants small faults in the code, one at a time, and writes down which of them the tests find.

    tools/plant_faults.py [--each N] [--seed N] [--only MODULE]     writes docs/planted.md

With a module alone its lines on the page are written anew, and the others stay.

A fault is what a tired hand does: a number that is one off, another sign, another comparison, a
term that was dropped, the smaller for the larger. Each is planted in a copy of the tree; the tests
named beside its module run there, stopping at the first that fails.
"""

from __future__ import annotations

import argparse
import ast
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "planted.md"
RELATED = {
    "bale/trimming.py": "fresh forms",
    "bound/carrying.py": "facts bound",
    "bound/facts.py": "facts meeting",
    "bound/simplify.py": "outlines reshaping",
    "bound/twins.py": "editing_shapes bound",
    "cut/correcting.py": "correcting staying animations",
    "cut/matching.py": "rereading staying",
    "cut/overlaying.py": "stands animations glossary",
    "cut/reshaping.py": "reshaping staying smoothing",
    "cut/seams.py": "stands",
    "cut/steadying.py": "animations",
    "gather/colour_key.py": "gather seeing",
    "gauge/pivots.py": "gauge bound rereading",
    "gauge/sampling.py": "sampling bound",
    "gauge/viewing.py": "sampling",
    "project/attached.py": "attached staying reshaping correcting",
    "project/cells.py": "cells project finishing",
    "project/value_merging.py": "merging",
    "walk/bodies.py": "depth walk",
    "walk/mover.py": "walk flock",
    "walk/rafts.py": "walk_numbers walk depth",
    "walk/walker.py": "walk_numbers walk flock depth",
    "weave/finishing.py": "finishing hems",
    "weave/painting.py": "weave finishing hems",
    "weave/posing.py": "posing depth",
    "weave/props.py": "hems posing props",
}
"""Modules of the core that are made of numbers, each with the tests that are about it."""
REASONS = {
    "`first.shape[1] - 1` became `first.shape[1]`": (
        "a shift of two fifths of the width is off by less than half a pixel then"
    ),
    "`30` became `31`": "both are more than a picture has pixels",
    "`count < least.get(twin, 1 << 30)` with `<=`": "of two that are as near either will do",
    "`low - SLACK` became `low`": "what rounding takes away, at most one corner more",
    "`slab.right > left + TOUCH` with `>=`": "a touch of exactly a millionth of a pixel",
    "`left + TOUCH` became `left`": "a touch of less than a millionth of a pixel",
    "`wander([one.middle - across[n] for n, one in stances.items()]) > now` with `>=`": (
        "as steady as before is as good"
    ),
}
"""Why a fault that was not found is none, or one that nobody would see."""
SWAPPED = {
    **{ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">"},
    **{ast.Add: "-", ast.Sub: "+", ast.Mult: "+"},
}
OTHERS = {"min": "max", "max": "min", "floor": "ceil", "ceil": "floor"}
PATIENCE = 400
"""Seconds after which tests that do not end have found the fault."""


class Fault(NamedTuple):
    """A text that stands in place of another, by line and columns."""

    line: int
    first: int
    last: int
    text: str
    what: str


def faults_in(text: str) -> list[Fault]:
    """All faults that can be planted in a module, outside of texts and signatures."""
    tree = ast.parse(text)
    lines = text.encode().splitlines()  # columns of the tree are counted in bytes
    skipped = {id(part) for node in ast.walk(tree) for part in _unimportant(node)}
    found = []
    for node in ast.walk(tree):
        if id(node) not in skipped and getattr(node, "lineno", 0) == getattr(node, "end_lineno", 1):
            found += list(_of(node, lines[node.lineno - 1]))
    return sorted(set(found))


def _unimportant(node: ast.AST) -> Iterator[ast.AST]:
    """Parts that nothing is reckoned with: annotations, colours, refused cases."""
    for part in (getattr(node, "annotation", None), getattr(node, "returns", None)):
        yield from ast.walk(part) if part is not None else ()
    colour = isinstance(node, ast.Call) and ast.unparse(node.func) == "Colour"
    if colour or isinstance(node, ast.Raise | ast.Assert | ast.JoinedStr):
        yield from ast.walk(node)


def _of(node: ast.AST, line: bytes) -> Iterator[Fault]:
    if isinstance(node, ast.Constant) and type(node.value) in (int, float):
        other = node.value + 1 if isinstance(node.value, int) else node.value * 1.1
        yield _instead(node, f"{other:g}" if isinstance(other, float) else str(other), line)
    elif isinstance(node, ast.BinOp) and type(node.op) in SWAPPED:
        yield from _between(node.left, node.right, SWAPPED[type(node.op)], line)
        if isinstance(node.op, ast.Add | ast.Sub):
            yield _instead(node, ast.unparse(node.left), line)
    elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SWAPPED:
        yield from _between(node.left, node.comparators[0], SWAPPED[type(node.ops[0])], line)
    elif isinstance(node, ast.Name) and node.id in OTHERS:
        yield _instead(node, OTHERS[node.id], line)
    elif isinstance(node, ast.BoolOp) and len(node.values) == 2:
        yield _instead(node, ast.unparse(node.values[0]), line)


def _instead(node: ast.expr, text: str, line: bytes) -> Fault:
    first, last = node.col_offset, node.end_col_offset or 0
    bare = text if isinstance(node, ast.Constant | ast.Name) else f"({text})"
    return Fault(node.lineno, first, last, bare, f"`{line[first:last].decode()}` became `{text}`")


def _between(left: ast.expr, right: ast.expr, sign: str, line: bytes) -> Iterator[Fault]:
    if left.end_lineno != right.lineno:
        return
    first, last = left.end_col_offset or 0, right.col_offset
    if b"(" in line[first:last] or b")" in line[first:last]:
        return
    what = f"`{line[left.col_offset : right.end_col_offset].decode()}` with `{sign}`"
    yield Fault(left.lineno, first, last, f" {sign} ", what)


def planted(text: str, fault: Fault) -> str:
    """The module with the fault in it."""
    lines = text.encode().splitlines(keepends=True)
    line = lines[fault.line - 1]
    lines[fault.line - 1] = line[: fault.first] + fault.text.encode() + line[fault.last :]
    return b"".join(lines).decode()


def is_found(copy: Path, tests: list[str]) -> bool:
    """Whether a test fails in the copy."""
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:randomly", *tests]
    try:
        return (
            subprocess.run(command, cwd=copy, capture_output=True, timeout=PATIENCE).returncode != 0
        )
    except subprocess.TimeoutExpired:
        return True


def try_module(copy: Path, module: str, count: int, seed: int) -> Iterator[tuple[Fault, bool]]:
    """Plant so many faults in a module, one after the other, and tell which are found."""
    path = copy / "rushweed" / "core" / module
    text = path.read_text(encoding="utf-8")
    every = faults_in(text)
    tests = [f"tests/core/test_{name}.py" for name in RELATED[module].split()]
    if is_found(copy, tests):
        raise SystemExit(f"{', '.join(tests)} fail without any fault")
    dice = random.Random(f"{module} {seed}")
    for fault in sorted(dice.sample(every, min(count, len(every)))):
        wrong = planted(text, fault)
        ast.parse(wrong)
        path.write_text(wrong, encoding="utf-8")
        yield fault, is_found(copy, tests)
    path.write_text(text, encoding="utf-8")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--each", type=int, default=4)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="")
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        copy = Path(place) / "tree"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "*cache*"))
        rows, left = {}, {}
        for module in RELATED:
            if options.only not in module:
                continue
            tried = list(try_module(copy, module, options.each, options.seed))
            missed = [fault for fault, found in tried if not found]
            rows[module] = len(tried), len(tried) - len(missed)
            left[module] = [f"line {fault.line}: {fault.what}" for fault in missed]
            print(module, *rows[module], *left[module], sep="\n    ", flush=True)
            write(known_rows() | rows, known_left() | left, options.seed)


Rows = dict[str, tuple[int, int]]
Left = dict[str, list[str]]
ROW = re.compile(r"^\| `([^`]+)` \| (\d+) \| (\d+) \|$", re.MULTILINE)
MISSED = re.compile(r"^- `([^`]+\.py)`, (line \d+: .*)$", re.MULTILINE)


def known_rows() -> Rows:
    """How many faults were planted and found in each module, as the page says."""
    told = ROW.findall(PAGE.read_text(encoding="utf-8"))
    return {module: (int(tried), int(found)) for module, tried, found in told}


def known_left() -> Left:
    """What was not found, by module, as the page says."""
    found: Left = {}
    for module, fault in MISSED.findall(PAGE.read_text(encoding="utf-8")):
        found.setdefault(module, []).append(fault)
    return found


def write(rows: Rows, left: Left, seed: int) -> None:
    """Write the page."""
    missed = {fault.split(": ", 1)[1] for module in rows for fault in left.get(module, ())}
    tried, found = (sum(counts) for counts in zip(*rows.values(), strict=True))
    lines = [
        "# Faults planted in numbers",
        "",
        f"Written by `tools/plant_faults.py --seed {seed}`, which plants small faults in the core,",
        "one at a time, and runs the tests that are about the module. "
        f"**{found} of {tried} were found.**",
        "",
        "| module | planted | found |",
        "| --- | --- | --- |",
        *(f"| `{module}` | {count} | {hits} |" for module, (count, hits) in rows.items()),
        "",
        "## Not found",
        "",
        *(f"- `{module}`, {fault}" for module in rows for fault in left.get(module, ())),
        "",
        "## Why some of these are none",
        "",
        *(f"- {what}: {reason}" for what, reason in REASONS.items() if what in missed),
    ]
    PAGE.write_text("\n".join(lines) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
