"""The hands that tests drive the window with: real clicks, drags and keys."""

from __future__ import annotations

from typing import Any

from PyQt6 import QtTest

QTest: Any = QtTest.QTest
"""Its functions want no instance, whatever their type hints say."""
