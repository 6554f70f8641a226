"""The sheet of shortcuts under F1."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from rushweed.ui.shell.controls import button, label
from rushweed.ui.text import tr

Groups = tuple[tuple[str, tuple[tuple[str, str], ...]], ...]

KEYS: Groups = (
    ("Everywhere", (
        ("Ctrl+1 … Ctrl+7", "open a station"),
        ("Ctrl+F", "find a sheet, piece, level or action"),
        ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
        ("Ctrl+S", "save"),
        ("Ctrl+V", "paste a picture"),
        ("Ctrl+R", "the ground rules"),
        ("F11", "full screen"),
        ("P", "play or pause in the lens"),
    )),
    ("Gather and rack", (
        ("Ctrl+G, Ctrl+Shift+G", "gather pictures, a folder"),
        ("N", "next sheet to look at"),
        ("F2, Delete", "rename a sheet, remove it"),
        ("Alt+Up, Alt+Down", "move a sheet in the rack"),
    )),
    ("On every table", (
        ("Wheel, + and −", "zoom at the pointer"),
        ("Middle drag, Space and drag", "move the view"),
        ("Ctrl+0", "show all"),
        ("Escape", "leave what you are doing"),
    )),
    ("Cut", (
        ("C", "drag over one cell; the others follow"),
        ("V, E, D, K", "select, move edges, draw a piece, split"),
        ("L", "lay the splitting line down, or stand it up; so does a drag"),
        ("J, T", "join pieces, split one where it is thin"),
        ("Arrows", "with Edges in hand: move the selected pieces"),
        ("Arrows", "on Animations: nudge the picked frames"),
        ("A", "select what looks like the selected piece"),
        ("Delete", "leave the selected pieces out"),
    )),
    ("Bound", (
        ("V, B, G", "select, draw a box, a polygon"),
        ("W", "make whole pieces solid"),
        ("Enter", "end the polygon"),
        ("Backspace", "take back the last corner"),
        ("C, I, M", "copy, paste, mirror shapes"),
        ("Delete", "decide that nothing of them is solid"),
    )),
    ("Weave", (
        ("D, L, B, F, E, U", "draw, line, box, fill, rub out, pick up"),
        ("S, O, N, M", "select, props, mark, measure"),
        ("Second button", "pick up a tile"),
        ("X, Y, R", "mirror the brush across or down, turn it"),
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
        columns = QHBoxLayout()
        columns.setSpacing(36)
        half = len(KEYS) // 2
        columns.addLayout(_column(KEYS[:half]))
        columns.addLayout(_column(KEYS[half:]))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(22, 14, 22, 16)
        layout.setSpacing(12)
        layout.addLayout(columns)
        close = button(tr("Close"), self.accept, "main")
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)


def _column(groups: Groups) -> QGridLayout:
    """Some groups of keys, one below the other."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(22)
    grid.setVerticalSpacing(3)
    line = 0
    for title, keys in groups:
        grid.setRowMinimumHeight(line, 8 if line else 0)
        grid.addWidget(label(tr(title), "heading"), line + 1, 0, 1, 2)
        line += 2
        for key, words in keys:
            grid.addWidget(label(tr(key)), line, 0)
            grid.addWidget(label(tr(words), "caption"), line, 1)
            line += 1
    grid.setRowStretch(line, 1)
    return grid
