"""Reading large pictures while the window goes on."""

from __future__ import annotations

from collections.abc import Iterator
from time import monotonic

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.gather.art import picture_key
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import say
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.jobs import Jobs

RESTED = 2.0
"""Seconds after which a picture is read once more that had no room to stay."""


class Loading(QObject):
    """Reads the large sheets that `images` lack; `arrived` tells of each that is there."""

    arrived = pyqtSignal()

    def __init__(self, images: Images, jobs: Jobs) -> None:
        super().__init__(jobs)
        self._images, self._jobs = images, jobs
        self._under_way: set[object] = set()
        self._read: dict[object, float] = {}
        images.load = self.want

    def want(self, sheet: Sheet) -> None:
        """Read a sheet's picture, unless it is on its way or was there a moment ago."""
        key = picture_key(sheet)
        rested = monotonic() - self._read.get(key, -RESTED) >= RESTED
        if key in self._under_way or not rested:
            return
        self._under_way.add(key)

        def work() -> Iterator[tuple[float, str, None]]:
            words = say("Reading {name}", name=sheet.name)
            yield 0.0, words, None
            self._images.make(sheet)
            yield 1.0, words, None

        def ended() -> None:
            self._under_way.discard(key)
            self._read[key] = monotonic()
            self.arrived.emit()

        self._jobs.start(work, lambda _: None, ended=ended)
