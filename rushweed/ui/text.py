"""The one layer all texts of the interface go through."""

from __future__ import annotations

from PyQt6.QtCore import QCoreApplication


def tr(text: str) -> str:
    """The text in the user's language."""
    return QCoreApplication.translate("rushweed", text)


def counted(count: int, one: str, many: str) -> str:
    """“1 piece” or “4 pieces”."""
    return f"{count} {tr(one) if count == 1 else tr(many)}"
