"""Buttons of commands: they do what the key does, and tell it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QPushButton

from rushweed.ui.commands.commands import Commands
from rushweed.ui.shell.controls import button


def command_button(commands: Commands, name: str, text: str, role: str = "") -> QPushButton:
    """A button that does a command, with its words and keys as a tip."""
    return button(text, partial(commands.run, name), role, commands.tip(name))
