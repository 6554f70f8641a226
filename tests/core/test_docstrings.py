"""The examples in the core's docstrings are true."""

from __future__ import annotations

import doctest
import importlib
import pkgutil

import rushweed.core


def test_examples_in_docstrings_are_true() -> None:
    tried = 0
    for found in pkgutil.walk_packages(rushweed.core.__path__, "rushweed.core."):
        result = doctest.testmod(importlib.import_module(found.name))
        assert not result.failed, found.name
        tried += result.attempted
    assert tried > 10
