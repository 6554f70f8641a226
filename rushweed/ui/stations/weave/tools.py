"""The tools of Weave: their keys, and what each one does."""

from __future__ import annotations

from rushweed.core.words import say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.shell.controls import Chips
from rushweed.ui.stations.weave.held import TOOLS, Tool

COMMAND_OF: dict[Tool, str] = {
    "Brush": "weave.draw",
    "Line": "weave.line",
    "Box": "weave.box",
    "Fill": "weave.fill",
    "Erase": "weave.erase",
    "Pick up": "weave.pick_up",
    "Select": "weave.select",
    "Props": "weave.props",
    "Mark": "weave.mark",
    "Measure": "weave.measure",
    "Start": "weave.start",
}


def tool_chips(commands: Commands) -> Chips[Tool]:
    """One button for each tool."""
    tips = [commands.tip(COMMAND_OF[tool]) for tool in TOOLS]
    return Chips({tool: say(tool) for tool in TOOLS}, tool=True, tips=tips, name=say("Tool"))
