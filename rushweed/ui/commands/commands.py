"""Commands at work: bound to who does them, run by menus, keys and the finder."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from PyQt6.QtCore import QKeyCombination, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence

from rushweed.core.words import say
from rushweed.ui.commands.listed import COMMANDS, Command
from rushweed.ui.commands.places_of_keys import KeysByPlace

Act = Callable[[], object]
Can = Callable[[], bool]
WORDS = {
    **{"Del": "Delete", "Return": "Enter", "Esc": "Escape", "Backspace": "Backspace"},
    **{"Ctrl": "Ctrl", "Shift": "Shift", "Alt": "Alt", "Up": "Up", "Down": "Down"},
}
"""Keys as people name them."""


class Commands(QObject):
    """The commands of one window. `ran` tells which was run."""

    ran = pyqtSignal(str)

    def __init__(self, own_keys: Mapping[str, tuple[str, ...]] | None = None) -> None:
        """`own_keys` are the user's, by identity; the others stay as they are listed."""
        super().__init__()
        self.all: dict[str, Command] = {command.identity: command for command in COMMANDS}
        self._keys = {name: command.keys for name, command in self.all.items()}
        self._keys |= {name: keys for name, keys in (own_keys or {}).items() if name in self.all}
        self._by_place = KeysByPlace()
        self._bound: dict[str, tuple[Callable[[int], object], Can]] = {}
        self._at: dict[tuple[str, str], tuple[str, int]] = {
            (command.place, key): (name, index)
            for name, command in self.all.items()
            if not command.held
            for index, key in enumerate(self._keys[name])
            if key
        }

    def bind(self, identity: str, act: Act, can: Can = lambda: True) -> None:
        """Say who does a command, and when it can be done."""
        self.bind_stepped(identity, lambda index: act(), can)

    def bind_stepped(
        self, identity: str, act: Callable[[int], object], can: Can = lambda: True
    ) -> None:
        """Say who does a command that has a choice for each of its keys."""
        assert identity in self.all, f"no command {identity}"
        self._bound[identity] = act, can

    def is_bound(self, identity: str) -> bool:
        """Whether somebody does the command; stations do when they were opened."""
        return identity in self._bound

    def can(self, identity: str) -> bool:
        """Whether the command can be done now."""
        return identity in self._bound and self._bound[identity][1]()

    def run(self, identity: str, index: int = 0) -> bool:
        """Do a command, if it can be done now; whether it was."""
        if not self.can(identity):
            return False
        self._bound[identity][0](index)
        self.ran.emit(identity)
        return True

    def press(self, place: str, event: QKeyEvent) -> bool:
        """Do what a key means in a place; whether it means anything there."""
        names = self._names_of(event)
        found = [self._at[place, key] for key in names if (place, key) in self._at]
        return any(self.run(identity, index) for identity, index in found)

    def keys_of(self, event: QKeyEvent) -> list[int]:
        """The keys that are meant by one that is pressed: where a layout has no such key, that of
        its place comes after it."""
        placed = self._by_place.find(event)
        return [event.key()] if placed is None else [event.key(), placed]

    def _names_of(self, event: QKeyEvent) -> list[str]:
        """What a pressed key may be written as: Shift need not be a part of it."""
        held = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        ways = (held, held & ~Qt.KeyboardModifier.ShiftModifier)
        pairs = ((key, how) for key in self.keys_of(event) for how in ways)
        return list(dict.fromkeys(key_name(key, how) for key, how in pairs))

    def keys(self, identity: str) -> tuple[str, ...]:
        """The keys of a command, the user's if there are any."""
        return self._keys[identity]

    def held(self, place: str) -> dict[str, str]:
        """The commands of a place that hold while a key is down, by key."""
        return {
            key: name
            for name, command in self.all.items()
            if command.place == place and command.held
            for key in self._keys[name]
        }

    def words(self, identity: str) -> str:
        """What a command does, in the user's language."""
        return say(self.all[identity].words)

    def tip(self, identity: str) -> str:
        """Words and keys of a command, as controls show them."""
        keys = ", ".join(map(key_words, filter(None, self._keys[identity])))
        return f"{self.words(identity)}  {keys}".strip()

    def offered(self, place: str) -> Iterator[str]:
        """The commands of a place that can be done now without asking which way."""
        for name, command in self.all.items():
            if command.place == place and not command.stepped and self.can(name):
                yield name


def key_name(key: int, held: Qt.KeyboardModifier) -> str:
    """A key and what is held with it, as the list writes it."""
    named = Qt.Key.Key_Return if key == Qt.Key.Key_Enter else Qt.Key(key)
    return QKeySequence(QKeyCombination(held, named)).toString(
        QKeySequence.SequenceFormat.PortableText
    )


def key_words(key: str) -> str:
    """A key as people name it."""
    if key == "+":
        return key
    return "+".join(say(WORDS[part]) if part in WORDS else part for part in key.split("+"))
