"""The sheet of keys under F1."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.commands.commands import Commands, key_words
from rushweed.ui.commands.keys_file import write_all_keys
from rushweed.ui.commands.listed import ARROWS, HANDS, PLACES
from rushweed.ui.shell.controls import button, label

Lines = list[tuple[str, str]]
COLUMNS = 3


class KeysSheet(QDialog):
    """All keys, as the user has them."""

    def __init__(self, parent: QWidget, commands: Commands, file: Path) -> None:
        super().__init__(parent)
        self.setWindowTitle(say("Keys"))
        columns = QHBoxLayout()
        columns.setSpacing(30)
        for groups in _shared_out([(place, keys_of(commands, place)) for place in PLACES]):
            columns.addLayout(_column(groups))
        page = QWidget()
        page.setLayout(columns)
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setWidget(page)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(22, 14, 14, 14)
        layout.addWidget(area)
        foot = QHBoxLayout()
        self._file, self._told = file, label("", "caption")
        foot.addWidget(button(say("Keys of your own"), self._write, "small", say("Write the file")))
        foot.addWidget(self._told, 1)
        foot.addWidget(button(say("Close"), self.accept, "main"))
        layout.addLayout(foot)
        self.resize(min(page.sizeHint().width() + 60, 1240), min(page.sizeHint().height(), 640))

    def _write(self) -> None:
        try:
            write_all_keys(self._file)
        except Refusal as refusal:
            self._told.setText(str(refusal))
        else:
            told = say("Change {file}, then open the project again.")
            self._told.setText(told.format(file=self._file))


def keys_of(commands: Commands, place: str) -> Lines:
    """The keys of a place and what each does, in the user's language."""
    lines = [
        (_together(commands.keys(name)), commands.words(name))
        for name, command in commands.all.items()
        if command.place == place and any(commands.keys(name))
    ]
    return lines + [(say(hand.what), say(hand.words)) for hand in HANDS if hand.place == place]


def _together(keys: tuple[str, ...]) -> str:
    """Several keys in few words."""
    for held in ("", "Alt+"):
        if keys == tuple(held + key for key in ARROWS):
            return held + say("arrows") if held else say("Arrows")
    keys = tuple(filter(None, keys))
    if len(keys) > 3:
        return f"{key_words(keys[0])} … {key_words(keys[-1])}"
    return ", ".join(map(key_words, keys))


def _shared_out(groups: list[tuple[str, Lines]]) -> list[list[tuple[str, Lines]]]:
    """Groups in columns of about the same height, in their order."""
    least = sum(len(lines) + 2 for _, lines in groups) / COLUMNS
    columns: list[list[tuple[str, Lines]]] = [[]]
    filled = 0.0
    for title, lines in groups:
        if columns[-1] and filled + len(lines) / 2 > least * len(columns):
            columns.append([])
        columns[-1].append((title, lines))
        filled += len(lines) + 2
    return columns


def _column(groups: list[tuple[str, Lines]]) -> QGridLayout:
    """Some groups of keys, one below the other."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(18)
    grid.setVerticalSpacing(3)
    line = 0
    for title, keys in groups:
        grid.setRowMinimumHeight(line, 8 if line else 0)
        grid.addWidget(label(say(title), "heading"), line + 1, 0, 1, 2)
        line += 2
        for key, words in keys:
            grid.addWidget(label(key), line, 0, Qt.AlignmentFlag.AlignTop)
            told = label(words, "caption")
            told.setWordWrap(True)
            grid.addWidget(told, line, 1)
            line += 1
    grid.setRowStretch(line, 1)
    return grid
