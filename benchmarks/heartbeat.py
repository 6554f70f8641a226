"""A heart that beats every ten milliseconds in the window's thread: what holds it, holds users."""

from __future__ import annotations

import sys
import threading
import time
from collections import Counter
from collections.abc import Callable
from types import FrameType

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtTest import QTest

EVERY = 10
"""Milliseconds between two beats."""
LOOKED = 0.015
"""Seconds between two looks at what the window's thread is at, while it does not beat."""
REST = 400
"""Milliseconds after which what waits for quiet has begun."""
OURS = "rushweed/"


class Heartbeat(QObject):
    """Beats as long as it lives. `longest` is the longest time between two beats, in seconds, since
    `begin`; `culprit` what the window's thread was mostly at meanwhile."""

    def __init__(self) -> None:
        super().__init__()
        self.longest, self.culprit = 0.0, ""
        self._last = time.perf_counter()
        self._seen: Counter[str] = Counter()
        self._over = False
        self._thread = threading.get_ident()
        timer = QTimer(self)
        timer.setTimerType(Qt.TimerType.PreciseTimer)
        timer.timeout.connect(self._beat)
        timer.start(EVERY)
        threading.Thread(target=self._watch, daemon=True).start()

    def begin(self) -> None:
        """Forget what was."""
        self._beat()
        self.longest, self.culprit = 0.0, ""

    def during(self, act: Callable[[], object], until: Callable[[], bool]) -> float:
        """The longest gap while something is done, in seconds, and on until all has come to rest:
        also what begins a little later."""
        QTest.qWait(100)
        self.begin()
        act()
        for pause in (0, REST):
            QTest.qWait(pause)
            while not until():
                QTest.qWait(EVERY)
        self._beat()
        return self.longest

    def end(self) -> None:
        """Watch no more."""
        self._over = True

    def _beat(self) -> None:
        now = time.perf_counter()
        gap, self._last = now - self._last, now
        seen, self._seen = self._seen, Counter()
        if gap > self.longest:
            self.longest = gap
            self.culprit = seen.most_common(1)[0][0] if seen else ""

    def _watch(self) -> None:
        while not self._over:
            time.sleep(LOOKED)
            if time.perf_counter() - self._last > 2 * EVERY / 1000:
                frame = sys._current_frames().get(self._thread)
                self._seen[_ours(frame)] += 1


def _ours(frame: FrameType | None) -> str:
    """The innermost places of our own in a stack."""
    places: list[str] = []
    while frame is not None and len(places) < 4:
        code = frame.f_code
        if OURS in code.co_filename:
            places.append(f"{code.co_filename.split(OURS)[-1]}:{code.co_name}")
        frame = frame.f_back
    return " < ".join(places)
