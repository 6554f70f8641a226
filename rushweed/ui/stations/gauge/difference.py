"""Where a treated picture differs from the drawn one, as an image that is made beside the window
where the picture is large."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import premultiplied
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.jobs import Job, Jobs
from rushweed.ui.look.colours import MARKS

FAINT = 40
SHOWN_FROM, STEEPNESS = 48, 7
"""How strongly the smallest difference is drawn, of 255, and how fast that grows."""
AT_ONCE = 256 * 256
"""Of larger pictures the difference is made beside the window, in parts of so many pixels."""
UNSEEN = 1_000_000
"""So many pixels are compared before anybody would read that it goes on."""


class Difference(QObject):
    """The difference of two pictures; `found` tells that one is there which was not."""

    found = pyqtSignal()

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs = jobs
        self._treated: Picture | None = None
        self._image: QImage | None = None
        self._job: Job | None = None

    def image(self, original: Picture, treated: Picture) -> QImage | None:
        """Where they differ; None as long as that is being found out."""
        if self._treated is treated:
            return self._image
        if self._job is not None:
            self._job.stop()
        self._treated, self._image = treated, None
        if treated.shape[0] * treated.shape[1] <= AT_ONCE:
            self._image = to_image(difference(original, treated))
        else:
            self._begin(original, treated)
        return self._image

    def _begin(self, original: Picture, treated: Picture) -> None:
        def work() -> Iterator[tuple[float, str, Any]]:
            words = say("Looking where it differs")
            result = np.empty(original.shape, np.uint8)
            step = max(1, AT_ONCE // original.shape[1])
            for top in range(0, len(original), step):
                yield top / len(original), words, None
                part = np.s_[top : top + step]
                result[part] = difference(original[part], treated[part])
            yield 1.0, words, (treated, to_image(result))

        quiet = treated.shape[0] * treated.shape[1] <= UNSEEN
        self._job = self._jobs.start(work, self._take, quiet=quiet)

    def _take(self, result: tuple[Picture, QImage]) -> None:
        if result[0] is self._treated:
            self._image = result[1]
            self.found.emit()


def difference(original: Picture, treated: Picture) -> Picture:
    """Where two pictures differ as they are seen: the more, the firmer; the rest is a faint grey
    image of the original."""
    result = np.empty(original.shape, np.uint8)
    result[..., :3] = (original[..., :3].sum(axis=2, dtype=np.uint16) // 3)[..., None]
    result[..., 3] = original[..., 3].astype(np.uint16) * FAINT // 255
    rows = np.flatnonzero((original != treated).any(axis=(1, 2)))
    if not len(rows):
        return result
    apart = np.abs(premultiplied(original[rows]) - premultiplied(treated[rows])).max(axis=2)
    changed = apart >= 0.5
    marked = result[rows]
    marked[changed, :3] = (MARKS.rust.red(), MARKS.rust.green(), MARKS.rust.blue())
    marked[changed, 3] = np.clip(SHOWN_FROM + apart[changed] * STEEPNESS, 0, 255)
    result[rows] = marked
    return result
