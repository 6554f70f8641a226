"""A heart for tests: how long each event holds the window's thread."""

from __future__ import annotations

import gc
import threading
import time

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication

STEPS = 1_000_000
"""The steps of the plain loop that times are compared with: it takes about 50 ms where nothing
else goes on."""
MOST, MOST_HELD = 4.0, 2.0
"""An event may take so many times as long as that loop, and with a button of the pointer held: on
such a machine about twice 100 and 50 ms, since the pace of others varies while tests run."""

PRESSES = (QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonRelease)


class BeatingApplication(QApplication):
    """Keeps the longest time that the window's thread worked on one event, at all and while a
    button of the pointer was down, in times of the plain loop. Events within the event count by
    themselves, other programs and the collector of garbage do not."""

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self._pace = min(_plain_loop() for _ in range(3))
        self._depth, self._since, self._collects = 0, 0.0, 0.0
        self._collecting = False
        self._thread = threading.get_ident()
        gc.callbacks.append(self._leave_out)
        self.forget()

    def forget(self) -> None:
        """Begin anew."""
        self.longest = {False: (0.0, ""), True: (0.0, "")}
        self._held = False

    def too_long(self) -> list[str]:
        """What took too long since."""
        most = {False: MOST, True: MOST_HELD}
        return [
            f"{what} took {times:.1f} times as long as a plain loop, {most[held]:g} at most"
            for held, (times, what) in self.longest.items()
            if times > most[held]
        ]

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        if threading.get_ident() != self._thread or self._collecting:
            return super().notify(receiver, event)  # what is collected tells its parents
        self._beat(receiver, event)
        self._depth += 1
        try:
            return super().notify(receiver, event)
        finally:
            self._beat(receiver, event)
            self._depth -= 1

    def _beat(self, receiver: QObject | None, event: QEvent | None) -> None:
        took = time.thread_time() - self._since
        if self._depth and took > self.longest[self._held][0] * self._pace:
            self._note(took, receiver, event)
        if isinstance(event, QMouseEvent) and event.type() in PRESSES:
            self._held = event.type() == QEvent.Type.MouseButtonPress
        self._since = time.thread_time()

    def _note(self, took: float, receiver: QObject | None, event: QEvent | None) -> None:
        times = took / self._pace
        if times > MOST_HELD / 2:  # the machine may be slower by now
            times = took / max(self._pace, _plain_loop())
        if times > self.longest[self._held][0]:
            kind = event.type() if event is not None else QEvent.Type.None_
            what = f"{QEvent.Type(kind).name} of {type(receiver).__name__}"
            self.longest[self._held] = times, what

    def _leave_out(self, phase: str, info: dict[str, int]) -> None:
        if threading.get_ident() == self._thread:
            self._collecting = phase == "start"
            if self._collecting:
                self._collects = time.thread_time()
            else:
                self._since += time.thread_time() - self._collects


def _plain_loop() -> float:
    began = time.thread_time()
    whole = 0
    for step in range(STEPS):
        whole += step
    return time.thread_time() - began
