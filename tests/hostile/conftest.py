"""The table of the longer run, docs/hostile.md: rows of what was run are written anew."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import pytest

from tests.hostile import LONG, TRIED

TABLE = Path(__file__).parents[2] / "docs" / "hostile.md"
HEAD = """# How files of others were tried

Written by `./test --hostile`, which writes the rows anew of what it ran; what is promised stands in
[security.md](security.md).

| what | tries | faults | where |
| --- | --- | --- | --- |
"""
_before: Counter[str] = Counter()
_rows: dict[str, tuple[int, int, str]] = {}


def _place_of(what: str) -> str:
    """The file that counts tries under these words."""
    files = sorted(Path(__file__).parent.glob("test_*.py"))
    return next((file.name for file in files if what in file.read_text()), "")


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_makereport(item, call):
    """See what a test has tried, and whether it failed."""
    report = (yield).get_result()
    if report.when != "call":
        return
    for what in TRIED - _before:
        tries, faults, _ = _rows.get(what, (0, 0, ""))
        tries += TRIED[what] - _before[what]
        _rows[what] = tries, faults + report.failed, item.path.name
    _before.update(TRIED - _before)


def pytest_sessionfinish() -> None:
    """Write the rows of what was tried."""
    if not LONG:
        return
    for what in TRIED - _before:  # what was interrupted has found no fault so far
        tries, faults, where = _rows.get(what, (0, 0, _place_of(what)))
        _rows[what] = tries + TRIED[what] - _before[what], faults, where
    known = {}
    if TABLE.exists():
        lines = TABLE.read_text().splitlines()
        known = {
            line.split(" | ")[0].removeprefix("| "): line for line in lines if "`test_" in line
        }
    for what, (tries, faults, where) in _rows.items():
        known[what] = f"| {what} | {tries} | {faults} | `{where}` |"
    TABLE.write_text(HEAD + "\n".join(known[what] for what in sorted(known)) + "\n")
