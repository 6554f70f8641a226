"""What choices of compression make of the selected sheets, worked out in the background."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache
from operator import attrgetter
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.compression.costs import Cost, all_costs, cost_key
from rushweed.core.gauge.compression.partly import part_of, treat_part
from rushweed.core.gauge.compression.treated import cost_of
from rushweed.core.gauge.glance import compression_words
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.words import say
from rushweed.ui.jobs import Job
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.gauge.treated_canvas import ORIGIN

Costs = dict[Compression, Cost]
LARGE, FEW = 512 * 512, 4
"""Work on more pixels or more sheets than this is shown, with a stop."""
UNASKED = 2048 * 2048
"""More pixels than this are tried only when somebody asks."""


class Trials(QObject):
    """`found` tells that more is known."""

    found = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self._key: object = None
        self._job: Job | None = None
        self._wanted: tuple[list[Sheet], list[Treatment], list[Compression]] = ([], [], [])
        self.costs: Costs = {}
        self.asking = False

    @property
    def pixels(self) -> int:
        """How many pixels each choice has to be tried on."""
        return sum(sheet.size.width * sheet.size.height for sheet in self._wanted[0])

    @property
    def is_large(self) -> bool:
        """Whether that is too much to be begun unasked."""
        return self.pixels > UNASKED

    def want(
        self, sheets: list[Sheet], treatments: list[Treatment], order: list[Compression]
    ) -> None:
        """Work out what every choice costs, the first of `order` first, unless that is known or on
        its way; where it would take long, wait until somebody asks."""
        plain = [_plain(treatment) for treatment in treatments]
        depends = [(cost_key(*pair), _rects(pair[0])) for pair in zip(sheets, plain, strict=True)]
        key = (tuple(depends), frozenset(order))
        if key == self._key:
            return
        self.stop()
        self._key, self.costs = key, {}
        self._wanted = (sheets, plain, order)
        self.asking = self.is_large
        if sheets and not self.asking:
            self.begin()

    def begin(self) -> None:
        """Try all choices on all selected sheets."""
        self.asking = False
        sheets, plain, order = self._wanted
        key, art = self._key, self._services.desk.art

        def work() -> Iterator[tuple[float, str, Any]]:
            return _all_costs(art, sheets, plain, order, key)

        quiet = self.pixels <= LARGE and len(sheets) <= FEW
        jobs = self._services.jobs
        self._job = jobs.start(
            work, self._take, arrived=self._take, quiet=quiet, ended=lambda: self._ended(key)
        )

    def stop(self) -> None:
        """End the work under way; it begins anew when it is wanted again."""
        if self._job is not None:
            self._job.stop()
            self._job = self._key = None

    def _take(self, result: Any) -> None:
        if result is None or result[0] != self._key:
            return
        self.costs = result[1]
        self.found.emit()

    def _ended(self, key: object) -> None:
        """Work that was stopped before it was done can be asked for again."""
        if key == self._key and len(self.costs) < len(self._wanted[2]):
            self.asking = True
            self.found.emit()


class PartTrial(QObject):
    """What one choice makes of the part of a large sheet that is on the screen; `found` tells that
    more is known."""

    found = pyqtSignal()

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self._key: object = None
        self._result: tuple[object, Picture, Point] | None = None
        self._job: Job | None = None
        self.is_too_large = False

    def look(self, sheet: Sheet, treatment: Treatment, seen: Rect) -> None:
        """Try a treatment on what is seen of a sheet, unless that is known or on its way."""
        part = part_of(seen, sheet.size)
        self.is_too_large = part is None
        choice = cost_key(sheet, treatment)
        if part is None or self._key == (choice, part):
            return
        if self._job is not None:
            self._job.stop()
        self._key = key = (choice, part)
        art = self._services.desk.art

        def work() -> Iterator[tuple[float, str, Any]]:
            for picture in treat_part(art.picture(sheet), treatment, part):
                yield 0.5, "", (key, picture)

        jobs = self._services.jobs
        self._job = jobs.start(work, self._take, arrived=self._take, quiet=True)

    def found_of(self, sheet: Sheet, treatment: Treatment) -> tuple[Picture | None, Point]:
        """The part as the treatment makes it, and where in the sheet it begins; None where nothing
        of it was tried."""
        if self._result is None or self._result[0] != cost_key(sheet, treatment):
            return None, ORIGIN
        return self._result[1:]

    def _take(self, result: Any) -> None:
        if result is None or result[0] != self._key or result[1] is None:
            return
        (choice, part), picture = result
        self._result = (choice, picture, Point(part.x, part.y))
        self.found.emit()


def _rects(sheet: Sheet) -> tuple[object, ...]:
    """What tells pieces' losses apart: pivots, names and shapes do not."""
    return tuple(map(attrgetter("number", "rect"), sheet.pieces))


@lru_cache(maxsize=64)
def _plain(treatment: Treatment) -> Treatment:
    """The same without any compression."""
    return replace(treatment, compression=Compression())


def _all_costs(
    art: Art,
    sheets: list[Sheet],
    plain: list[Treatment],
    order: list[Compression],
    key: object,
) -> Iterator[tuple[float, str, Any]]:
    """The costs of choices one after the other, each for all sheets together."""
    done: Costs = {}
    total = len(order) * len(sheets)
    for place, choice in enumerate(order):
        each: list[Cost] = []
        for index, (sheet, treatment) in enumerate(zip(sheets, plain, strict=True)):
            what = " ".join(compression_words(choice))
            words = say("Trying {what} on {sheet}", what=what, sheet=sheet.name)
            at = (place * len(sheets) + index) / total
            yield at, words, (key, dict(done))
            last: Cost | None = None
            try:
                for share, cost in cost_of(art, sheet, replace(treatment, compression=choice)):
                    last = cost or last
                    rough = {choice: last} if last and len(sheets) == 1 else {}
                    yield at + share / total, words, (key, done | rough)
            except Refusal:
                continue
            if last is not None:
                each.append(last)
        if each:
            done = done | {choice: all_costs(each)}
    yield 1.0, say("All choices tried"), (key, done)
