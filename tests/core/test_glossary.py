"""What is written beside the code is true: the glossary, and examples in docstrings."""

from __future__ import annotations

import doctest
import importlib
import pkgutil
import re
from importlib import import_module

import pytest

import rushweed.core
from tests.conftest import ROOT

PAGE = ROOT / "docs" / "glossary.md"
ROWS = re.findall(
    r"^\| (.+) \| (.+) \| `(\S+)\.py`(?: `(\S+)`)? \|$", PAGE.read_text(), re.MULTILINE
)


def test_every_row_of_the_table_is_understood() -> None:
    table = [line for line in PAGE.read_text().splitlines() if line.startswith("| ")]
    assert len(ROWS) == len(table) - 2


@pytest.mark.parametrize(("ours", "theirs", "module", "name"), ROWS)
def test_each_word_leads_to_code_of_that_name(
    ours: str, theirs: str, module: str, name: str
) -> None:
    found: object = import_module("rushweed." + module.replace("/", "."))
    for part in filter(None, name.split(".")):
        fields = getattr(found, "__dataclass_fields__", {})
        assert part in fields or hasattr(found, part), f"{ours}: {module} has no {part}"
        found = getattr(found, part, None)


def test_examples_in_docstrings_are_true() -> None:
    tried = 0
    for found in pkgutil.walk_packages(rushweed.core.__path__, "rushweed.core."):
        result = doctest.testmod(importlib.import_module(found.name))
        assert not result.failed, found.name
        tried += result.attempted
    assert tried > 10
