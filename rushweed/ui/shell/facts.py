"""The line at the top right: the project and its ground rules in short; a click opens them."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMenuBar

from rushweed.core.project.project import Project
from rushweed.core.words import say
from rushweed.ui.shell.controls import button, restyle


class Facts:
    """A button in the corner of the menu bar."""

    def __init__(self, bar: QMenuBar, open_rules: Callable[[], object]) -> None:
        self._bar = bar
        self.button = button("", open_rules, "facts", say("Change the ground rules  Ctrl+R"))
        bar.setCornerWidget(self.button, Qt.Corner.TopRightCorner)

    def show_project(self, project: Project, state: str) -> None:
        """Show a project's facts; `state` says whether it is saved."""
        rules = project.rules
        facts = [
            f"{project.name}, {state}",
            say("{n} px per unit", n=rules.pixels_per_unit),
            say("{size} tiles", size=rules.tile),
            say("side view") if rules.view == "side" else say("top-down"),
            say("y grows up") if rules.y_up else say("y grows down"),
            f"{rules.resolution} px",
        ]
        words = "   |   ".join(facts)
        self.button.setAccessibleName(say("Ground rules: {facts}", facts=", ".join(facts)))
        if words != self.button.text():
            self.button.setText(words)
            self._bar.setCornerWidget(self.button, Qt.Corner.TopRightCorner)
            self.button.show()

    def show_open(self, opened: bool) -> None:
        """Show whether the ground rules are open."""
        self.button.setProperty("open", "true" if opened else "false")
        restyle(self.button)
