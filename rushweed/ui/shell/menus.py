"""The menus: every action with its words and its shortcut."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenuBar, QWidget

from rushweed.ui.text import tr


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of a menu; an empty name is a line between. `enabled` is asked when it opens."""

    name: str
    action: Callable[[], object] | None = None
    shortcut: str = ""
    enabled: Callable[[], bool] | None = None
    words: Callable[[], str] | None = None


class Menus:
    """Fills the menu bar; actions keep their shortcuts whether or not a menu is open."""

    def __init__(self, bar: QMenuBar, window: QWidget, menus: dict[str, list[Entry]]) -> None:
        self.actions: dict[str, QAction] = {}
        for title, entries in menus.items():
            menu = bar.addMenu(tr(title))
            assert menu is not None
            pairs = []
            for entry in entries:
                if not entry.name:
                    menu.addSeparator()
                    continue
                action = QAction(tr(entry.name), window)
                if entry.shortcut:
                    action.setShortcut(QKeySequence(entry.shortcut))
                if entry.action is not None:
                    action.triggered.connect(lambda _=False, run=entry.action: run())
                menu.addAction(action)
                window.addAction(action)
                pairs.append((action, entry))
                self.actions[entry.name] = action
            menu.aboutToShow.connect(lambda pairs=pairs: refresh_entries(pairs))


def refresh_entries(pairs: list[tuple[QAction, Entry]]) -> None:
    """Bring enabled states and changing words up to date."""
    for action, entry in pairs:
        if entry.enabled is not None:
            action.setEnabled(entry.enabled())
        if entry.words is not None:
            action.setText(entry.words())
