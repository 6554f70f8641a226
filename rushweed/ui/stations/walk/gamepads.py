"""Gamepads that steer the walker, read through the kernel's joystick interface.

A device gives events of eight bytes: milliseconds, a value, a kind and a number (linux/joystick.h).
"""

from __future__ import annotations

import os
import struct
from pathlib import Path

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal

DEVICES = Path("/dev/input")
EVENT = struct.Struct("IhBB")
BUTTON, AXIS, FIRST = 1, 2, 0x80
"""Kinds of events; the first ones tell how all stands when a device is opened."""
FAR = 13_000
"""Of 32 767: a stick that is moved less far is at rest."""
JUMPS, RUNS = frozenset({0, 3}), frozenset({1, 2, 4, 5})
"""Numbers of buttons."""
ACROSS, DOWN = frozenset({0, 6}), frozenset({1, 7})
"""Numbers of axes: the first stick, and the cross."""


class Gamepads(QObject):
    """`changed` tells that something else is `held`, by the names of a walker's keys."""

    changed = pyqtSignal()

    def __init__(self, parent: QObject, devices: Path = DEVICES) -> None:
        super().__init__(parent)
        self._devices = devices
        self._open: dict[int, QSocketNotifier] = {}
        self._states: dict[tuple[int, int, int], int] = {}

    @property
    def held(self) -> frozenset[str]:
        """What is held on any of them."""
        names = set()
        for (_, kind, number), value in self._states.items():
            if kind == BUTTON and value:
                names |= {"jump"} if number in JUMPS else {"run"} if number in RUNS else set()
            elif kind == AXIS and abs(value) > FAR:
                names |= {"right" if value > 0 else "left"} if number in ACROSS else set()
                names |= {"down" if value > 0 else "up"} if number in DOWN else set()
        return frozenset(names)

    def begin(self) -> None:
        """Listen to all that are there now."""
        self.end()
        for path in sorted(self._devices.glob("js*")):
            try:
                device = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
            except OSError:
                continue
            listening = QSocketNotifier(device, QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
            listening.activated.connect(lambda _, device=device: self._read(device))
            self._open[device] = listening

    def end(self) -> None:
        """Listen to none any more; nothing is held."""
        for device in list(self._open):
            self._close(device)

    def _read(self, device: int) -> None:
        try:
            events = os.read(device, EVENT.size * 64)
        except BlockingIOError:
            return
        except OSError:
            events = b""
        if not events:
            self._close(device)
        whole = len(events) // EVENT.size * EVENT.size
        for _, value, kind, number in EVENT.iter_unpack(events[:whole]):
            self._states[device, kind & ~FIRST, number] = value
        self.changed.emit()

    def _close(self, device: int) -> None:
        """A device that was pulled out, or is not listened to any more."""
        listening = self._open.pop(device, None)
        if listening is None:
            return
        listening.setEnabled(False)
        listening.deleteLater()
        os.close(device)
        self._states = {key: value for key, value in self._states.items() if key[0] != device}
