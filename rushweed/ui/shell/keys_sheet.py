"""The sheet of shortcuts under F1."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from rushweed.ui.shell.controls import button, label
from rushweed.ui.text import tr

KEYS = (
    ("Everywhere", (
        ("Ctrl+1 … Ctrl+7", "open a station"),
        ("Ctrl+F", "find a sheet, piece, level or action"),
        ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
        ("Ctrl+S", "save"),
        ("F11", "full screen"),
        ("P", "play or pause in the lens"),
    )),
    ("On every table", (
        ("Wheel, + and −", "zoom at the pointer"),
        ("Middle drag, Space and drag", "move the view"),
        ("Ctrl+0", "show all"),
        ("Escape", "leave what you are doing"),
    )),
    ("Cut", (
        ("V, E, D, K", "select, move edges, draw a piece, split"),
        ("L", "lay the splitting line down, or stand it up"),
        ("J, T", "join pieces, split one where it is thin"),
        ("Arrows", "with Edges in hand: move the selected pieces"),
        ("Delete", "leave the selected pieces out"),
    )),
    ("Bound", (
        ("B, G", "draw a box, a polygon"),
        ("Enter", "end the polygon"),
        ("Backspace", "take back the last corner"),
        ("Delete", "take away the shapes of what is selected"),
    )),
    ("Weave", (
        ("D, F, E, U", "draw, fill, rub out, pick up"),
        ("Second button", "pick up a tile"),
        ("H", "grid on and off"),
    )),
    ("Walk", (
        ("Left, Right", "walk"),
        ("Space or Up", "jump"),
        ("Down and Space", "drop through a one-way floor"),
        ("R", "back to the start"),
        ("S", "show or hide shapes"),
    )),
)  # fmt: skip


class KeysSheet(QDialog):
    """All shortcuts on one page."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(22)
        grid.setVerticalSpacing(3)
        line = 0
        for title, keys in KEYS:
            grid.setRowMinimumHeight(line, 8 if line else 0)
            grid.addWidget(label(tr(title), "heading"), line + 1, 0, 1, 2)
            line += 2
            for key, words in keys:
                grid.addWidget(label(tr(key)), line, 0)
                grid.addWidget(label(tr(words), "caption"), line, 1)
                line += 1
        layout = QVBoxLayout(self)
        layout.setContentsMargins(22, 14, 22, 16)
        layout.setSpacing(12)
        layout.addLayout(grid)
        close = button(tr("Close"), self.accept, "main")
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
