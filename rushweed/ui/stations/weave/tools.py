"""The tools of Weave: their keys, and what each one does."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from rushweed.ui.shell.controls import Chips
from rushweed.ui.stations.weave.held import TOOLS, Tool
from rushweed.ui.text import tr

KEYS: dict[Qt.Key, Tool] = {
    Qt.Key.Key_D: "Brush",
    Qt.Key.Key_L: "Line",
    Qt.Key.Key_B: "Box",
    Qt.Key.Key_F: "Fill",
    Qt.Key.Key_E: "Erase",
    Qt.Key.Key_U: "Pick up",
    Qt.Key.Key_S: "Select",
    Qt.Key.Key_O: "Props",
    Qt.Key.Key_N: "Mark",
    Qt.Key.Key_M: "Measure",
}
TIPS: dict[Tool, str] = {
    "Brush": "Draw with the brush  D",
    "Line": "A straight line  L",
    "Box": "A filled box  B",
    "Fill": "Fill what hangs together  F",
    "Erase": "Rub out  E",
    "Pick up": "Pick up a tile from the level  U, or second button",
    "Select": "Select a part, drag it elsewhere, with Ctrl a copy  S",
    "Props": "Place, choose and drag props  O",
    "Mark": "Put down a named place for the game's code  N",
    "Measure": "Drag to see a distance  M",
    "Start": "Say where the walker starts",
}


def tool_chips() -> Chips:
    """One button for each tool."""
    tips = [tr(TIPS[tool]) for tool in TOOLS]
    return Chips(TOOLS, tool=True, tips=tips, name=tr("Tool"))
