"""The one layer all texts of the interface go through."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from PyQt6.QtCore import QCoreApplication

Value = TypeVar("Value")


def tr(text: str) -> str:
    """The text in the user's language."""
    return QCoreApplication.translate("rushweed", text)


def translated(choices: Mapping[Value, str]) -> dict[Value, str]:
    """The texts of choices in the user's language."""
    return {value: tr(text) for value, text in choices.items()}


def counted(count: int, one: str, many: str) -> str:
    """“1 piece” or “4 pieces”."""
    return f"{count} {tr(one) if count == 1 else tr(many)}"
