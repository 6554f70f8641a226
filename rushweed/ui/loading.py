"""Reading pictures while the window goes on."""

from __future__ import annotations

from collections.abc import Iterator
from time import monotonic

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.gather.art import picture_key
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import say
from rushweed.ui.canvas.sheet_images import Images, is_large
from rushweed.ui.jobs import Jobs

RESTED = 2.0
"""Seconds after which a picture is read once more that had no room to stay."""
Steps = Iterator[tuple[float, str, None]]


class Loading(QObject):
    """Reads the sheets that `images` lack: each large one by itself, small ones one after the
    other, what was wanted last first. `arrived` tells that more is there."""

    arrived = pyqtSignal()

    def __init__(self, images: Images, jobs: Jobs) -> None:
        super().__init__(jobs)
        self._images, self._jobs = images, jobs
        self._under_way: set[object] = set()
        self._read: dict[object, float] = {}
        self._small: list[Sheet] = []
        self._reading_small = False
        images.load = self.want

    def want(self, sheet: Sheet) -> None:
        """Read a sheet's picture, unless it is on its way or was there a moment ago."""
        key = picture_key(sheet)
        rested = monotonic() - self._read.get(key, -RESTED) >= RESTED
        if rested and key not in self._under_way:
            self._under_way.add(key)
            if is_large(sheet):
                self._jobs.start(
                    lambda: self._read_large(sheet), lambda _: None, ended=self.arrived.emit
                )
            else:
                self._small.append(sheet)
        if self._small and not self._reading_small:
            self._reading_small = True
            self._jobs.start(
                self._read_small,
                lambda _: None,
                arrived=lambda _: self.arrived.emit(),
                quiet=True,
                ended=self._end_small,
            )

    def _read_large(self, sheet: Sheet) -> Steps:
        words = say("Reading {name}", name=sheet.name)
        yield 0.0, words, None
        self._make(sheet)
        yield 1.0, words, None

    def _read_small(self) -> Steps:
        while self._small:
            self._make(self._small.pop())
            yield 0.0, "", None

    def _make(self, sheet: Sheet) -> None:
        try:
            self._images.make(sheet)
        finally:
            self._read[picture_key(sheet)] = monotonic()
            self._under_way.discard(picture_key(sheet))

    def _end_small(self) -> None:
        self._reading_small = False
        self.arrived.emit()
