"""The menus: commands with their words and keys."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import TypeVar

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar, QWidget

from rushweed.core.words import say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import MENUS

Words = Mapping[str, Callable[[], str]]
Value = TypeVar("Value")


class Menus:
    """Fills the menu bar; actions keep their keys whether or not a menu is open. `words` are those
    that change with what was done."""

    def __init__(self, bar: QMenuBar, window: QWidget, commands: Commands, words: Words) -> None:
        self._commands, self._words = commands, words
        self.actions: dict[str, QAction] = {}
        self._menus: dict[str, QMenu] = {}
        for title, names in MENUS.items():
            menu = bar.addMenu(say(title))
            assert menu is not None
            self._menus[title] = menu
            for name in names:
                if not name:
                    menu.addSeparator()
                    continue
                action = self.actions[name] = QAction(commands.words(name), window)
                action.setShortcuts([QKeySequence(key) for key in commands.keys(name)])
                action.triggered.connect(partial(self._run, name))
                menu.addAction(action)
                window.addAction(action)
            menu.aboutToShow.connect(partial(self._refresh, names))
            menu.aboutToHide.connect(partial(self._enable, names))

    def add_choices(
        self,
        title: str,
        words: Mapping[Value, str],
        chosen: Value,
        choose: Callable[[Value], object],
    ) -> None:
        """A menu of choices in that of how things look; one of them is ticked."""
        menu = self._menus["View"].addMenu(title)
        assert menu is not None
        group = QActionGroup(menu)
        for value, told in words.items():
            action = group.addAction(menu.addAction(told))
            assert action is not None
            action.setCheckable(True)
            action.setChecked(value == chosen)
            action.triggered.connect(lambda _=False, value=value: choose(value))

    def _run(self, name: str) -> None:
        self._commands.run(name)

    def _refresh(self, names: tuple[str, ...]) -> None:
        for name in filter(None, names):
            self.actions[name].setEnabled(self._commands.can(name))
            if name in self._words:
                self.actions[name].setText(self._words[name]())

    def _enable(self, names: tuple[str, ...]) -> None:
        """An action that is disabled has no key; whether it can be done is asked again then."""
        for name in filter(None, names):
            self.actions[name].setEnabled(True)


def add_command(menu: QMenu, commands: Commands, name: str) -> None:
    """A command in a menu of what is pointed at."""
    action = menu.addAction("\t".join((commands.words(name), *commands.keys(name)[:1])))
    assert action is not None
    action.triggered.connect(lambda _=False: commands.run(name))
