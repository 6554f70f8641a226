"""Long work off the interface's thread, with progress and a stop."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import nullcontext
from time import monotonic
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal

from rushweed.core.resting import giving_way, rest
from rushweed.core.values import Refusal

logger = logging.getLogger("rushweed.jobs")
Work = Callable[[], Iterator[tuple[float, str, Any]]]
"""Yields (share done from 0 to 1, words, result of this step); the last result is handed over."""

EVERY = 0.7
"""Seconds between two looks at what has arrived so far."""


class Job(QThread):
    """Runs work that yields now and then; stops at the next yield when asked to.

    `arrived` carries the result so far now and then, and a last time when it was stopped.
    """

    arrived = pyqtSignal(object)
    progressed = pyqtSignal(float, str)
    done = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, work: Work, parent: QObject) -> None:
        super().__init__(parent)
        self._work = work
        self.stopping = False
        self.quiet = self.gives_way = False
        self.ending: Callable[[], object] | None = None
        self.ended: Callable[[], object] | None = None

    def stop(self) -> None:
        """Ask it to end soon; nothing is handed over then."""
        self.stopping = True
        if self.ending is not None:
            self.ending()

    def run(self) -> None:
        with giving_way() if self.gives_way else nullcontext():
            self._run()

    def _run(self) -> None:
        result, told = None, monotonic() - EVERY
        try:
            for share, words, result in self._work():
                if self.stopping:
                    self.arrived.emit(result)
                    return
                self.progressed.emit(share, words)
                if monotonic() - told > EVERY:
                    told = monotonic()
                    self.arrived.emit(result)
                rest()
        except Refusal as refusal:
            self.failed.emit(str(refusal))
            return
        except Exception as problem:
            logger.warning("work that failed", exc_info=True)
            self.failed.emit(str(problem))
            return
        self.done.emit(result)


class Turn:
    """Work of one kind, of which one is under way at a time: what is asked for meanwhile is begun
    once more when that has ended, as it is wanted then."""

    def __init__(self, begin: Callable[[], None]) -> None:
        """`begin` starts the work by `start`, or leaves it."""
        self._begin = begin
        self.job: Job | None = None
        self._again = False

    def ask(self) -> None:
        """Begin now, or once more afterwards."""
        self._again = self.job is not None
        if self.job is None:
            self._begin()

    def start(self, jobs: Jobs, work: Work, done: Callable[[Any], object], **how: Any) -> None:
        """Start the work, as `Jobs.start` does."""
        self.job = jobs.start(work, done, ended=self._end, **how)

    def stop(self) -> None:
        """Stop what is under way, and begin nothing after it."""
        self._again = False
        if self.job is not None:
            self.job.stop()

    def _end(self) -> None:
        self.job = None
        if self._again:
            self._again = False
            self._begin()


class Jobs(QObject):
    """Owns every running job as long as the window lives, so that none is lost while it runs."""

    changed = pyqtSignal()
    progressed = pyqtSignal(float, str)
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.running: list[Job] = []
        self._ended = False

    def start(
        self,
        work: Work,
        done: Callable[[Any], object],
        failed: Callable[[str], object] | None = None,
        arrived: Callable[[Any], object] | None = None,
        quiet: bool = False,
        ending: Callable[[], object] | None = None,
        ended: Callable[[], object] | None = None,
        gives_way: bool = False,
    ) -> Job:
        """Begin some work; `done` gets its last result, unless it is stopped or fails; `arrived`
        gets what there is now and then. Quiet work, which nobody asked for, is not shown and has
        no stop. `ending` ends what the work waits for, when it is to stop; `ended` hears of its
        end, whatever that was: a slot of its own signal may outlive the job, and crash. Work that
        `gives_way` rests while somebody drags something or moves what they see."""
        job = Job(work, self)
        job.quiet, job.ending, job.ended = quiet, ending, ended
        job.gives_way = gives_way
        if self._ended:
            job.stop()
            return job
        self.running.append(job)
        if arrived is not None:
            job.arrived.connect(arrived)

        def hand_over(result: Any) -> None:
            if not job.stopping:  # stopped when it was done, and nobody had been told yet
                done(result)
            elif arrived is not None:
                arrived(result)

        job.done.connect(hand_over)
        job.failed.connect(failed or self.failed)
        if not quiet:
            job.progressed.connect(self.progressed)
        job.finished.connect(self._drop_finished)
        job.start()
        self.changed.emit()
        return job

    def shown(self) -> list[Job]:
        """What is going on that somebody asked for, and did not stop."""
        return [job for job in self.running if not job.quiet and not job.stopping]

    def stop_shown(self) -> None:
        """Stop what somebody asked for. It is shown no more, even where it ends a little later."""
        for job in self.shown():
            job.stop()
        self.changed.emit()

    def stop_all(self) -> None:
        """Stop everything and wait for it; nothing begins any more."""
        self._ended = True
        for job in list(self.running):
            job.stop()
            job.wait()

    def _drop_finished(self) -> None:
        job = self.sender()  # and no other: what another did is perhaps not handed over yet
        assert isinstance(job, Job)
        self.running.remove(job)
        job.deleteLater()
        if job.ended is not None:
            job.ended()
        self.changed.emit()
