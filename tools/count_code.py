"""Counts how large the house is: lines of code without blanks, comments and docstrings, modules,
array types and the names they go by, modules that one other alone imports.

    tools/count_code.py [FOLDER ...]        counts; without a folder rushweed and tests
"""

from __future__ import annotations

import ast
import io
import sys
import tokenize
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
SILENT = {tokenize.COMMENT, tokenize.NL, tokenize.NEWLINE, tokenize.INDENT, tokenize.DEDENT}


def lines_of_code(text: str) -> int:
    """Lines that hold something that runs."""
    tokens = tokenize.generate_tokens(io.StringIO(text).readline)
    lines = {
        line
        for token in tokens
        if token.type not in SILENT and token.string
        for line in range(token.start[0], token.end[0] + 1)
    }
    return len(lines - docstring_lines(ast.parse(text)))


def docstring_lines(tree: ast.AST) -> set[int]:
    """The lines of all texts that stand alone: docstrings, and those after a constant."""
    return {
        line
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr)
        and isinstance(node.value, ast.Constant)
        and isinstance(node.value.value, str)
        for line in range(node.lineno, (node.end_lineno or node.lineno) + 1)
    }


def array_aliases(tree: ast.Module) -> Iterator[str]:
    """The names that a module gives to types of arrays."""
    for node in tree.body:
        if isinstance(node, ast.Assign) and "NDArray[" in ast.unparse(node.value):
            yield from (target.id for target in node.targets if isinstance(target, ast.Name))


def imports(path: Path, tree: ast.AST) -> set[str]:
    """The dotted names that a file imports from the house, those of things within modules too."""
    found: set[str] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            found |= {each.name for each in node.names}
        if isinstance(node, ast.ImportFrom) and node.module and not node.level:
            found |= {node.module, *(f"{node.module}.{each.name}" for each in node.names)}
    return found


def count(folder: Path) -> dict[str, int]:
    """The counts of all Python files below a folder."""
    files = {path: path.read_text(encoding="utf-8") for path in sorted(folder.rglob("*.py"))}
    trees = {path: ast.parse(text) for path, text in files.items()}
    aliases = [name for tree in trees.values() for name in array_aliases(tree)]
    users = Counter(name for path, tree in trees.items() for name in imports(path, tree))
    modules = {path: dotted(path) for path in files if path.stem != "__init__"}
    lines = {path: lines_of_code(text) for path, text in files.items()}
    lonely = [path for path, name in modules.items() if users[name] == 1]
    return {
        "lines of code": sum(lines.values()),
        "modules": len(modules),
        "array types": len(aliases),
        "names of array types": len(set(aliases)),
        "modules imported by one other": len(lonely),
        "of these below 60 lines": sum(lines[path] < 60 for path in lonely),
    }


def dotted(path: Path) -> str:
    """A file's name as it is imported."""
    return ".".join(path.resolve().relative_to(ROOT).with_suffix("").parts)


def main() -> None:
    for folder in map(Path, sys.argv[1:] or ("rushweed", "tests")):
        print(folder)
        for what, number in count(ROOT / folder).items():
            print(f"    {number:6} {what}")


if __name__ == "__main__":
    main()
